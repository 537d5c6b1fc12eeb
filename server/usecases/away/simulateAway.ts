import { createHash } from 'node:crypto';
import type { AwayAsk } from '../../../contract/api/away.ts';
import type { AwayChange, AwayMove } from '../../../core/away/awayChange.ts';
import type { RunHow } from '../../ports/work.ts';
import type { Shop } from '../../shop.ts';
import { fitsFor, readFloor } from '../plan/fit.ts';
import { fitAskOfRun } from '../run/rerouteRun.ts';
import { runRow } from '../run/runRows.ts';
import type { Floor } from '../plan/plannedFloor.ts';
import type { AwayOrder } from './awayOrder.ts';
import { mustBePeriod, mustFit } from './awayRefusals.ts';
import type { AwayPlanAnswer } from './awayWork.ts';
import { awayOrder } from './awayWorld.ts';
import { listPage } from './listPage.ts';
import { USUAL_NIGHTS, oddsOfOrder } from './nightOdds.ts';

type AwayPeriod = AwayOrder['about']['period'];

/** So many runs are asked about on other printers: each is nested there. */
const MOST_MOVED = 3;

/**
 * A time away as it is asked about: the floor as it is now, and all that the workers need.
 * @throws Refused where nothing can be planned for such a time, or a change can't be
 */
export function orderAt(
  shop: Shop,
  period: AwayPeriod,
  changes: readonly AwayChange[] = [],
): { readonly floor: Floor; readonly order: AwayOrder } {
  const floor = readFloor(shop);
  mustBePeriod(period, floor.nowMs);
  mustFit(floor, changes);
  return { floor, order: awayOrder(shop, period, changes, floor) };
}

/** The plan of a time away with its odds, as if the changes were done. Nothing is kept. */
export async function simulateAway(shop: Shop, ask: AwayAsk, how: RunHow) {
  const { fromMs, toMs, nights = USUAL_NIGHTS.nights, seed = USUAL_NIGHTS.seed, changes = [] } = ask;
  const period = { fromMs, toMs };
  const { floor, order: asked } = orderAt(shop, period, changes);
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
  period: AwayPeriod,
  how: RunHow,
  link: string | null = null,
): Promise<string> {
  const { floor, order } = orderAt(shop, period);
  const { events, before, figures } = await shop.work.run('away plan', order, how);
  const odds = await oddsOfOrder(shop, order, USUAL_NIGHTS, how);
  return listPage({
    ...{ shopName: 'Yellow Spool', zone: shop.clock.zone, link },
    simulation: { ...period, events, before, figures, odds, currency: floor.currency },
    printers: Object.fromEntries(floor.printers.map(({ id, name }) => [id, name])),
  });
}

/**
 * What a plan depends on that people and printers change, as one word: lines and their order, what is loaded, who stands, what timers
 * bring. Not how far a run is, which changes with every second, nor how a printer stands that has nothing to do in that time:
 * only what it holds, since that is not on the rack.
 */
export function planHash(floor: Floor, period: AwayPeriod): string {
  const open = floor.runs.filter(({ state, endedMs }) => state !== 'draft' && endedMs === null);
  const facts = {
    span: [period.fromMs, period.toMs],
    printers: floor.printers.map(({ id, state, spools, care, unfit }) => {
      const timers = care.filter(
        ({ fromMs, timerId }) => timerId !== null && fromMs >= period.fromMs && fromMs < period.toMs,
      );
      const own = open.filter(({ printerId }) => printerId === id);
      const holds = spools.map((spool) => [spool.id, spool.sourceId, spool.stockId, spool.widthMm]);
      if (own.length === 0 && timers.length === 0) return { id, spools: holds };
      return {
        ...{ id, unfit, stands: state === 'off' || state === 'faulted' },
        spools: holds,
        timers: timers.map((each) => [each.id, each.fedMm, each.stockId]),
        runs: own.map(({ id: runId, state: runState, estimateMs, fixedStartMs, needMm }) =>
          // A run that is sent, printing or paused is on the printer: which of these it is changes by itself.
          [runId, runState === 'queued', estimateMs, fixedStartMs, needMm],
        ),
      };
    }),
  };
  return createHash('sha256').update(JSON.stringify(facts)).digest('hex').slice(0, 24);
}
