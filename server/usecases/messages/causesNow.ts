import type { CauseKind } from '../../../core/messages/messageRules.ts';
import { awayEvents } from '../../../core/away/awayEvents.ts';
import { planAway } from '../../../core/away/awayWorld.ts';
import { alertsOf } from '../../../core/flow/alerts.ts';
import type { Shop } from '../../shop.ts';
import { armedAway, pastAways } from '../away/armed.ts';
import { plannedRunIds } from '../away/arm.ts';
import { awayWorld } from '../away/awayWorld.ts';
import { readFloor } from '../plan/fit.ts';
import type { Floor } from '../plan/plannedFloor.ts';
import { withHeld } from '../plan/printersNow.ts';

/** Something to be told of now. */
export interface CauseNow {
  readonly key: string;
  readonly kind: CauseKind;
  readonly text: string;
  readonly way: string;
  readonly printerId: string | null;
}

/** That a time away is over is news for so long (ms). */
const NEWS_MS = 12 * 3_600_000;
/** A run that would end less than this after the time away is no news yet: plans move by that much (ms). */
const LATE_MS = 10 * 60_000;

/** Everything that people may have to be told of now. What is an effect of something else that is told already is left out. */
export function causesNow(shop: Shop): CauseNow[] {
  const floor = readFloor(shop);
  const stops = stopsNow(shop, floor);
  return [
    ...stops,
    ...threatsNow(shop, floor, new Set(stops.flatMap(({ printerId }) => printerId ?? []))),
    ...finished(shop),
  ];
}

/** Faults, and printers that stop for somebody: as pages call them out. */
function stopsNow(shop: Shop, floor: Floor): CauseNow[] {
  return alertsOf(withHeld(shop, floor.printers), floor.runs).map(({ key, kind, text, way, printerId }) => ({
    key: `stop ${key}`,
    kind: kind === 'fault' ? 'fault' : 'stop',
    ...{ text, way, printerId },
  }));
}

/** What threatens an armed time away: a supply that ends earlier than was planned, a run that will not be printed any more. */
function threatsNow(shop: Shop, floor: Floor, stopped: ReadonlySet<string>): CauseNow[] {
  const armed = armedAway(shop.db);
  if (!armed) return [];
  const world = awayWorld(shop, { fromMs: armed.fromMs, toMs: armed.toMs }, floor);
  const planned = planAway(world);
  const events = awayEvents(world, planned);
  const wanted = new Set(plannedRunIds(armed));
  const open = new Set(floor.runs.filter(({ endedMs }) => endedMs === null).map(({ id }) => id));
  // What a printer that stands can't print is told with its fault.
  const lost = events.filter(
    ({ id, printerId, outcome, toMs }) =>
      wanted.has(id) && open.has(id) && !stopped.has(printerId) && (outcome !== 'done' || toMs > armed.toMs + LATE_MS),
  );
  const byPrinter = new Map<string, typeof lost>();
  for (const event of lost) byPrinter.set(event.printerId, [...(byPrinter.get(event.printerId) ?? []), event]);
  return [...byPrinter].map(([printerId, own]) => {
    const [first] = own;
    const name = world.printers[printerId]?.name ?? printerId;
    const why = first?.why ?? '';
    const more = own.length > 1 ? ` and ${String(own.length - 1)} more` : '';
    return {
      key: `plan ${armed.id} ${printerId}`,
      kind: first?.lacks == null ? 'at risk' : 'supply',
      text: `${name}: ${first?.what ?? 'a run'}${more} will not be printed as planned, ${why}`,
      way: 'Open the away plan to see what could be done.',
      printerId,
    };
  });
}

/** A time away that ended by itself lately, and how it came out. */
function finished(shop: Shop): CauseNow[] {
  const [last] = pastAways(shop.db, 1);
  const nowMs = shop.clock.now();
  if (last?.state !== 'ended' || last.seenMs !== null || (last.endedMs ?? 0) < nowMs - NEWS_MS) return [];
  const planned = plannedRunIds(last).length;
  return [
    {
      key: `finished ${last.id}`,
      kind: 'finished',
      text:
        last.came === true
          ? `The time away is over: ${planned === 1 ? 'its run is' : `all ${String(planned)} runs are`} printed`
          : 'The time away is over: not all of its runs are printed',
      way: 'Open the morning page.',
      printerId: null,
    },
  ];
}
