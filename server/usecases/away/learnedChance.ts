import { and, desc, eq, gt, inArray, isNotNull, sql } from 'drizzle-orm';
import { type LearnedRate, type Seen, faultRate, mediaRate } from '../../../core/away/learnedRate.ts';
import { type LearnedRatio, learnedRatio } from '../../../core/estimate/learnedRatio.ts';
import type { ClogChance, NightChance } from '../../../core/away/nightChance.ts';
import { clogRate } from '../../../core/heads/clogLearning.ts';
import { NO_FAULTS } from '../../../core/heads/nozzleFaults.ts';
import { channelHeads as headsOfChannel, modeAsks } from '../../../core/heads/printerHeads.ts';
import { Attendance, type TimeSpan, attendedSpans } from '../../../core/schedule/shopHours.ts';
import { exercisedMs } from '../../db/exercised.ts';
import { findPrinter } from '../../db/findRows.ts';
import { channelHeads } from '../../db/tables/headTables.ts';
import { inkLedger, pieceOutcomes, printerSpells, runAttempts } from '../../db/tables/records.ts';
import { runs } from '../../db/tables/schema.ts';
import { inkAsItGoes, timeSeries } from '../../../core/estimate/learnedPrinter.ts';
import type { Shop } from '../../shop.ts';
import { exerciseDoses } from '../care/exercise.ts';
import { plannedInk } from '../run/runCost.ts';
import type { Floor } from '../plan/plannedFloor.ts';
import { shopSetup } from '../setup/shopSetup.ts';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
/** What lies further back says little of how it is now; nor are more rows than this read of one printer. */
const BACK_MS = 365 * DAY;
const MOST_ATTEMPTS = 1000;
const MOST_SPELLS = 500;
const RATIOS = 60;
/** A stop and the failed run that it ended are one fault. */
const SAME_MS = 60_000;
/** Minutes of a repair, before any was seen. */
const REPAIR_MIN = 20;
/** Of what keeps a printer, these are of the media, or of a supply that a plan foresees. */
const JAM = /jam/i;
const FORESEEN = /media out|ink out|link lost|next piece/i;

type Attempt = typeof runAttempts.$inferSelect;

/** What the log says of one printer. */
export interface PrinterLog {
  readonly printerId: string;
  readonly faults: readonly { readonly atMs: number; readonly cause: string }[];
  readonly hours: number;
  /** The latest first. */
  readonly attempts: readonly Attempt[];
  readonly repairs: readonly number[];
}

/** What this shop has learned of how its nights go, from its own log: bounded, however old the shop is. */
export function learnedChance(shop: Shop, floor: Floor): NightChance {
  const logs = printerLogs(shop, floor);
  const attempts = new Map(logs.map((log) => [log.printerId, log.attempts]));
  return {
    faults: Object.fromEntries(
      logs.map((log): [string, LearnedRate] => [log.printerId, faultRate(seenOn(log), othersOf(logs, log.printerId))]),
    ),
    ...mediaChance(shop, floor),
    time: Object.fromEntries(floor.printers.flatMap(timesOf)),
    ink: Object.fromEntries(
      floor.printers.map((printer) => [
        printer.id,
        learnedRatio(inkRatios(shop, printer, attempts.get(printer.id) ?? [])),
      ]),
    ),
    repair: learnedRepair(logs),
    clogs: Object.fromEntries(floor.printers.map((printer) => [printer.id, clogChances(shop, printer)])),
  };
}

/** What times may be off by. Plans go by estimates that are corrected already: what is left is how far the corrections may be off. */
function timesOf({ id, learned }: Floor['printers'][number]): [string, LearnedRatio][] {
  const ownOf = (time: LearnedRatio): LearnedRatio => ({ ...time, m: 0 });
  const series = Object.entries(learned.modes).flatMap(([modeId, { stocks }]) =>
    Object.entries(stocks).map(([stockId, time]): [string, LearnedRatio] => [
      timeSeries(id, modeId, stockId),
      ownOf(time),
    ]),
  );
  return [[id, ownOf(learned.time)], ...series];
}

/** What a printer has come to. */
export function seenOn({ faults, hours }: PrinterLog): Seen {
  return { events: faults.length, over: hours };
}

/** What all printers but one have come to. */
export function othersOf(logs: readonly PrinterLog[], printerId: string): Seen {
  let [events, over] = [0, 0];
  for (const log of logs) {
    if (log.printerId === printerId) continue;
    events += log.faults.length;
    over += log.hours;
  }
  return { events, over };
}

