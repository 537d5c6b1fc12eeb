import { TZDate } from '@date-fns/tz';
import { eq } from 'drizzle-orm';
import { strainOf } from '../../core/heads/clogLearning.ts';
import type { NozzleFault } from '../../core/heads/nozzleFaults.ts';
import { type FaultsByChannel, unfitModes } from '../../core/heads/printerHeads.ts';
import { COORDINATOR } from '../../core/events/actor.ts';
import type { Random } from '../../core/random.ts';
import { exercisedMs } from '../db/exercised.ts';
import { faultsOf } from '../db/headStates.ts';
import { channelFirings } from '../db/tables/records.ts';
import { printers } from '../db/tables/floorTables.ts';
import { type Shop, newId, transact } from '../shop.ts';
import { keepExercise } from '../usecases/care/exercise.ts';
import { addCareInk } from '../usecases/heads/careInk.ts';
import { checkPrinted, headsCleaned, takeReading } from '../usecases/heads/checks.ts';
import { IDLE_H } from './floorData.ts';
import { HEAD_FAULTS } from './headData.ts';
import type { PastClock } from './pastClock.ts';

const HOUR = 3_600_000;
const MIN = 60_000;
const DAY = 24 * HOUR;
/** Of the demo's printers: nozzles that clog per strain, which the shop does not know and learns. */
const THETA = 0.006;
/** Weekdays (0 is Sunday) on which each printer is checked, and for how many days it has not been when the demo opens. */
const CHECKED: Readonly<Record<string, { readonly weekdays: readonly number[]; readonly restsDays?: number }>> = {
  heron: { weekdays: [1, 2, 3, 4, 5] },
  magpie: { weekdays: [1, 2, 3, 4, 5] },
  bittern: { weekdays: [2, 4] },
  wren: { weekdays: [1, 4], restsDays: 9 },
  gannet: { weekdays: [1, 3, 5], restsDays: 7 },
};

type Row = typeof printers.$inferSelect;
type Draft = Record<string, Record<NozzleFault, number[]>>;

/** The checks and cleans of the weeks before the demo opens: what clogged over night was found in the morning, and cleaned. */
export class PastHeads {
  constructor(
    private readonly past: Shop,
    private readonly clock: PastClock,
    /** Openings of all its days. */
    private readonly days: readonly number[],
  ) {}

  /** One morning: those printers are checked whose day it is. */
  morning(dayMs: number, random: Random): void {
    const openMs = this.days.at(-1) ?? dayMs;
    for (const [printerId, { weekdays, restsDays = 0 }] of Object.entries(CHECKED)) {
      const mine = this.days.filter(
        (ms) => weekdays.includes(weekdayOf(ms, this.clock.zone)) && ms <= openMs - restsDays * DAY,
      );
      const printer = this.past.db.select().from(printers).where(eq(printers.id, printerId)).get();
      if (printer && mine.includes(dayMs)) this.checked(printer, dayMs + 10 * MIN, dayMs === mine.at(-1), random);
    }
  }

  /** What the channels fired last before the demo opens, where that is said: a purge each. @param openMs when it opens */
  purges(openMs: number): void {
    for (const [printerId, channels] of Object.entries(IDLE_H)) {
      const printer = this.past.db.select().from(printers).where(eq(printers.id, printerId)).get();
      if (!printer) continue;
      for (const [channelId, hours] of Object.entries(channels)) {
        transact(this.past, (work) => {
          const toMs = Math.floor(openMs - hours * HOUR);
          const key = { printerId, channelId, purpose: 'purge' as const, runId: newId('purge'), attempt: 1 };
          work.tx
            .insert(channelFirings)
            .values({ ...key, fromMs: toMs - MIN, toMs, ml: 0.5 })
            .run();
          keepExercise(work, printer, channelId, toMs - MIN);
        });
      }
    }
  }

