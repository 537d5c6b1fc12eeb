import { and, eq, gte, inArray, lt, ne, sql } from 'drizzle-orm';
import type { MorningView } from '../../../contract/api/away.ts';
import { type AwayEvent } from '../../../core/away/awayEvents.ts';
import { wholeRunId } from '../../../core/away/awayChange.ts';
import { calibrationOf } from '../../../core/away/calibration.ts';
import { type Happened, morningLines, morningSums } from '../../../core/away/morning.ts';
import { costOfRun } from '../../../core/estimate/money.ts';
import { careItems } from '../../db/careTables.ts';
import type { Reader } from '../../db/open.ts';
import { printerViews } from '../../db/printerViews.ts';
import { inkLedger, pieceOutcomes, printerSpells, runAttempts } from '../../db/records.ts';
import { pieces, printers, runPieces, runs, stocks } from '../../db/schema.ts';
import type { Shop } from '../../shop.ts';
import { startAnswer } from '../plan/mayStart.ts';
import { awayView, mustFindAway } from './arm.ts';
import { type AwayRow, pastAways } from './armed.ts';

/** So many of the last times away say how good the odds have been. */
const NIGHTS = 30;

/** How a time away came out: planned against happened, what it cost, what to look at and print first. */
export function morningOf(shop: Shop, id: string): MorningView {
  const { db } = shop;
  const row = mustFindAway(db, id);
  const { events } = row.plan;
  const untilMs = Math.min(row.endedMs ?? shop.clock.now(), row.toMs);
  const happened = new Map([...runsThatHappened(shop, events, row), ...careThatHappened(db, events)]);
  const lines = morningLines(events, happened, row.toMs);
  return {
    ...awayView(row),
    lines: lines.map(({ planned, happened: came, ...line }) => ({
      ...line,
      planned: { ...planned },
      happened: came && { ...came },
    })),
    sums: { ...morningSums(lines), lostMinor: lostMinor(shop, events, row, untilMs) },
    stops: stopsOf(db, row.fromMs, untilMs),
    checkFirst: checkFirst(
      shop,
      lines.filter(({ verdict }) => verdict === 'not done').map(({ planned }) => planned),
    ),
    currency: shop.currency(),
    record: record(db),
  };
}

function runIds(events: readonly AwayEvent[]): string[] {
  return [...new Set(events.filter(({ kind }) => kind === 'run').map(({ id }) => wholeRunId(id)))];
}

/** What became of the runs of a plan. */
function runsThatHappened(
  shop: Shop,
  events: readonly AwayEvent[],
  { fromMs, toMs }: Pick<AwayRow, 'fromMs' | 'toMs'>,
): [string, Happened][] {
  const { db } = shop;
  const ids = runIds(events);
  if (ids.length === 0) return [];
  const rows = db.select().from(runs).where(inArray(runs.id, ids)).all();
  const counted = db
    .select({
      runId: pieceOutcomes.runId,
      outcome: pieceOutcomes.outcome,
      count: sql<number>`count(distinct ${pieceOutcomes.pieceId})`,
    })
    .from(pieceOutcomes)
    .where(inArray(pieceOutcomes.runId, ids))
    .groupBy(pieceOutcomes.runId, pieceOutcomes.outcome)
    .all();
  const failed = db
    .select({ runId: runAttempts.runId, mm: sql<number>`sum(${runAttempts.fedMm})` })
    .from(runAttempts)
    .where(
      and(
        inArray(runAttempts.runId, ids),
        inArray(runAttempts.outcome, ['failed', 'cancelled']),
        gte(runAttempts.endedMs, fromMs),
        lt(runAttempts.endedMs, toMs),
      ),
    )
    .groupBy(runAttempts.runId)
    .all();
  const count = (runId: string, outcome: string): number =>
    counted.find((each) => each.runId === runId && each.outcome === outcome)?.count ?? 0;
  return ids.map((id) => {
    const row = rows.find((each) => each.id === id);
    if (!row) return [id, { ...NOTHING, state: 'gone' }];
    const states: Partial<Record<typeof row.state, Happened['state']>> = {
      printed: 'done',
      failed: 'failed',
      cancelled: 'cancelled',
      queued: 'waiting',
      draft: 'gone',
    };
    const state = states[row.state] ?? 'under way';
    const fedMm = failed.find(({ runId }) => runId === id)?.mm ?? 0;
    const isLost = state === 'failed' || state === 'cancelled';
    const held = row.state === 'queued' ? startAnswer(shop, row) : undefined;
    const why = held?.ok === false ? held.trouble.text : (row.reason ?? '');
    return [
      id,
      {
        ...{ state, startedMs: row.startedMs, endedMs: row.endedMs, why },
        pieces: count(id, 'printed'),
        lostPieces: count(id, 'spoiled') + (isLost ? partlyPrinted(db, id) : 0),
        lostMm: isLost ? fedMm : 0,
      },
    ];
  });
}