/** Minutes that repairs take once somebody is there, all printers together. */
export function learnedRepair(logs: readonly PrinterLog[]): LearnedRatio {
  return learnedRatio(
    logs.flatMap(({ repairs }) => repairs),
    Math.log(REPAIR_MIN),
  );
}

/** What the log says of each printer. */
export function printerLogs(shop: Shop, { printers, nowMs }: Floor): PrinterLog[] {
  const setup = shopSetup(shop.db, shop.clock.zone);
  return printers.map(({ id }) => {
    const attempts = latestAttempts(shop, id, nowMs - BACK_MS);
    const spells = faultSpells(shop, id, nowMs - BACK_MS);
    const failed = attempts.filter(
      ({ outcome, cause }) => outcome === 'failed' && cause !== null && !JAM.test(cause) && !FORESEEN.test(cause),
    );
    const stops = spells.filter(({ cause }) => !JAM.test(cause ?? '') && !FORESEEN.test(cause ?? ''));
    const faults = [
      ...stops.map(({ fromMs, cause }) => ({ atMs: fromMs, cause: cause ?? 'fault' })),
      ...failed
        .filter(({ endedMs }) => !stops.some((spell) => isWithin(endedMs ?? 0, spell)))
        .map(({ endedMs, cause }) => ({ atMs: endedMs ?? 0, cause: cause ?? 'fault' })),
    ].sort((a, b) => b.atMs - a.atMs);
    return {
      printerId: id,
      faults,
      hours: attempts.reduce((sum, attempt) => sum + hoursOf(attempt), 0),
      attempts,
      repairs: stops.flatMap((spell) => repairMinutes(spell, setup)),
    };
  });
}

function isWithin(ms: number, { fromMs, toMs }: { readonly fromMs: number; readonly toMs: number | null }): boolean {
  return ms >= fromMs - SAME_MS && ms <= (toMs ?? Infinity) + SAME_MS;
}

/** Hours that an attempt printed. */
export function hoursOf({ startedMs, endedMs, pausedMs }: Attempt): number {
  return startedMs === null || endedMs === null ? 0 : Math.max(0, endedMs - startedMs - pausedMs) / HOUR;
}

function latestAttempts(shop: Shop, printerId: string, sinceMs: number): Attempt[] {
  return shop.db
    .select()
    .from(runAttempts)
    .where(and(eq(runAttempts.printerId, printerId), gt(runAttempts.endedMs, sinceMs)))
    .orderBy(desc(runAttempts.endedMs))
    .limit(MOST_ATTEMPTS)
    .all();
}

function faultSpells(shop: Shop, printerId: string, sinceMs: number) {
  return shop.db
    .select()
    .from(printerSpells)
    .where(
      and(
        eq(printerSpells.printerId, printerId),
        gt(printerSpells.fromMs, sinceMs),
        eq(printerSpells.state, 'faulted'),
      ),
    )
    .orderBy(desc(printerSpells.fromMs))
    .limit(MOST_SPELLS)
    .all();
}

/** Ink fired ÷ ink that was planned of the latest printed runs, all channels together. */
function inkRatios(
  shop: Shop,
  { id, config, learned }: Floor['printers'][number],
  attempts: readonly Attempt[],
): number[] {
  const printed = attempts.filter(({ outcome }) => outcome === 'printed').slice(0, RATIOS);
  if (printed.length === 0) return [];
  const runIds = printed.map(({ runId }) => runId);
  const planned = new Map(
    shop.db
      .select({
        ...{ id: runs.id, ticket: runs.ticket, inkMl: runs.inkMl },
        ...{ inkRendering: runs.inkRendering, inkSample: runs.inkSample },
      })
      .from(runs)
      .where(inArray(runs.id, runIds))
      .all()
      .map((run) => [run.id, plannedInk(run)]),
  );
  const fired = shop.db
    .select({ runId: inkLedger.runId, attempt: inkLedger.attempt, ml: sql<number>`-sum(${inkLedger.ml})` })
    .from(inkLedger)
    .where(
      and(
        eq(inkLedger.printerId, id),
        inArray(
          inkLedger.channelId,
          config.channels.map((channel) => channel.id),
        ),
        inArray(inkLedger.runId, runIds),
      ),
    )
    .groupBy(inkLedger.runId, inkLedger.attempt)
    .all();
  const total = (inkMl: Readonly<Record<string, number>>): number =>
    Object.values(inkMl).reduce((sum, ml) => sum + ml, 0);
  return printed.flatMap(({ runId, attempt }) => {
    const ml = fired.find((each) => each.runId === runId && each.attempt === attempt)?.ml ?? 0;
    const ink = planned.get(runId);
    const meant = ink ? total(inkAsItGoes(ink, learned)) : 0;
    return ml > 0 && meant > 0 ? [ml / meant] : [];
  });
}

