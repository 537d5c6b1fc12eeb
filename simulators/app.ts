import express, { type Express, type NextFunction, type Request, type Response } from 'express';
import {
  CareOrder,
  ClockOrder,
  FaultOrder,
  FaultRate,
  InkFill,
  MachineRun,
  type MachineState,
  MediaLoad,
  PowerOrder,
} from '../contract/machine/protocol.ts';
import { foreignRequest } from '../core/web/ownRequest.ts';
import type { CutterStandIn } from './cutter.ts';
import { cutterRoutes } from './cutterRoutes.ts';
import type { StandIn } from './machine.ts';
import { plotPicture } from './plotPicture.ts';
import { PAGE } from './page.ts';
import { asFired, fetchArtwork } from './fetched.ts';
import { parse } from './parse.ts';

/** What the routes need of the process; tests give them a floor of their own. */
export interface StandInHost {
  machine(id: string): StandIn;
  /** The devices that are described to this process. */
  machines(): readonly StandIn[];
  cutters(): readonly CutterStandIn[];
  setClock(rate: number, shopMs: number, untilMs: number): void;
  readonly rate: () => number;
  readonly shopNow: () => number;
  readonly realNow: () => number;
  readonly heard: () => void;
  readonly shutdown: () => void;
  readonly dataDir: string;
  /** Where it listens. */
  readonly port: () => number;
}

const ID = /^[a-z0-9][a-z0-9-]{0,63}$/;

function isDead(host: StandInHost, id: string): boolean {
  const machine = host.machine(id);
  return machine.isOff || machine.lostUntilReal > host.realNow();
}

/** The machine protocol and the control surface over one process's stand-ins. */
export function standInApp(host: StandInHost): Express {
  const app = express();
  app.disable('x-powered-by');
  app.use((req, _res, next) => {
    // Pages of other sites, and names that were pointed here, have no business with printers.
    const foreign = foreignRequest({ host: req.headers.host, origin: req.headers.origin }, [host.port()]);
    next(foreign && Object.assign(new Error(`foreign ${foreign}`), { status: 403 }));
  });
  app.use(express.json({ limit: '64mb' }));
  app.use((_req, _res, next) => {
    host.heard();
    next();
  });
  app.param('machine', (req, _res, next, id: string) => {
    if (!ID.test(id)) throw Object.assign(new Error('no such machine'), { status: 404 });
    // A dead line answers nothing at all.
    if (!req.path.startsWith('/control') && isDead(host, id)) req.socket.destroy();
    else next();
  });
  protocolRoutes(app, host);
  cutterRoutes(app, host);
  controlRoutes(app, host);
  app.use((error: Error & { status?: number }, _req: Request, res: Response, _next: NextFunction) => {
    res.status(error.status ?? 500).json({ error: { code: 'stand-in', message: error.message } });
  });
  return app;
}

/** What a printer answers to the shop. */
function protocolRoutes(app: Express, host: StandInHost): void {
  app.get('/machines', (_req, res) => {
    res.json(
      host.machines().flatMap(({ about }) => (about ? [{ id: about.id, name: about.name, form: about.form }] : [])),
    );
  });
  app.get('/machines/:machine', (req, res) => {
    const { about } = host.machine(req.params.machine);
    if (about) res.json(about);
    else res.status(404).json({ error: { code: 'no-such-machine', message: 'this device does not describe itself' } });
  });
  app.put('/machines/:machine/sources/:source', (req, res) => {
    const machine = host.machine(req.params.machine);
    machine.load(req.params.source, parse(MediaLoad, req.body));
    res.json(machine.state());
  });
  app.delete('/machines/:machine/sources/:source', (req, res) => {
    const machine = host.machine(req.params.machine);
    machine.unload(req.params.source);
    res.json(machine.state());
  });
  app.get('/machines/:machine/state', (req, res) => {
    res.json(host.machine(req.params.machine).state());
  });
  app.get('/machines/:machine/events', (req, res) => {
    const machine = host.machine(req.params.machine);
    res.writeHead(200, { 'content-type': 'text/event-stream', 'cache-control': 'no-store' });
    const send = (state: MachineState): void => {
      if (isDead(host, machine.id)) res.socket?.destroy();
      else res.write(`id: ${String(state.seq)}\ndata: ${JSON.stringify(state)}\n\n`);
    };
    send(machine.state());
    const stop = machine.subscribe(send);
    const beat = setInterval(() => {
      if (isDead(host, machine.id)) res.socket?.destroy();
      else res.write(': here\n\n');
      host.heard();
    }, 1000);
    res.on('close', () => {
      stop();
      clearInterval(beat);
    });
  });
  app.post('/machines/:machine/emptied', (req, res) => {
    const machine = host.machine(req.params.machine);
    machine.emptied();
    res.json(machine.state());
  });
  app.put('/machines/:machine/care/:care/:attempt', async (req, res) => {
    const machine = host.machine(req.params.machine);
    const attempt = Number(req.params.attempt);
    const known = machine.care.report(req.params.care, attempt);
    const order = parse(CareOrder, req.body);
    const report = known ?? machine.care.accept(req.params.care, attempt, await asFired(order, machine));
    if (report) res.status(known ? 200 : 201).json(report);
    else res.status(409).json({ error: { code: 'busy', message: 'the machine is busy, or a fault stands' } });
  });
  app.get('/machines/:machine/care/:care/:attempt', (req, res) => {
    const report = host.machine(req.params.machine).care.report(req.params.care, Number(req.params.attempt));
    if (report) res.json(report);
    else res.status(404).json({ error: { code: 'unknown-care', message: 'this attempt was never sent here' } });
  });
  app.post('/machines/:machine/care/:care/:attempt/cancel', (req, res) => {
    const report = host.machine(req.params.machine).care.cancel(req.params.care, Number(req.params.attempt));
    if (report) res.json(report);
    else res.status(404).json({ error: { code: 'unknown-care', message: 'this attempt was never sent here' } });
  });
  app.put('/machines/:machine/runs/:run/:attempt', async (req, res) => {
    const machine = host.machine(req.params.machine);
    const attempt = Number(req.params.attempt);
    const known = machine.report(req.params.run, attempt);
    if (known) {
      res.json(known);
      return;
    }
    const run = parse(MachineRun, req.body);
    // What is told dot by dot needs no page.
    if (!run.dots) await fetchArtwork(run);
    const report = machine.accept(req.params.run, attempt, run);
    if (report) res.status(201).json(report);
    else res.status(409).json({ error: { code: 'busy', message: 'another run is on the machine, or a fault stands' } });
  });
  app.get('/machines/:machine/runs/:run/:attempt', (req, res) => {
    const report = host.machine(req.params.machine).report(req.params.run, Number(req.params.attempt));
    if (report) res.json(report);
    else res.status(404).json({ error: { code: 'unknown-run', message: 'this attempt was never sent here' } });
  });
  app.post('/machines/:machine/runs/:run/:attempt/:command', (req, res) => {
    const { command } = req.params;
    if (command !== 'pause' && command !== 'resume' && command !== 'cancel') {
      res.status(404).json({ error: { code: 'unknown-command', message: `no command ${command}` } });
      return;
    }
    const report = host.machine(req.params.machine).command(req.params.run, Number(req.params.attempt), command);
    if (report) res.json(report);
    else res.status(404).json({ error: { code: 'unknown-run', message: 'this attempt was never sent here' } });
  });
}

