import { and, eq, inArray, isNotNull } from 'drizzle-orm';
import type { ArmAway, AwayNow, AwayView } from '../../../contract/api/away.ts';
import { namedPeriods } from '../../../core/away/awayPeriod.ts';
import { PROGRAM, type Actor } from '../../../core/events/actor.ts';
import { awayPeriods } from '../../db/tables/awayTables.ts';
import { pieceOutcomes } from '../../db/tables/records.ts';
import { runs } from '../../db/tables/schema.ts';
import type { Reader } from '../../db/open.ts';
import type { RunHow } from '../../ports/work.ts';
import { Refused, type Shop, type Work, newId, transact } from '../../shop.ts';
import { readFloor } from '../plan/fit.ts';
import { attendance } from '../setup/shopSetup.ts';
import { type AwayRow, armedAway, awayToLookAt, findAway } from './armed.ts';
import { USUAL_NIGHTS, oddsOfOrder } from './nightOdds.ts';
import { orderAt, planHash } from './simulateAway.ts';

/**
 * Arms a time away: lines keep their order, what needs a hand is held out while nobody is there, and the plan is kept to be compared
 * with what happens. Refused where the floor is no longer the one that the person saw, or where another is armed.
 */
export async function armAway(shop: Shop, ask: ArmAway, actor: Actor, how: RunHow): Promise<AwayView> {
  const period = { fromMs: ask.fromMs, toMs: ask.toMs };
  mustBeFree(shop.db);
  const { floor, order } = orderAt(shop, period);
  mustBeSame(ask.planHash, planHash(floor, period));
  const { events, figures } = await shop.work.run('away plan', order, how);
  const odds = await oddsOfOrder(shop, order, USUAL_NIGHTS, how);
  const id = newId('away');
  transact(shop, (work) => {
    mustBeFree(work.tx);
    // Working out the odds took a while.
    mustBeSame(ask.planHash, planHash(readFloor(shop, work.tx), period));
    work.tx
      .insert(awayPeriods)
      .values({
        ...{ id, ...period, state: 'armed', planHash: ask.planHash, plan: { events, figures, odds: odds.all } },
        ...{ armedMs: work.nowMs, armedBy: actor.name },
      })
      .run();
    const held = events.filter(({ kind, outcome }) => kind === 'run' && outcome === 'hand').length;
    work.note({
      kind: 'away.armed',
      subject: ['away', id],
      actor,
      data: { ...period, runs: figures.runs, held },
      undo: { label: 'Disarm', method: 'POST', path: `/api/away/${id}/disarm` },
    });
    work.touch({ type: 'away', id });
  });
  shop.wakeDispatcher();
  return awayView(mustFindAway(shop.db, id));
}

function mustBeFree(db: Reader): void {
  const other = armedAway(db);
  if (!other) return;
  throw new Refused(
    409,
    'already-armed',
    `A time away is armed already, by ${other.armedBy}.`,
    { id: other.id, fromMs: other.fromMs, toMs: other.toMs },
    'Disarm it first, or wait until it ends.',
  );
}

function mustBeSame(seen: string, now: string): void {
  if (seen === now) return;
  throw new Refused(
    409,
    'floor-changed',
    'The floor has changed since this plan was worked out.',
    undefined,
    'Look at the plan as it is now, and arm that.',
  );
}

/** A time away by its id. @throws Refused where there is none */
export function mustFindAway(db: Reader, id: string): AwayRow {
  const row = findAway(db, id);
  if (!row) throw new Refused(404, 'no-such-away', `There is no time away ${id}.`);
  return row;
}

/** A person has come back, or thinks better of it. */
export function disarmAway(shop: Shop, id: string, actor: Actor): AwayView {
  transact(shop, (work) => {
    const row = mustFindAway(work.tx, id);
    if (row.state !== 'armed') {
      throw new Refused(409, 'not-armed', `That time away is ${row.state} already.`, { state: row.state });
    }
    close(work, row, 'disarmed');
    work.note({ kind: 'away.disarmed', subject: ['away', id], actor, data: {} });
  });
  shop.wakeDispatcher();
  return awayView(mustFindAway(shop.db, id));
}

