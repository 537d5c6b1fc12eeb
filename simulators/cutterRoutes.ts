import { createHash } from 'node:crypto';
import type { Express } from 'express';
import { CutOrder, CutterFault } from '../contract/machine/cutter.ts';
import { type CutterStandIn, outlinesOf } from './cutter.ts';
import { parse } from './parse.ts';

interface CutterHost {
  cutters(): readonly CutterStandIn[];
}

const COMMANDS = ['start', 'pause', 'resume', 'cancel'] as const;

/** The cutters of the protocol, and what happens to them. */
export function cutterRoutes(app: Express, host: CutterHost): void {
  const cutter = (id: string): CutterStandIn => {
    const found = host.cutters().find(({ about }) => about.id === id);
    if (!found) throw refused(404, `no such cutter: ${id}`);
    return found;
  };
  app.get('/cutters', (_req, res) => {
    res.json(host.cutters().map(({ about }) => about));
  });
  app.get('/cutters/:cutter/state', (req, res) => {
    res.json(cutter(req.params.cutter).state());
  });
  app.put('/cutters/:cutter/cuts/:run/:attempt', async (req, res) => {
    const { run, attempt } = req.params;
    const own = cutter(req.params.cutter);
    const known = own.report(run, Number(attempt));
    if (known) {
      res.json(known);
      return;
    }
    const answer = own.accept(run, Number(attempt), outlinesOf(await fetchSvg(parse(CutOrder, req.body))));
    if (typeof answer === 'string') throw refused(409, answer);
    res.status(201).json(answer);
  });
  app.get('/cutters/:cutter/cuts/:run/:attempt', (req, res) => {
    const report = cutter(req.params.cutter).report(req.params.run, Number(req.params.attempt));
    if (!report) throw refused(404, 'this attempt was never sent here');
    res.json(report);
  });
  app.post('/cutters/:cutter/cuts/:run/:attempt/:command', (req, res) => {
    const command = COMMANDS.find((each) => each === req.params.command);
    if (!command) throw refused(404, `no command ${req.params.command}`);
    const report = cutter(req.params.cutter).command(req.params.run, Number(req.params.attempt), command);
    if (!report) throw refused(404, 'this attempt was never sent here');
    res.json(report);
  });
  app.get('/control/cutters', (_req, res) => {
    res.json(host.cutters().map((each) => ({ about: each.about, state: each.state() })));
  });
  app.post('/control/cutters/:cutter/faults', (req, res) => {
    const own = cutter(req.params.cutter);
    own.strike(parse(CutterFault, req.body));
    res.status(201).json(own.state());
  });
  app.delete('/control/cutters/:cutter/faults', (req, res) => {
    const own = cutter(req.params.cutter);
    own.mend();
    res.json(own.state());
  });
}

function refused(status: number, message: string): Error {
  return Object.assign(new Error(message), { status });
}

/** The contours whole, and those that were meant. */
async function fetchSvg({ svg }: CutOrder): Promise<string> {
  const answer = await fetch(svg.url, { signal: AbortSignal.timeout(30_000) });
  if (!answer.ok) throw refused(502, `contours: ${String(answer.status)}`);
  const text = await answer.text();
  if (createHash('sha256').update(text).digest('hex') !== svg.sha256)
    throw refused(502, 'contours: not the file that was announced');
  return text;
}
