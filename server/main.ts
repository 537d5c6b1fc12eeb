import { allRoutes } from './http/allRoutes.ts';
import { type ChildProcess, spawn } from 'node:child_process';
import { existsSync, openSync } from 'node:fs';
import { readdir, rm } from 'node:fs/promises';
import { randomBytes } from 'node:crypto';
import { availableParallelism } from 'node:os';
import { join, resolve } from 'node:path';
import { type Logger, pino } from 'pino';
import { StoredClock } from './clock/shopClock.ts';
import { type OpenDb, openDb } from './db/open.ts';
import { statementLog } from './db/statements.ts';
import { Dispatcher } from './devices/dispatcher.ts';
import { holdFolder, noteAddress, whoHolds } from './alone.ts';
import { findOrLaunchStandIns } from './devices/launchStandIns.ts';
import { StandInLink } from './devices/standInLink.ts';
import { DataPaths } from './files/paths.ts';
import { createApp } from './http/app.ts';
import { liveSource } from './http/routes/floorRoutes.ts';
import { LiveBus } from './http/liveBus.ts';
import { HotFolders } from './ingest/hotFolders.ts';
import { Intake } from './ingest/intake.ts';
import { storageFault } from './files/storageFault.ts';
import { StorageGuard } from './files/storageGuard.ts';
import { storageParts, whyUnwritable } from './files/storageParts.ts';
import { readLimits } from './limits.ts';
import { exposures } from '../core/people/exposure.ts';
import { type Listening, listen } from './listen.ts';
import { lookAfterShop } from './lookAfterShop.ts';
import { BadOption, type Options, readOptions } from './options.ts';
import { Repeated } from './repeated.ts';
import { ThreadPool } from './work/pool.ts';
import { ShopTaskList } from './work/shopTaskList.ts';
import { TaskStore } from './work/taskStore.ts';
import { WorkQueue } from './work/workQueue.ts';
import { openDemo, seedDemo } from './demo/seedDemo.ts';
import { SHOP } from './demo/floorData.ts';
import { demoIsOwed, isEmptyShop, seedFloor, writeDevices } from './demo/seedFloor.ts';
import { seedProfiles } from './demo/seedProfiles.ts';
import { type Shop, newId } from './shop.ts';
import { DatesAtRisk } from './usecases/plan/datesAtRisk.ts';
import { hostNames, leastFreeBytes, shopCurrency } from './usecases/setup/shopSetup.ts';
import { ownerCode } from './usecases/people/people.ts';
import { hasOwner, signInIsOn, storeSignIn } from './usecases/people/signInSwitch.ts';
import { crewView, hireCrew } from './usecases/setup/crew.ts';
import { shopTaskHandlers } from './usecases/shopTaskHandlers.ts';
import { SmtpMailer } from './mail/smtpMailer.ts';
import { mailStandInPort } from './mail/mailStandIn.ts';

const STORAGE_MS = 2000;

const options = optionsOrEnd();
const { dist } = options;
const paths = new DataPaths(options.data);
const hold = await holdOrEnd();
const limits = readLimits(process.env);
const statements = process.env.YELLOW_SPOOL_STATEMENTS;
const database = openOrEnd();
// Only now: a log that is just being opened can't be closed in order.
const log = openLog();
const { db } = database;
if (isEmptyShop(db)) seedFloor(db, paths, options.empty);
// A shop of an earlier version has stand-ins that can't describe themselves yet.
else if (!existsSync(join(paths.standIns, 'floor.json'))) writeDevices(paths);
seedProfiles(db, join(dist, 'profiles'));
const exposure = (): readonly string[] =>
  exposures({ ...options, hasCertificate: options.certificate !== undefined, hostNames: hostNames(db) });
chooseSignIn();
const clock = new StoredClock(db);
if (options.rate !== undefined && !demoIsOwed(db)) clock.setRate(options.rate);
const bus = new LiveBus((error) => {
  if (!storage.noticed(error)) log.error({ err: error }, 'pages could not be told of a change');
});
const storage = new StorageGuard({
  ...storageParts(paths, database),
  leastFreeBytes: () => leastFreeBytes(db, limits),
  changed: (view) => {
    bus.tell('storage', view);
  },
  log,
});
await storage.look();
const repeated = new Repeated(log, storage);

const standInProgram = join(dist, 'stand-in', 'main.mjs');
let standInBase = await findOrLaunchStandIns(paths.standIns, standInProgram, clock.rate);
const link = new StandInLink(
  () => standInBase,
  (error, machineId) => {
    log.error({ err: error, machineId }, 'what a printer said could not be listened to');
  },
);
await tellTime();
clock.onJump = () => {
  log.warn('the clock of this machine was set back; shop time goes on from where it was');
  void tellTime().catch(() => undefined);
};