/** Ends a time away whose end has come; one that a crash left behind is among them. */
export function endDueAway(shop: Shop): void {
  const due = armedAway(shop.db);
  if (!due || due.toMs > shop.clock.now()) return;
  transact(shop, (work) => {
    const row = findAway(work.tx, due.id);
    if (row?.state !== 'armed') return;
    const { printed, planned } = close(work, row, 'ended');
    work.note({ kind: 'away.ended', subject: ['away', row.id], actor: PROGRAM, data: { printed, planned } });
  });
  shop.wakeDispatcher();
}

/** Writes down how it came out. One that is disarmed before its end says nothing of its odds. */
function close({ tx, nowMs, touch }: Work, row: AwayRow, state: 'ended' | 'disarmed') {
  const planned = plannedRunIds(row);
  const printed = printedRuns(tx, planned, row.toMs);
  const came = state === 'ended' && planned.length > 0 ? printed === planned.length : null;
  tx.update(awayPeriods)
    .set({ state, endedMs: Math.min(nowMs, row.toMs), came })
    .where(eq(awayPeriods.id, row.id))
    .run();
  touch({ type: 'away', id: row.id });
  return { printed, planned: planned.length };
}

/** Runs that the plan said would be done. */
export function plannedRunIds({ plan }: Pick<AwayRow, 'plan'>): string[] {
  return plan.events.filter(({ kind, outcome }) => kind === 'run' && outcome === 'done').map(({ id }) => id);
}

/** Of these runs, how many were printed by an instant, with no piece of them found spoiled. */
function printedRuns(tx: Reader, runIds: readonly string[], byMs: number): number {
  if (runIds.length === 0) return 0;
  const ended = tx
    .select({ id: runs.id, endedMs: runs.endedMs })
    .from(runs)
    .where(and(inArray(runs.id, [...runIds]), eq(runs.state, 'printed'), isNotNull(runs.endedMs)))
    .all();
  const spoiled = new Set(
    tx
      .selectDistinct({ runId: pieceOutcomes.runId })
      .from(pieceOutcomes)
      .where(and(inArray(pieceOutcomes.runId, [...runIds]), eq(pieceOutcomes.outcome, 'spoiled')))
      .all()
      .map(({ runId }) => runId),
  );
  return ended.filter(({ id, endedMs }) => (endedMs ?? Infinity) <= byMs && !spoiled.has(id)).length;
}

/** A time away as pages see it. */
export function awayView({ plan, planHash: _hash, ...row }: AwayRow): AwayView {
  const { events, figures, odds } = plan;
  return { ...row, figures, events: [...events], odds };
}

/** What there is to leave for, what is armed, and what to look at in the morning. */
export function awayNow(shop: Shop): AwayNow {
  const nowMs = shop.clock.now();
  const armed = armedAway(shop.db);
  return {
    suggested: namedPeriods(attendance(shop).spans, nowMs).map((period) => ({
      ...period,
      fromMs: Math.round(period.fromMs),
      toMs: Math.round(period.toMs),
    })),
    armed: armed ? awayView(armed) : null,
    toLookAt: awayToLookAt(shop.db, nowMs)?.id ?? null,
  };
}

/** A person has looked at how it came out. */
export function seenAway(shop: Shop, id: string): void {
  transact(shop, (work) => {
    const row = mustFindAway(work.tx, id);
    if (row.state === 'armed') {
      throw new Refused(409, 'not-over', 'That time away is not over yet.', undefined, 'Disarm it if you are back.');
    }
    work.tx.update(awayPeriods).set({ seenMs: work.nowMs }).where(eq(awayPeriods.id, id)).run();
    work.touch({ type: 'away', id });
  });
}