/** Of a stop, the minutes from when somebody was there. */
function repairMinutes(
  { fromMs, toMs }: { readonly fromMs: number; readonly toMs: number | null },
  setup: Parameters<typeof attendedSpans>[0],
): number[] {
  if (toMs === null) return [];
  const spans: TimeSpan[] = attendedSpans(setup, fromMs, toMs + DAY);
  const there = new Attendance(spans).startFor(fromMs, 0);
  return there === undefined || there >= toMs ? [] : [Math.max(0.5, (toMs - there) / 60_000)];
}

/** Jams and flaws per metre, of each stock that waits or is loaded. */
function mediaChance(shop: Shop, floor: Floor): Pick<NightChance, 'jams' | 'flaws'> {
  const stockIds = [
    ...new Set([...floor.runs.map((run) => run.stockId), ...floor.spools.map((spool) => spool.stockId)]),
  ];
  const logs = mediaLogs(shop, stockIds, floor.nowMs);
  return {
    jams: Object.fromEntries(
      logs.map(({ stockId, jams, metres }) => [stockId, mediaRate({ events: jams, over: metres })]),
    ),
    flaws: Object.fromEntries(
      logs.map(({ stockId, flaws, metres }) => [stockId, mediaRate({ events: flaws, over: metres })]),
    ),
  };
}

/** Jams, flaws and metres of a stock. */
export interface MediaLog {
  readonly stockId: string;
  readonly jams: number;
  readonly flaws: number;
  readonly metres: number;
}

/** What the log says of stocks. */
export function mediaLogs(shop: Shop, stockIds: readonly string[], nowMs: number): MediaLog[] {
  const sinceMs = nowMs - BACK_MS;
  const keyOf = ({ runId, attempt }: Pick<Attempt, 'runId' | 'attempt'>): string => `${runId} ${String(attempt)}`;
  // One flaw may spoil several pieces of a run: it counts once.
  const spoiled = new Set(
    shop.db
      .select({ runId: pieceOutcomes.runId, attempt: pieceOutcomes.attempt })
      .from(pieceOutcomes)
      .where(and(eq(pieceOutcomes.outcome, 'spoiled'), gt(pieceOutcomes.atMs, sinceMs)))
      .orderBy(desc(pieceOutcomes.atMs))
      .limit(MOST_ATTEMPTS)
      .all()
      .map(keyOf),
  );
  return stockIds.map((stockId) => {
    const rows = shop.db
      .select()
      .from(runAttempts)
      .where(and(eq(runAttempts.stockId, stockId), gt(runAttempts.endedMs, sinceMs)))
      .orderBy(desc(runAttempts.endedMs))
      .limit(MOST_ATTEMPTS)
      .all();
    return {
      stockId,
      jams: rows.filter(({ outcome, cause }) => outcome === 'failed' && JAM.test(cause ?? '')).length,
      flaws: new Set(rows.map(keyOf).filter((key) => spoiled.has(key))).size,
      metres: rows.reduce((sum, { lengthMm }) => sum + lengthMm, 0) / 1000,
    };
  });
}

function clogChances(shop: Shop, { id, config }: Floor['printers'][number]): Record<string, ClogChance> {
  const row = findPrinter(shop.db, id);
  if (!row) return {};
  const known = exercisedMs(shop.db, row);
  const doses = exerciseDoses(row);
  const heads = shop.db
    .select()
    .from(channelHeads)
    .where(and(eq(channelHeads.printerId, id), isNotNull(channelHeads.sums)))
    .all();
  return Object.fromEntries(
    heads.flatMap(({ channelId, sums, faults }): [string, ClogChance][] => {
      const channel = config.channels.find((each) => each.id === channelId);
      const exercised = known[channelId];
      // A channel that nobody has seen fire says nothing of how long it stands.
      if (!channel || exercised === undefined) return [];
      return [
        [
          channelId,
          {
            theta: { kind: 'gamma', ...clogRate(sums) },
            ...{ limitMs: channel.idleLimitH * HOUR, doseMl: doses[channelId] ?? Infinity, exercisedMs: exercised },
            heads: headsOfChannel(config, channel),
            faults: faults ?? NO_FAULTS,
            asks: Object.fromEntries(config.modes.map((mode) => [mode.id, modeAsks(config, mode)])),
          },
        ],
      ];
    }),
  );
}
