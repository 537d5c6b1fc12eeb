import { existsSync } from 'node:fs';
import { readdir, rm } from 'node:fs/promises';
import type { AddressInfo } from 'node:net';
import { availableParallelism } from 'node:os';
import { join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { pino } from 'pino';
import { StoredClock } from './clock/shopClock.ts';
import { openDb } from './db/open.ts';
import { Dispatcher } from './devices/dispatcher.ts';
import { mustBeAlone, noteAddress } from './alone.ts';
import { findOrLaunchStandIns } from './devices/launchStandIns.ts';
import { StandInLink } from './devices/standInLink.ts';
import { DataPaths } from './files/paths.ts';
import { createApp } from './http/app.ts';
import { floorRoutes, liveSource } from './http/floorRoutes.ts';
import { jobRoutes } from './http/jobRoutes.ts';
import { LiveBus } from './http/liveBus.ts';
import { mediaRoutes } from './http/mediaRoutes.ts';
import { shelfRoutes } from './http/shelfRoutes.ts';
import { planRoutes } from './http/planRoutes.ts';
import { printerRoutes } from './http/printerRoutes.ts';
import { layoutRoutes } from './http/layoutRoutes.ts';
import { runFileRoutes } from './http/runFileRoutes.ts';
import { runRoutes } from './http/runRoutes.ts';
import { setupRoutes } from './http/setupRoutes.ts';
import { ticketRoutes } from './http/ticketRoutes.ts';
import { uploadRoutes } from './http/uploadRoutes.ts';
import { HotFolders } from './ingest/hotFolders.ts';
import { Intake } from './ingest/intake.ts';
import { readLimits } from './limits.ts';
import { RenderPool } from './render/pool.ts';
import { openDemo, seedDemo } from './demo/seedDemo.ts';
import { SHOP } from './demo/floorData.ts';
import { demoIsOwed, isEmptyShop, seedFloor, writeDevices } from './demo/seedFloor.ts';
import type { Shop } from './shop.ts';
import { boundRenderedData } from './usecases/boundData.ts';
import { DatesAtRisk } from './usecases/datesAtRisk.ts';
import { keepOrDrop } from './usecases/shelf.ts';
import { shopCurrency } from './usecases/shopSetup.ts';
import { releaseDueRuns } from './usecases/goOn.ts';

/** Looks after stand-ins that died on their own so often. */
const STAND_IN_WATCH_MS = 3000;
const DUE_LOOK_MS = 500;
const TIDY_MS = 5_000;

const { values: options } = parseArgs({
  options: {
    data: { type: 'string' },
    port: { type: 'string', default: '4780' },
    host: { type: 'string', default: '127.0.0.1' },
    rate: { type: 'string' },
    empty: { type: 'boolean', default: false },
    dist: { type: 'string', default: resolve(import.meta.dirname, '..') },
  },
});

const dist = resolve(options.dist);
// A relative folder is meant from where the person stands, the default one lies beside the program.
const data =
  options.data === undefined ? resolve(dist, '..', 'data') : resolve(process.env.INIT_CWD ?? '.', options.data);
const paths = new DataPaths(data);
await mustBeAlone(paths.root);
paths.make();
const log = pino(
  { level: process.env.YELLOW_SPOOL_LOG ?? 'info' },
  pino.destination({ dest: join(paths.root, 'server.log'), sync: false, mkdir: true }),
);
const limits = readLimits(process.env);
const { db, close: closeDb } = openDb(paths.database, join(dist, 'migrations'));
if (isEmptyShop(db)) seedFloor(db, paths, options.empty);
// A shop of an earlier version has stand-ins that can't describe themselves yet.
else if (!existsSync(join(paths.standIns, 'floor.json'))) writeDevices(paths);
const clock = new StoredClock(db);
if (options.rate !== undefined && !demoIsOwed(db)) clock.setRate(Number(options.rate));

const standInProgram = join(dist, 'stand-in', 'main.mjs');
let standInBase = await findOrLaunchStandIns(paths.standIns, standInProgram, clock.rate);
const link = new StandInLink(() => standInBase);
await link.setClock(clock.rate, clock.now(), clock.untilMs);

let baseUrl = '';
const shop: Shop = {
  db,
  clock,
  paths,
  limits,
  log,
  link,
  bus: new LiveBus(),
  // One processor stays with the server and the people who wait for it.
  pool: new RenderPool(join(dist, 'server', 'worker.mjs'), paths.root, limits, Math.max(2, availableParallelism() - 1)),
  baseUrl: () => baseUrl,
  currency: () => shopCurrency(db),
  kick: () => feeder.look(),
};

// What a crash left half done: uploads that nobody was answered for, and unfinished copies.
for (const dir of [paths.uploads, paths.temporary]) {
  for (const name of await readdir(dir)) await rm(join(dir, name), { recursive: true, force: true });
}

const intake = new Intake(shop);
const folders = new HotFolders(shop, intake);
const stopSign = new AbortController();
let opening: 'opening' | 'open' | 'ready' = 'opening';
const feeder = new Dispatcher(shop);
const dates = new DatesAtRisk(shop);
const routes = [
  ...floorRoutes(shop, isReady),
  ...uploadRoutes(shop, intake),
  ...ticketRoutes(shop),
  ...jobRoutes(shop),
  ...setupRoutes(shop, folders),
  ...runRoutes(shop, feeder),
  ...runFileRoutes(shop),
  ...layoutRoutes(shop),
  ...mediaRoutes(shop),
  ...shelfRoutes(shop),
  ...planRoutes(shop),
  ...printerRoutes(shop, () => {
    feeder.follow();
  }),
];
shop.bus.connect(liveSource(shop, folders));
const app = createApp(shop, routes, join(dist, 'web'));
const server = app.listen(Number(options.port), options.host, (error) => {
  if (error) {
    const taken = (error as NodeJS.ErrnoException).code === 'EADDRINUSE';
    process.stderr.write(
      taken
        ? `Port ${options.port} is taken. Try: npm start -- --port ${String(Number(options.port) + 1)}\n`
        : `${error.message}\n`,
    );
    void shutStandIns().then(() => process.exit(1));
    return;
  }
  void opened();
});

async function opened(): Promise<void> {
  const { port } = server.address() as AddressInfo;
  const host = options.host === '0.0.0.0' || options.host === '::' ? '127.0.0.1' : options.host;
  baseUrl = `http://${host.includes(':') ? `[${host}]` : host}:${String(port)}`;
  await folders.follow();
  feeder.open();
  if (demoIsOwed(db)) {
    process.stdout.write('Making the demo: six weeks of a shop’s work. It takes about half a minute, once.\n');
    await seedDemo(shop, intake);
    await openDemo(shop, Number(options.rate ?? SHOP.demoRate));
  }
  opening = 'open';
  void watchStandIns();
  void sendOnDueRuns();
  void tidy();
  await noteAddress(paths.root, port);
  log.info({ baseUrl, data: paths.root }, 'ready');
  process.stdout.write(`Yellow Spool is at ${baseUrl}\nHot folders are in ${paths.hotFolders}\n`);
}

/** Ready once everything is open and every printer has been heard; a line lost later doesn't change that. */
function isReady(): boolean {
  if (opening === 'open' && feeder.allHeard()) opening = 'ready';
  return opening === 'ready';
}

function isStopping(): boolean {
  return stopSign.signal.aborted;
}

/** Runs that go by themselves are queued when their time has come. */
async function sendOnDueRuns(): Promise<void> {
  while (!isStopping()) {
    await releaseDueRuns(shop).catch((error: unknown) => {
      log.error({ err: error }, 'a run that should go by itself could not be looked at');
    });
    await new Promise((done) => setTimeout(done, DUE_LOOK_MS));
  }
}

/** Dates at risk, keep rules, and the bound of what is rendered. */
async function tidy(): Promise<void> {
  while (!isStopping()) {
    try {
      keepOrDrop(shop);
      dates.look();
      await boundRenderedData(shop);
    } catch (error) {
      log.error({ err: error }, 'the Shelf could not be looked after');
    }
    await new Promise((done) => setTimeout(done, TIDY_MS));
  }
}

/** Looks after the stand-ins, one look after another: one that died on its own is started again. */
async function watchStandIns(): Promise<void> {
  while (!isStopping()) {
    await new Promise((done) => setTimeout(done, STAND_IN_WATCH_MS));
    if (isStopping()) return;
    try {
      const base = await findOrLaunchStandIns(paths.standIns, standInProgram, clock.rate);
      if (base !== standInBase) {
        standInBase = base;
        await link.setClock(clock.rate, clock.now(), clock.untilMs);
      }
    } catch (error) {
      log.error({ err: error }, 'the stand-ins cannot be started');
    }
  }
}

/** The printers are put away in order: they keep what they were doing. */
async function shutStandIns(): Promise<void> {
  await fetch(`${standInBase}/control/shutdown`, { method: 'POST', signal: AbortSignal.timeout(1000) }).catch(
    () => undefined,
  );
}

async function stop(): Promise<void> {
  if (stopSign.signal.aborted) return;
  stopSign.abort();
  feeder.close();
  server.close();
  server.closeAllConnections();
  await folders.close();
  await shutStandIns();
  await shop.pool.close();
  closeDb();
  process.exit(0);
}
process.on('SIGTERM', () => void stop());
process.on('SIGINT', () => void stop());
