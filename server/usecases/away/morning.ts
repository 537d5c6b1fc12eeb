import { type SQL, and, asc, desc, eq, gte, inArray, lt, ne, sql } from 'drizzle-orm';
import type { MorningView } from '../../../contract/api/away.ts';
import { type AwayEvent } from '../../../core/away/awayEvents.ts';
import { wholeRunId } from '../../../core/away/awayChange.ts';
import { calibrationOf } from '../../../core/away/calibration.ts';
import { type Happened, morningLines, morningSums } from '../../../core/away/morning.ts';
import { careItems } from '../../db/tables/careTables.ts';
import type { Reader } from '../../db/open.ts';
import { printerViews } from '../../db/printerViews.ts';
import { pieceOutcomes, printerSpells } from '../../db/tables/records.ts';
import { pieces, runPieces, runs } from '../../db/tables/schema.ts';
import { printers } from '../../db/tables/floorTables.ts';
import type { Shop } from '../../shop.ts';
import { startAnswer } from '../plan/mayStart.ts';
import { awayView, mustFindAway } from './arm.ts';
import { pastAways } from './armed.ts';
import { type BrokenOff, attemptsBrokenOff } from './brokenOff.ts';

/** So many of the last times away say how good the odds have been. */
const NIGHTS = 30;
/** More changes of state than this in one night are not told of one printer. */
const MOST_STOPS = 500;

/** How a time away came out: planned against happened, what it cost, what to look at and print first. */
export function morningOf(shop: Shop, id: string): MorningView {
  const { db } = shop;
  const row = mustFindAway(db, id);
  const { events } = row.plan;
  const untilMs = Math.min(row.endedMs ?? shop.clock.now(), row.toMs);
  const brokenOff = attemptsBrokenOff(db, runIds(events), row.fromMs, untilMs);
  const happened = new Map([...runsThatHappened(shop, events, brokenOff), ...careThatHappened(db, events)]);
  const lines = morningLines(events, happened, row.toMs);
  return {
    ...awayView(row),
    lines: lines.map(({ planned, happened: came, ...line }) => ({
      ...line,
      planned: { ...planned },
      happened: came && { ...came },
    })),
    sums: { ...morningSums(lines), lostMinor: brokenOff.reduce((sum, { minor }) => sum + minor, 0) },
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
  brokenOff: readonly BrokenOff[],
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
    const fedMm = brokenOff.filter(({ runId }) => runId === id).reduce((sum, each) => sum + each.fedMm, 0);
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

/** When printers stood in the time away, and why; one that stood already when it began is among them. */
function stopsOf(db: Reader, fromMs: number, toMs: number): MorningView['stops'] {
  const all = db.select({ id: printers.id }).from(printers).orderBy(asc(printers.position)).all();
  return all.flatMap(({ id }) => {
    const of = (when: SQL | undefined) =>
      db
        .select()
        .from(printerSpells)
        .where(and(eq(printerSpells.printerId, id), when))
        .orderBy(desc(printerSpells.fromMs));
    const within = of(and(gte(printerSpells.fromMs, fromMs), lt(printerSpells.fromMs, toMs)))
      .limit(MOST_STOPS)
      .all();
    // A printer is in one state at a time: only the last one before can reach into it.
    const before = of(lt(printerSpells.fromMs, fromMs)).limit(1).all();
    return [...within, ...before]
      .filter(({ state, toMs: end }) => (state === 'faulted' || state === 'off') && (end === null || end > fromMs))
      .map((spell) => ({ printerId: id, fromMs: spell.fromMs, toMs: spell.toMs, why: spell.cause ?? spell.state }))
      .reverse();
  });
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
