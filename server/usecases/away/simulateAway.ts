import { createHash } from 'node:crypto';
import type { AwayAsk, AwaySimulation } from '../../../contract/api/away.ts';
import { type PeriodRefusal, checkPeriod } from '../../../core/away/awayPeriod.ts';
import type { AwayChange, AwayMove } from '../../../core/away/awayChange.ts';
import type { RunHow } from '../../ports/work.ts';
import { Refused, type Shop } from '../../shop.ts';
import { fitsFor, readFloor } from '../plan/fit.ts';
import { fitAskOfRun } from '../run/rerouteRun.ts';
import { runRow } from '../run/runRows.ts';
import type { Floor } from '../plan/plannedFloor.ts';
import type { AwayOrder } from './awayOrder.ts';
import type { AwayPlanAnswer, NightsAnswer } from './awayWork.ts';
import { awayOrder } from './awayWorld.ts';
import { listPage } from './listPage.ts';

const NIGHTS = 2000;
/** The same question has the same answer for everybody who asks. */
const SEED = 1;
/** Nights are simulated in so many parts, one for each core. */
const PARTS = 2;
const HOUR = 3_600_000;
/** So many runs are asked about on other printers: each is nested there. */
const MOST_MOVED = 3;

/** The plan of a time away with its odds, as if the changes were done. Nothing is kept. */
export async function simulateAway(shop: Shop, ask: AwayAsk, how: RunHow) {
  const { fromMs, toMs, nights = NIGHTS, seed = SEED, changes = [] } = ask;
  const period = { fromMs, toMs };
  const floor = readFloor(shop);
  mustBePeriod(period, floor.nowMs);
  mustKnow(floor, changes);
  const asked = awayOrder(shop, period, changes, floor);
  const first = await shop.work.run('away plan', asked, how);
  const moves = await movesFor(shop, floor, first, how);
  const order = moves.length === 0 ? asked : { ...asked, about: { ...asked.about, moves } };
  const { wanted: _wanted, ...plan } = moves.length === 0 ? first : await shop.work.run('away plan', order, how);
  const odds = await oddsOfOrder(shop, order, { nights, seed }, how);
  const followed =
    nights > 0 && plan.before.some(({ change }) => change !== null)
      ? shop.work.follow(
          'What would raise the odds',
          (drivers) => shop.work.run('away drivers', { order, seed }, { ...drivers, priority: 'whenever' }),
          (error) => ({ code: 'failed', message: error instanceof Error ? error.message : 'It failed.' }),
        )
      : undefined;
  // Nobody may ask for it: that it failed is no fault of this request.
  followed?.answer.catch(() => undefined);
  return {
    ...period,
    planHash: planHash(floor, period),
    currency: floor.currency,
    ...plan,
    odds,
    driversTaskId: followed?.publish((drivers) => drivers) ?? null,
  };
}

/** Of the first runs that the plan does not print, the other printers that could take them. */
async function movesFor(shop: Shop, floor: Floor, { events }: AwayPlanAnswer, how: RunHow): Promise<AwayMove[]> {
  const left = events
    .filter(({ kind, outcome }) => kind === 'run' && (outcome === 'hand' || outcome === 'impossible'))
    .flatMap(({ id }) => floor.runs.find((run) => run.id === id && run.state === 'queued') ?? [])
    .filter(
      ({ pair, series, byHand, fixedStartMs }) => pair === null && series === null && !byHand && fixedStartMs === null,
    )
    .slice(0, MOST_MOVED);
  const asks = left.map(({ id }) => fitAskOfRun(shop, runRow(shop.db, id)));
  const fits = await fitsFor(shop, floor, asks, how);
  return left.flatMap((run, i) =>
    (fits[i] ?? []).flatMap((fit) =>
      fit.can && fit.printerId !== run.printerId
        ? [
            {
              ...{ runId: run.id, printerId: fit.printerId, modeId: fit.modeId },
              ...{ estimateMs: fit.timeMs, needMm: fit.fedMm, outMm: fit.lengthMm },
            },
          ]
        : [],
    ),
  );
}

/** The plan of a time away as one page for paper or a phone. */
export async function awayList(
  shop: Shop,
  period: { readonly fromMs: number; readonly toMs: number },
  how: RunHow,
  link: string | null = null,
): Promise<string> {
  const floor = readFloor(shop);
  mustBePeriod(period, floor.nowMs);
  const order = awayOrder(shop, period, [], floor);
  const { wanted: _wanted, ...plan } = await shop.work.run('away plan', order, how);
  const odds = await oddsOfOrder(shop, order, { nights: NIGHTS, seed: SEED }, how);
  return listPage({
    ...{ shopName: 'Yellow Spool', zone: shop.clock.zone, link },
    simulation: { ...period, ...plan, odds, currency: floor.currency },
    printers: Object.fromEntries(floor.printers.map(({ id, name }) => [id, name])),
  });
}

/** The odds of an order, its nights shared out among the workers. */
export async function oddsOfOrder(
  shop: Shop,
  order: AwayOrder,
  { nights, seed }: { readonly nights: number; readonly seed: number },
  how: RunHow,
): Promise<AwaySimulation['odds']> {
  if (nights === 0) return { nights, all: null, byRun: {}, worth: null };
  const size = Math.ceil(nights / PARTS);
  const parts = await Promise.all(
    Array.from({ length: PARTS }, (_, i) => ({ from: i * size, count: Math.min(size, nights - i * size) }))
      .filter(({ count }) => count > 0)
      .map((part) => shop.work.run('away nights', { order, seed, ...part }, how)),
  );
  return joined(parts);
}