// One place more than processors but one: whoever waits at a page never queues behind a thousand arriving files.
const threads = new ThreadPool(
  join(dist, 'server', 'worker.mjs'),
  paths.root,
  limits,
  Math.max(3, availableParallelism()),
);
const work = new WorkQueue(
  threads,
  new TaskStore(db, (error) => {
    if (!storage.noticed(error)) log.error({ err: error }, 'tasks could not be written down');
  }),
  { taskMs: limits.taskMs, holder: newId('server'), newId: () => newId('task'), nowMs: () => Date.now() },
);

let listening: Listening | undefined;
const crewToken = randomBytes(32).toString('base64url');
const shop: Shop = {
  db,
  clock,
  paths,
  limits,
  log,
  link,
  renderings: { of: (runId) => feeder.renderer.of(runId) },
  bus,
  storage,
  work,
  tasks: new ShopTaskList(db, () => shopTaskHandlers(shop), {
    newId: () => newId('task'),
    nowMs: () => Date.now(),
    isStorageFault: (error) => storage.noticed(error),
    failed: (error, kind) => {
      log.error({ err: error, kind }, 'a task of the shop failed');
    },
  }),
  baseUrl: () => listening?.inner() ?? '',
  realNow: () => Date.now(),
  exposures: exposure,
  currency: () => shopCurrency(db),
  wakeDispatcher: () => feeder.look(),
};

// What a crash left half done: uploads that nobody was answered for, and unfinished copies.
for (const dir of [paths.uploads, paths.temporary]) {
  for (const name of await readdir(dir)) await rm(join(dir, name), { recursive: true, force: true });
}

const intake = new Intake(shop);
const folders = new HotFolders(shop, intake);
let stopping = false;
let crew: ChildProcess | undefined;
let opening: 'opening' | 'open' | 'ready' = 'opening';
const feeder = new Dispatcher(shop);
const dates = new DatesAtRisk(shop);
const { publicUrl: publicOrigin, trustedHops } = options;
const mailer = new SmtpMailer(() => mailStandInPort(standInBase));
const outgoing = { mailer, pages: publicOrigin };
const routes = allRoutes(shop, {
  ...{ intake, folders, dispatcher: feeder, isReady, publicOrigin, crewToken, outgoing },
  mailUrl: () => (standInBase === '' ? null : `${standInBase}/mail`),
});
shop.bus.connect(liveSource(shop, folders));
const app = createApp(shop, routes, join(dist, 'web'), {
  ports: () => listening?.ports() ?? [options.port],
  names: () => listening?.names() ?? [],
  onlyTls: options.certificate !== undefined || publicOrigin?.startsWith('https:') === true,
  ...{ publicOrigin, trustedHops, crewToken },
});
try {
  listening = await listen(app, options);
} catch (error) {
  const { code, message } = error as NodeJS.ErrnoException;
  process.stderr.write(
    code === 'EADDRINUSE'
      ? `Port ${String(options.port)} is taken. Try: npm start -- --port ${String(options.port + 1)}\n`
      : code === 'EADDRNOTAVAIL'
        ? `This machine does not have the address ${options.host}.\n`
        : `The server can’t answer: ${message}\n`,
  );
  await shutStandIns();
  process.exit(1);
}
opened().catch((error: unknown) => {
  log.error({ err: error }, 'the shop could not be opened');
  process.stderr.write(`The shop could not be opened: ${whyUnwritable(error)}.\n`);
  void shutStandIns().then(() => process.exit(1));
});

/** The last resort: what nobody caught is written down, and the shop goes on; all that it knows is in its database. */
function catchTheRest(): void {
  process.on('uncaughtException', (error) => {
    log.error({ err: error }, 'an exception that nobody caught');
  });
  process.on('unhandledRejection', (error) => {
    log.error({ err: error }, 'a promise that nobody looked after');
  });
}

/** From here on the shop answers. What an earlier server has left is taken up before anything new is. */
async function opened(): Promise<void> {
  repeated.every(STORAGE_MS, 'disk and database could not be looked at', () => storage.look());
  work.takeUp();
  await folders.follow();
  feeder.open();
  if (demoIsOwed(db)) {
    process.stdout.write('Making the demo: six weeks of a shop’s work. It takes about half a minute, once.\n');
    await seedDemo(shop, intake);
    await openDemo(shop, options.rate ?? SHOP.demoRate);
    if (options.crew) hireCrew(db);
  }
  opening = 'open';
  if (options.crew && crewView(db).there) crew = launchCrew();
  catchTheRest();
  lookAfterShop({
    ...{ shop, repeated, dates, outgoing },
    keepClock: () => {
      clock.keep();
    },
    renewCertificate: () => listening?.renew(),
    watchStandIns,
  });
  await noteAddress(paths.root, listening?.address() ?? '').catch((error: unknown) => {
    log.warn({ err: error }, 'the address could not be written down');
  });
  const address = listening?.address() ?? '';
  log.info({ address, data: paths.root }, 'ready');
  process.stdout.write(`Yellow Spool is at ${address}\nHot folders are in ${paths.hotFolders}\n`);
  if (signInIsOn(shop) && (options.ownerCode || !hasOwner(db))) {
    process.stdout.write(
      `${hasOwner(db) ? 'Somebody who has this code can become an owner' : 'Nobody can set anything up yet: open this address and become the owner, with this code'}, once, within a week:\n  ${ownerCode(shop)}\n`,
    );
  }
  if (options.host !== '127.0.0.1' && exposure().length > 0 && !options.certificate && trustedHops === 0) {
    process.stdout.write(
      'Without a certificate passwords can be read on the way here. Give --cert and --key, or put a proxy with TLS in front and say --trust-proxy 1.\n',
    );
  }
}

