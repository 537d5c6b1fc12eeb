import { existsSync, readFileSync, writeFileSync, renameSync } from 'node:fs';
import type { AddressInfo } from 'node:net';
import { join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import type { ChannelFaults } from '../core/heads/nozzleFaults.ts';
import type { MachineAbout } from '../contract/machine/about.ts';
import type { CutterAbout } from '../contract/machine/cutter.ts';
import { seedOf } from '../core/machine/deviation.ts';
import { seededRandom } from '../core/random.ts';
import { standInApp } from './app.ts';
import { StandIn } from './machine.ts';
import { CutterStandIn, emptyCutter } from './cutter.ts';
import { Mailbox, mailRoutes } from './mailbox.ts';
import { MemoryFiles, emptyMemory } from './memory.ts';

const TICK_MS = 100;
const UNSAVED_MS = 1000;
/** Nobody has asked for so long: whoever started it is gone for good. */
const FORSAKEN_MS = 15 * 60_000;

const { values } = parseArgs({ options: { data: { type: 'string' }, rate: { type: 'string', default: '1' } } });
const dataDir = resolve(values.data ?? 'data/stand-ins');
const said = (text: string): void => {
  process.stderr.write(`${new Date().toISOString()} ${text}\n`);
};
// Its log may lie on a disk that is full.
process.stderr.on('error', () => undefined);
// Printers print on, whatever goes wrong with one of them.
process.on('uncaughtException', (error) => {
  said(error.stack ?? error.message);
});
const files = new MemoryFiles(dataDir, said);
const machines = new Map<string, StandIn>();
const realNow = (): number => performance.now();
let rate = Number(values.rate);
let lastTick = realNow();
let lastHeard = realNow();
/** What each device is; written by whoever sets this floor up. */
const FLOOR_FILE = join(dataDir, 'floor.json');
const CUTTERS_FILE = join(dataDir, 'cutters.json');
const cutters = new Map<string, CutterStandIn>();
/** Shop time as far as a stand-in needs one: for the instants in its reports. */
let shopMs = Date.now();
/** Where shop time stands still again. */
let untilMs = Infinity;
/** Until the shop has said what time it is there, none goes by. */
let told = false;

/** The stand-in for a printer; it is made when it is asked for the first time, with what it remembered. */
function machine(id: string): StandIn {
  const known = machines.get(id);
  if (known) return known;
  const device = floor().find(({ about }) => about.id === id);
  const { memory, clean } = files.load(id, { ...emptyMemory(), inkMl: device?.inkMl ?? null });
  const made = new StandIn(id, memory, {
    now: () => Math.round(shopMs),
    save: () => {
      files.save(id, memory, false);
    },
    random: seededRandom(seedOf(id)),
    about: device?.about,
    idleH: device?.idleH,
    faults: device?.faults,
  });
  machines.set(id, made);
  if (!clean) made.powerWasLost();
  return made;
}

/** The cutters that are described to this process. */
function allCutters(): CutterStandIn[] {
  if (!existsSync(CUTTERS_FILE)) return [];
  return (JSON.parse(readFileSync(CUTTERS_FILE, 'utf8')) as CutterAbout[]).map((about) => {
    const known = cutters.get(about.id);
    if (known) return known;
    // A cutter notes each change at once, so that a power cut leaves it where it stood, waiting for a hand.
    const { memory, clean } = files.load(`cutter-${about.id}`, emptyCutter());
    const made = new CutterStandIn(about, memory, {
      now: () => Math.round(shopMs),
      save: () => {
        files.save(`cutter-${about.id}`, memory, false);
      },
    });
    if (!clean) made.powerWasLost();
    cutters.set(about.id, made);
    return made;
  });
}

interface Device {
  readonly about: MachineAbout;
  /** In its tanks when it is first switched on. */
  readonly inkMl: Record<string, number>;
  /** Hours that its channels have been idle for by then. */
  readonly idleH?: Record<string, number>;
  /** Nozzles that are not well by then. */
  readonly faults?: Record<string, ChannelFaults>;
}

function floor(): Device[] {
  return existsSync(FLOOR_FILE) ? (JSON.parse(readFileSync(FLOOR_FILE, 'utf8')) as Device[]) : [];
}

function tick(): void {
  const now = realNow();
  const elapsed = Math.max(0, Math.min((now - lastTick) * rate, untilMs - shopMs));
  lastTick = now;
  if (now - lastHeard > FORSAKEN_MS) shutdown();
  if (!told) return;
  shopMs += elapsed;
  for (const each of machines.values()) each.tick(elapsed, now);
  for (const each of cutters.values()) each.tick(elapsed);
}

function shutdown(): void {
  clearInterval(timer);
  for (const each of machines.values()) files.save(each.id, each.memory, true);
  for (const each of cutters.values()) files.save(`cutter-${each.about.id}`, each.memory, true);
  mailbox.close();
  server.close();
  setTimeout(() => process.exit(0), 50);
}

const mailbox = new Mailbox(() => Math.round(shopMs));
await mailbox.listen();
const app = standInApp({
  machine,
  machines: () => floor().map(({ about }) => machine(about.id)),
  cutters: allCutters,
  setClock: (nextRate, nextShopMs, nextUntilMs) => {
    tick();
    told = true;
    rate = nextRate;
    shopMs = nextShopMs;
    untilMs = nextUntilMs;
  },
  rate: () => (shopMs >= untilMs ? 0 : rate),
  shopNow: () => shopMs,
  realNow,
  heard: () => {
    lastHeard = realNow();
  },
  shutdown,
  dataDir,
  port: () => (server.address() as AddressInfo).port,
});

mailRoutes(app, mailbox);
const server = app.listen(0, '127.0.0.1', () => {
  const { port } = server.address() as AddressInfo;
  const file = join(dataDir, 'address.json');
  writeFileSync(`${file}.part`, JSON.stringify({ port, pid: process.pid }));
  renameSync(`${file}.part`, file);
});
const timer = setInterval(tick, TICK_MS);
setInterval(() => {
  files.saveUnsaved();
}, UNSAVED_MS).unref();
process.on('SIGTERM', shutdown);
process.on('SIGINT', () => {
  // Ctrl-C goes to the whole group; the server says when to stop.
});