  private checked(printer: Row, atMs: number, last: boolean, random: Random): void {
    const known = copyOf(faultsOf(this.past.db, printer.id));
    const found = last ? copyOf(HEAD_FAULTS[printer.id] ?? {}) : this.clogged(printer, known, atMs, random);
    this.check(printer, found, atMs);
    if (last) return;
    const dirty = printer.config.channels
      .map(({ id }) => id)
      .filter(
        (id) =>
          Object.keys(unfitModes(printer.config, { [id]: found[id] ?? empty() })).length > 0 || total(found[id]) > 3,
      );
    if (dirty.length === 0) return;
    this.clock.atMs = atMs + 8 * MIN;
    const action = random() < 0.75 ? ('light' as const) : ('deep' as const);
    transact(this.past, (work) => {
      headsCleaned(work, printer, dirty, action);
      for (const channelId of dirty) {
        const heads = printer.config.channels.find(({ id }) => id === channelId)?.heads ?? 1;
        const ml = printer.config.care[action].mlPerHead * heads;
        addCareInk(work.tx, { printerId: printer.id, channelId, month: monthOf(this.clock.now()), ml });
      }
    });
    const after = copyOf(found);
    for (const id of dirty) {
      const own = after[id];
      const opens = action === 'light' ? 0.8 : 0.95;
      for (const fault of ['missing', 'weak', 'crooked'] as const) {
        if (own) own[fault] = own[fault].filter(() => random() > opens);
      }
    }
    this.check(printer, after, atMs + 15 * MIN);
  }

  /** What has clogged since the channels were exercised last. */
  private clogged({ config, ...row }: Row, before: Draft, atMs: number, random: Random): Draft {
    const known = exercisedMs(this.past.db, { ...row, id: row.id });
    const now = copyOf(before);
    for (const { id, heads, idleLimitH } of config.channels) {
      const since = known[id];
      if (since === undefined) continue;
      const nozzles = config.machine.nozzlesPerChannel * heads;
      const mean = THETA * nozzles * strainOf(Math.max(0, atMs - since) / (idleLimitH * HOUR));
      const own = (now[id] ??= empty());
      for (let clogs = Math.min(40, poisson(mean, random)); clogs > 0; clogs -= 1) {
        const n = Math.floor(random() * nozzles);
        const fault = random() < 0.75 ? 'missing' : 'weak';
        if (!own.missing.includes(n) && !own.weak.includes(n)) own[fault].push(n);
      }
    }
    return now;
  }

  private check(printer: Row, found: Draft, atMs: number): void {
    this.clock.atMs = atMs;
    const channelIds = printer.config.channels.map(({ id }) => id);
    transact(this.past, (work) => {
      const fromMs = Math.floor(atMs - printer.config.care.check.minutes * MIN);
      const runId = newId('check-print');
      for (const { id: channelId, heads } of printer.config.channels) {
        const ml = printer.config.care.check.mlPerHead * heads;
        work.tx
          .insert(channelFirings)
          .values({
            printerId: printer.id,
            channelId,
            purpose: 'check',
            runId,
            attempt: 1,
            fromMs,
            toMs: Math.floor(atMs),
            ml,
          })
          .run();
        keepExercise(work, printer, channelId, fromMs);
        addCareInk(work.tx, { printerId: printer.id, channelId, month: monthOf(atMs), ml });
      }
      const check = checkPrinted(work, printer, { careId: null, channelIds, printedMs: Math.floor(atMs) });
      const reads = Object.fromEntries(channelIds.map((id) => [id, { ...(found[id] ?? empty()), unjudged: [] }]));
      const by = printer.config.readsChecks ? ('device' as const) : ('eye' as const);
      if (check)
        takeReading(work, printer, check, { by, confidence: by === 'device' ? 1 : null, found: reads }, COORDINATOR);
    });
  }
}

function weekdayOf(ms: number, zone: string): number {
  return new TZDate(ms, zone).getDay();
}

function monthOf(ms: number): string {
  return new Date(ms).toISOString().slice(0, 7);
}

function empty(): Record<NozzleFault, number[]> {
  return { missing: [], weak: [], crooked: [] };
}

function total(faults: Record<NozzleFault, number[]> | undefined): number {
  return faults ? faults.missing.length + faults.weak.length + faults.crooked.length : 0;
}

function copyOf(faults: FaultsByChannel): Draft {
  return Object.fromEntries(
    Object.entries(faults).map(([id, { missing, weak, crooked }]) => [
      id,
      { missing: [...missing], weak: [...weak], crooked: [...crooked] },
    ]),
  );
}

/** By multiplying uniform draws (Knuth): means here are small. */
function poisson(mean: number, random: Random): number {
  const least = Math.exp(-Math.min(mean, 30));
  let count = 0;
  for (let product = random(); product > least; product *= random()) count += 1;
  return count;
}