/** The hands and accidents of the world, which no printer offers over its line. */
function controlRoutes(app: Express, host: StandInHost): void {
  app.get('/control', (_req, res) => {
    res.json({ product: 'yellow-spool stand-ins', dataDir: host.dataDir, pid: process.pid, rate: host.rate() });
  });
  app.put('/control/clock', (req, res) => {
    const { rate, shopMs, untilMs = null } = parse(ClockOrder, req.body);
    host.setClock(rate, shopMs, untilMs ?? Infinity);
    res.json({ rate, shopMs, untilMs });
  });
  app.post('/control/machines/:machine/faults', (req, res) => {
    const machine = host.machine(req.params.machine);
    machine.strike(parse(FaultOrder, req.body), host.realNow());
    res.status(201).json(machine.state());
  });
  app.delete('/control/machines/:machine/faults', (req, res) => {
    const machine = host.machine(req.params.machine);
    machine.mend();
    res.json(machine.state());
  });
  app.put('/control/machines/:machine/ink', (req, res) => {
    const machine = host.machine(req.params.machine);
    machine.fill(parse(InkFill, req.body).inkMl);
    res.json(machine.state());
  });
  app.post('/control/machines/:machine/clean', (req, res) => {
    const machine = host.machine(req.params.machine);
    machine.clean();
    res.json(machine.state());
  });
  app.put('/control/machines/:machine/rate', (req, res) => {
    const machine = host.machine(req.params.machine);
    machine.memory.per100h = parse(FaultRate, req.body).per100h;
    res.json({ per100h: machine.memory.per100h });
  });
  app.put('/control/machines/:machine/power', (req, res) => {
    const machine = host.machine(req.params.machine);
    machine.power(parse(PowerOrder, req.body).on);
    res.json(machine.state());
  });
  // What somebody sees who looks at the plot in its tray.
  app.get('/control/machines/:machine/check-plot', (req, res) => {
    const { printedCheck } = host.machine(req.params.machine).memory;
    if (printedCheck) res.json(printedCheck);
    else res.status(404).json({ error: { code: 'no-plot', message: 'no check plot was printed here' } });
  });
  // The plot that lies in its tray, as somebody would photograph it.
  app.get('/control/machines/:machine/check-plot.jpg', async (req, res) => {
    const { about, memory } = host.machine(req.params.machine);
    if (about && memory.printedCheck) res.type('jpeg').send(await plotPicture(about, memory.printedCheck));
    else res.status(404).json({ error: { code: 'no-plot', message: 'no check plot was printed here' } });
  });
  app.get('/control/machines', (_req, res) => {
    res.json(
      host.machines().map((machine) => ({
        name: machine.about?.name ?? machine.id,
        state: machine.state(),
        sources: machine.memory.sources,
        per100h: machine.memory.per100h,
        off: machine.isOff,
        feedMm: machine.memory.printedFeedMm,
        hasPlot: machine.memory.printedCheck !== null,
        heads: machine.heads.truth(host.shopNow()),
      })),
    );
  });
  app.get('/', (_req, res) => {
    res.type('html').send(PAGE);
  });
  app.post('/control/shutdown', (_req, res) => {
    res.json({});
    host.shutdown();
  });
}