/** Sign-in as it was started with; refused where anybody could reach the shop without it. */
function chooseSignIn(): void {
  const why = exposure();
  if (options.signIn === false && why.length > 0) {
    end(
      `--no-sign-in: people have to sign in as long as other machines can reach the shop: ${why.join('; ')}.\nLeave --no-sign-in out. Who has forgotten their password starts it with --owner-code.`,
    );
  }
  if (options.signIn !== undefined) storeSignIn(db, options.signIn);
}

/** The people of the demo's shop, as a process of their own: they know the shop by its API alone. */
function launchCrew(): ChildProcess {
  const program = join(dist, 'crew', 'main.mjs');
  const heard = openSync(join(paths.root, 'crew.log'), 'a');
  const args = [program, '--shop', shop.baseUrl(), '--printers', standInBase, '--spare', paths.temporary];
  // Whoever looks at the list of processes sees its arguments, but not this.
  const env = { ...process.env, YELLOW_SPOOL_TOKEN: crewToken };
  return spawn(process.execPath, args, { stdio: ['ignore', heard, heard], env });
}

/** Ready once everything is open and every printer has been heard or is known not to answer; later nothing changes that. */
function isReady(): boolean {
  if (opening === 'open' && feeder.allKnown()) opening = 'ready';
  return opening === 'ready';
}

function tellTime(): Promise<void> {
  return link.setClock(clock.rate, clock.now(), clock.untilMs);
}

/** Looks after the stand-ins: one that died on its own is started again. */
async function watchStandIns(): Promise<void> {
  const base = await findOrLaunchStandIns(paths.standIns, standInProgram, clock.rate);
  if (base === standInBase) return;
  standInBase = base;
  await tellTime();
}

/** The printers are put away in order: they keep what they were doing. */
async function shutStandIns(): Promise<void> {
  await fetch(`${standInBase}/control/shutdown`, { method: 'POST', signal: AbortSignal.timeout(1000) }).catch(
    () => undefined,
  );
}

/** Stops in order: first nothing new comes in, then what is under way is left where the next server finds it. */
async function stop(): Promise<void> {
  if (stopping) return;
  stopping = true;
  crew?.kill();
  repeated.stop();
  feeder.close();
  listening?.close();
  await folders.close();
  await shutStandIns();
  // What the shop does by itself ends as soon as its parts do.
  await Promise.all([shop.tasks.close(), work.close()]);
  database.close();
  hold.release();
  process.exit(0);
}
process.on('SIGTERM', () => void stop());
process.on('SIGINT', () => void stop());

function end(text: string): never {
  process.stderr.write(`${text}\n`);
  process.exit(1);
}

function optionsOrEnd(): Options {
  try {
    return readOptions(process.argv.slice(2), process.env.INIT_CWD ?? '.', resolve(import.meta.dirname, '..'));
  } catch (error) {
    if (error instanceof BadOption) end(error.message);
    throw error;
  }
}

/** Makes the data folder and holds it; says in plain words why it can't. */
async function holdOrEnd(): Promise<{ release: () => void }> {
  try {
    paths.make();
    const held = holdFolder(paths.root);
    if (held) return held;
  } catch (error) {
    end(
      `The data folder ${paths.root} can't be written: ${whyUnwritable(error)}.\nChoose another one: npm start -- --data DIR`,
    );
  }
  return end((await whoHolds(paths.root)).trimEnd());
}

/** Opens the database; a disk that is full or a program that holds it is said in a sentence. */
function openOrEnd(): OpenDb {
  const onStatement = statements === undefined ? undefined : statementLog(statements);
  try {
    return openDb(paths.database, join(dist, 'migrations'), onStatement);
  } catch (error) {
    if (storageFault(error) === undefined) throw error;
    return end(
      `The database in ${paths.root} can't be opened: ${whyUnwritable(error)}. Start again when that is mended.`,
    );
  }
}

/** What can't be logged is not worth ending for: the disk may be full. */
function openLog(): Logger {
  const destination = pino.destination({ dest: join(paths.root, 'server.log'), sync: false, mkdir: true });
  destination.on('error', () => undefined);
  const redact = ['req.headers.authorization', 'req.headers.cookie'];
  return pino({ level: process.env.YELLOW_SPOOL_LOG ?? 'info', redact }, destination);
}