const NOTHING: Omit<Happened, 'state'> = {
  startedMs: null,
  endedMs: null,
  why: '',
  pieces: 0,
  lostPieces: 0,
  lostMm: 0,
};

/** Of a run that broke off, the pieces that lay under the heads: begun, and lost. */
function partlyPrinted(db: Reader, runId: string): number {
  const row = db
    .select({ count: sql<number>`count(*)` })
    .from(runPieces)
    .innerJoin(runs, eq(runs.id, runPieces.runId))
    .innerJoin(pieces, eq(pieces.id, runPieces.pieceId))
    .where(
      and(
        eq(runPieces.runId, runId),
        ne(pieces.state, 'printed'),
        lt(runPieces.yMm, sql`coalesce(${runs.reachedMm}, 0)`),
      ),
    )
    .get();
  return row?.count ?? 0;
}

/** What became of the care of a plan; what its timer was to bring is known by its instant. */
function careThatHappened(db: Reader, events: readonly AwayEvent[]): [string, Happened][] {
  return events
    .filter(({ kind }) => kind !== 'run')
    .flatMap(({ id }): [string, Happened][] => {
      const row = careRow(db, id);
      if (!row) return [[id, { ...NOTHING, state: 'waiting' }]];
      const states: Partial<Record<typeof row.state, Happened['state']>> = {
        done: 'done',
        failed: 'failed',
        skipped: 'skipped',
        impossible: 'impossible',
        cancelled: 'cancelled',
        waiting: 'waiting',
      };
      const state = states[row.state] ?? 'under way';
      return [[id, { ...NOTHING, state, startedMs: row.startedMs, endedMs: row.endedMs, why: row.reason ?? '' }]];
    });
}

function careRow(db: Reader, id: string) {
  const own = db.select().from(careItems).where(eq(careItems.id, id)).get();
  if (own) return own;
  const at = id.lastIndexOf('@');
  if (at < 0) return undefined;
  const [of, key] = [id.slice(0, at), id.slice(at + 1)];
  const dueMs = Number(key);
  const which = Number.isFinite(dueMs)
    ? and(eq(careItems.timerId, of), eq(careItems.dueMs, dueMs))
    : and(eq(careItems.ruleId, of), eq(careItems.runId, key));
  return db.select().from(careItems).where(which).get();
}