function joined(parts: readonly NightsAnswer[]): AwaySimulation['odds'] {
  const nights = parts.reduce((sum, part) => sum + part.nights, 0);
  const odds = (count: number) => {
    const chance = count / nights;
    return { chance, error: Math.sqrt((chance * (1 - chance)) / nights) };
  };
  const total = (of: (part: NightsAnswer) => number): number => parts.reduce((sum, part) => sum + of(part), 0);
  const worth = parts.flatMap((part) => part.worth).sort((a, b) => a - b);
  const at = (share: number): number => worth[Math.min(worth.length - 1, Math.floor(share * worth.length))] ?? 0;
  const ids = Object.keys(parts[0]?.byRun ?? {});
  return {
    nights,
    // A plan in which nothing is printed has nothing to come true.
    all: ids.length === 0 ? null : odds(total(({ all }) => all)),
    byRun: Object.fromEntries(ids.map((id) => [id, odds(total(({ byRun }) => byRun[id] ?? 0))])),
    worth: { meanMinor: worth.reduce((sum, each) => sum + each, 0) / nights, lowMinor: at(0.05), highMinor: at(0.95) },
  };
}

/** @throws Refused where nothing can be planned for such a time */
export function mustBePeriod(period: { readonly fromMs: number; readonly toMs: number }, nowMs: number): void {
  const wrong = checkPeriod(period, nowMs);
  if (!wrong) return;
  throw new Refused(422, `away-${wrong.code}`, refusalText(wrong), { ...period }, 'Choose another time.');
}

function refusalText(wrong: PeriodRefusal): string {
  switch (wrong.code) {
    case 'backwards':
      return 'A time away ends after it begins.';
    case 'past':
      return 'That time is over.';
    case 'too-far':
      return `Timers and hours are planned ${String(wrong.mostMs / HOUR / 24)} days ahead; that time ends later.`;
  }
}

/** @throws Refused where a change names what is not on the floor */
function mustKnow(floor: Floor, changes: readonly AwayChange[]): void {
  for (const change of changes) {
    const lacks = lacking(floor, change);
    if (lacks === undefined) continue;
    throw new Refused(
      409,
      'change-gone',
      `${lacks} is no longer there as the change has it.`,
      undefined,
      'Work it out again from how the floor is now.',
    );
  }
}

function lacking(floor: Floor, change: AwayChange): string | undefined {
  const printer = 'printerId' in change ? floor.printers.find(({ id }) => id === change.printerId) : undefined;
  if ('printerId' in change && !printer) return `The printer ${change.printerId}`;
  if ('runId' in change && !floor.runs.some(({ id, state }) => id === change.runId && state === 'queued')) {
    return `The run ${change.runId}`;
  }
  switch (change.kind) {
    case 'load':
      if (!floor.spools.some(({ id, printerId }) => id === change.spoolId && printerId === null)) {
        return `The spool ${change.spoolId}`;
      }
      return printer?.config.sources.some(({ id }) => id === change.sourceId) === true
        ? undefined
        : `The source ${change.sourceId}`;
    case 'add':
      return floor.spools.some(({ id }) => id === change.spoolId) ? undefined : `The spool ${change.spoolId}`;
    case 'fill':
      return printer?.config.channels.some(({ id }) => id === change.channelId) === true
        ? undefined
        : `The channel ${change.channelId}`;
    case 'order': {
      const queued = floor.runs.filter((run) => run.printerId === change.printerId && run.state === 'queued');
      const same = queued.length === change.runIds.length && queued.every(({ id }) => change.runIds.includes(id));
      return same ? undefined : 'The line';
    }
    default:
      return undefined;
  }
}

/**
 * What a plan depends on that people and printers change, as one word: lines and their order, what is loaded, who stands, what timers
 * bring. Not how far a run is, which changes with every second.
 */
export function planHash(floor: Floor, period: { readonly fromMs: number; readonly toMs: number }): string {
  const open = floor.runs.filter(({ state, endedMs }) => state !== 'draft' && endedMs === null);
  const facts = {
    span: [period.fromMs, period.toMs],
    printers: floor.printers.map(({ id, state, spools, care, unfit }) => ({
      ...{ id, unfit, stands: state === 'off' || state === 'faulted' },
      spools: spools.map((spool) => [spool.id, spool.sourceId, spool.stockId, spool.widthMm]),
      timers: care
        .filter(({ fromMs, timerId }) => timerId !== null && fromMs >= period.fromMs && fromMs < period.toMs)
        .map((each) => [each.id, each.fedMm, each.stockId]),
      runs: open
        .filter(({ printerId }) => printerId === id)
        .map(({ id: runId, state: runState, estimateMs, fixedStartMs, needMm }) =>
          // A run that is sent, printing or paused is on the printer: which of these it is changes by itself.
          [runId, runState === 'queued', estimateMs, fixedStartMs, needMm],
        ),
    })),
  };
  return createHash('sha256').update(JSON.stringify(facts)).digest('hex').slice(0, 24);
}

/** The plan of a time away as it is now, without changes. */
export function planNow(
  shop: Shop,
  period: { readonly fromMs: number; readonly toMs: number },
  how: RunHow,
): { readonly floor: Floor; readonly order: AwayOrder; readonly plan: Promise<AwayPlanAnswer> } {
  const floor = readFloor(shop);
  const order = awayOrder(shop, period, [], floor);
  return { floor, order, plan: shop.work.run('away plan', order, how) };
}