/** What attempts that failed in the time away cost: media, ink and the machine's time. */
function lostMinor(shop: Shop, events: readonly AwayEvent[], row: AwayRow, untilMs: number): number {
  const ids = runIds(events);
  if (ids.length === 0) return 0;
  const { db } = shop;
  const rows = db
    .select({
      attempt: runAttempts,
      widthMm: runs.mediaWidthMm,
      perM2: stocks.pricePerM2Minor,
      config: printers.config,
    })
    .from(runAttempts)
    .innerJoin(runs, eq(runs.id, runAttempts.runId))
    .innerJoin(stocks, eq(stocks.id, runAttempts.stockId))
    .innerJoin(printers, eq(printers.id, runAttempts.printerId))
    .where(
      and(
        inArray(runAttempts.runId, ids),
        inArray(runAttempts.outcome, ['failed', 'cancelled']),
        gte(runAttempts.endedMs, row.fromMs),
        lt(runAttempts.endedMs, untilMs + 1),
      ),
    )
    .all();
  return rows.reduce((sum, { attempt, widthMm, perM2, config }) => {
    const fired = db
      .select({ channelId: inkLedger.channelId, ml: sql<number>`-sum(${inkLedger.ml})` })
      .from(inkLedger)
      .where(
        and(
          eq(inkLedger.printerId, attempt.printerId),
          inArray(
            inkLedger.channelId,
            config.channels.map(({ id }) => id),
          ),
          eq(inkLedger.runId, attempt.runId),
          eq(inkLedger.attempt, attempt.attempt),
        ),
      )
      .groupBy(inkLedger.channelId)
      .all();
    const cost = costOfRun({
      inkMl: Object.fromEntries(fired.map(({ channelId, ml }) => [channelId, ml])),
      pricePerMlMicro: Object.fromEntries(config.channels.map(({ id, pricePerMlMicro }) => [id, pricePerMlMicro])),
      ...{ fedMm: attempt.fedMm, mediaWidthMm: widthMm, mediaPerM2Minor: perM2 },
      timeMs: Math.max(0, (attempt.endedMs ?? 0) - (attempt.startedMs ?? attempt.endedMs ?? 0) - attempt.pausedMs),
      ...{ ratePerHourMinor: config.ratePerHourMinor, extraMinor: 0 },
    });
    return sum + cost.totalMinor;
  }, 0);
}

/** When printers stood in the time away, and why. */
function stopsOf(db: Reader, fromMs: number, toMs: number): MorningView['stops'] {
  return db
    .select()
    .from(printerSpells)
    .where(
      and(
        inArray(printerSpells.state, ['faulted', 'off']),
        gte(printerSpells.fromMs, fromMs),
        lt(printerSpells.fromMs, toMs),
      ),
    )
    .limit(200)
    .all()
    .map(({ printerId, fromMs: from, toMs: to, state, cause }) => ({
      ...{ printerId, fromMs: from, toMs: to },
      why: cause ?? state,
    }));
}

/** The printer whose heads to look at first, and why: a plot that waits, then one whose work or care failed, then the one that stood longest. */
function checkFirst(shop: Shop, notDone: readonly AwayEvent[]): MorningView['checkFirst'] {
  const nowMs = shop.clock.now();
  const views = printerViews(shop.db);
  const plot = views.find((printer) => printer.checkToRead !== null);
  if (plot) return { printerId: plot.id, name: plot.name, why: 'its check plot waits to be read' };
  const lost = notDone.find(({ kind }) => kind === 'run' || kind === 'purge' || kind === 'check');
  const failed = views.find(({ id }) => id === lost?.printerId);
  if (failed && lost) return { printerId: failed.id, name: failed.name, why: `${lost.what} was not done` };
  const idle = views.flatMap((printer) =>
    printer.config.channels.flatMap((channel) => {
      const fired = printer.firedMs[channel.id];
      if (fired === undefined) return [];
      return [{ printer, channel, share: (nowMs - fired) / (channel.idleLimitH * 3_600_000) }];
    }),
  );
  const [longest] = idle.sort((a, b) => b.share - a.share);
  if (!longest || longest.share < 0.5) return null;
  const { printer, channel, share } = longest;
  return {
    printerId: printer.id,
    name: printer.name,
    why: `${channel.name} has stood for ${String(Math.round(share * 100))} % of its limit`,
  };
}

/** How good the odds of the last times away have been. */
function record(db: Reader): MorningView['record'] {
  const said = pastAways(db, NIGHTS).flatMap(({ came, plan }) =>
    came === null || plan.odds === null ? [] : [{ p: plan.odds.chance, came }],
  );
  if (said.length === 0) return null;
  const { brier, reliability, skill } = calibrationOf(said);
  return {
    nights: said.length,
    said: said.reduce((sum, { p }) => sum + p, 0) / said.length,
    came: said.filter(({ came }) => came).length / said.length,
    ...{ brier, reliability, skill },
  };
}
