import { NOTHING_LEARNED } from '../../../core/estimate/learnedPrinter.ts';
import { type Valued, workValueMinor } from '../../../core/away/workValue.ts';
import type { NightOption, NightUnit } from '../../../core/night/nightUnits.ts';
import type { Fit } from '../../../core/routing/fitList.ts';
import { planRun, plannedWork } from '../../../core/schedule/planInput.ts';
import type { RunItem } from '../../../contract/api/floor.ts';
import type { KeptUnit } from '../../db/tables/awayTables.ts';
import { inArray, sql } from 'drizzle-orm';
import { jobs, pieces } from '../../db/tables/schema.ts';
import type { RunHow } from '../../ports/work.ts';
import type { Shop } from '../../shop.ts';
import { fitWork, fitsFor } from '../plan/fit.ts';
import type { FitAsk } from '../plan/fitWork.ts';
import type { Floor } from '../plan/plannedFloor.ts';
import { waitingGroups } from '../run/batches.ts';
import { fitAskOfRun } from '../run/rerouteRun.ts';
import { runRow } from '../run/runRows.ts';
import { shopSetup } from '../setup/shopSetup.ts';
import type { AwayOrder } from './awayOrder.ts';

/** More than this are not asked about on other printers: each is nested there. */
const MOST_FITS = 60;

export interface NightUnits {
  readonly units: readonly NightUnit[];
  readonly kept: readonly KeptUnit[];
}

/** Everything that waits or is queued, with the printers that can take it and what it would be there. */
export async function nightUnits(shop: Shop, floor: Floor, order: AwayOrder, how: RunHow): Promise<NightUnits> {
  const queued = floor.runs.filter(({ state }) => state === 'queued');
  const drafts = floor.runs.filter(
    ({ state, lengthMm, pieceCount }) => state === 'draft' && lengthMm > 0 && pieceCount > 0,
  );
  const groups = await waitingGroups(shop, how);
  const movable = queued.filter((run) => !isFixed(run)).slice(0, MOST_FITS);
  const asks: FitAsk[] = [
    ...movable.map((run) => fitAskOfRun(shop, runRow(shop.db, run.id))),
    ...groups.map((jobIds) => ({ work: fitWork(shop.db, jobIds) })),
  ];
  const fits = await fitsFor(shop, floor, asks, how);
  const others = new Map(movable.map((run, i) => [run.id, fits[i] ?? []]));
  const { marginShare = 0 } = shopSetup(shop.db, shop.clock.zone);
  const found = [
    ...queued.map((run) => runUnit(floor, order, run, 'queued', others.get(run.id) ?? [])),
    ...drafts.map((run) => runUnit(floor, order, run, 'draft', [])),
    ...groups.flatMap((jobIds, i) => jobsUnit(shop, floor, marginShare, jobIds, fits[movable.length + i] ?? [])),
  ];
  return { units: found.map(({ unit }) => unit), kept: found.map(({ kept }) => kept) };
}

interface Found {
  readonly unit: NightUnit;
  readonly kept: KeptUnit;
}

/** What keeps its printer and its place: a person has given it its time, or it belongs to another run. */
function isFixed({ fixedStartMs, pair, series, byHand }: RunItem): boolean {
  return fixedStartMs !== null || pair !== null || series !== null || byHand;
}

function runUnit(
  floor: Floor,
  { about }: AwayOrder,
  run: RunItem,
  kind: 'queued' | 'draft',
  fits: readonly Fit[],
): Found {
  const printer = floor.printers.find(({ id }) => id === run.printerId);
  const said = about.runs[run.id];
  const own = planRun({ ...run, state: 'queued' }, printer?.learned ?? NOTHING_LEARNED);
  const costMinor = said?.costMinor ?? 0;
  const options: NightOption[] = [
    { printerId: run.printerId, run: own, costMinor },
    ...fits.flatMap((fit) => (fit.can && fit.printerId !== run.printerId ? [optionOf(floor, own, fit)] : [])),
  ];
  const standsOn = kind === 'queued' ? run.printerId : null;
  return {
    unit: {
      ...{ id: run.id, name: run.name, pieces: run.pieceCount, options, standsOn, isFixed: isFixed(run) },
      valueMinor: said?.valueMinor ?? 0,
    },
    kept: { id: run.id, kind, ids: [run.id], standsOn },
  };
}

/** The same work as a run of another printer. */
function optionOf(
  floor: Floor,
  like: Parameters<typeof plannedWork>[0],
  fit: Extract<Fit, { can: true }>,
): NightOption {
  const { modeId, timeMs, fedMm, lengthMm, terms, mediaMinor, printerId } = fit;
  const printer = floor.printers.find(({ id }) => id === printerId);
  const channels = Object.keys(printer?.inkLeftMl ?? {});
  const inkMl = Object.fromEntries(Object.entries(like.inkMl ?? {}).filter(([id]) => channels.includes(id)));
  return {
    printerId,
    run: plannedWork({ ...like, modeId, estimateMs: timeMs, needMm: fedMm, outMm: lengthMm, inkMl }),
    costMinor: terms.wasteMinor + terms.inkMinor + terms.timeMinor + mediaMinor,
  };
}

function jobsUnit(
  shop: Shop,
  floor: Floor,
  marginShare: number,
  jobIds: readonly string[],
  fits: readonly Fit[],
): Found[] {
  const rows = shop.db
    .select()
    .from(jobs)
    .where(inArray(jobs.id, [...jobIds]))
    .all();
  const [first] = rows;
  const id = `jobs:${jobIds[0] ?? ''}`;
  if (!first) return [];
  const { stockId, modeId } = first.ticket.values;
  const stock = floor.stocks[stockId];
  const like = {
    ...{ id, stockId, modeId, estimateMs: 0, needMm: 0, outMm: 0 },
    byHand: stock?.form === 'garment',
    unattended: rows.every(({ ticket }) => ticket.values.unattended),
    leastWidthMm: stock?.form === 'garment' ? 0 : (stock?.widthMm ?? 0),
    dues: rows.flatMap(({ ticket: { values } }) =>
      values.dueMs === null ? [] : [{ dueMs: values.dueMs, latePerHMinor: values.latePerHMinor }],
    ),
  };
  const options = fits.flatMap((fit) => (fit.can ? [optionOf(floor, like, fit)] : []));
  if (options.length === 0) return [];
  const owed = owedOf(shop, rows);
  const valueMinor = workValueMinor({
    ...owed,
    costMinor: Math.min(...options.map(({ costMinor }) => costMinor)),
    marginShare,
  });
  const name = rows.length === 1 ? first.sourceName : `${first.sourceName} and ${String(rows.length - 1)} more`;
  return [
    {
      unit: {
        ...{ id, name, pieces: Math.max(1, owed.pieces), valueMinor, options, standsOn: null, isFixed: false },
      },
      kept: { id, kind: 'jobs', ids: jobIds, standsOn: null },
    },
  ];
}

/** What jobs still owe, and what that brings where they have a price: a job's pieces share it evenly. */
function owedOf(
  shop: Shop,
  rows: readonly (typeof jobs.$inferSelect)[],
): Pick<Valued, 'pieces' | 'priced' | 'pricesMinor'> {
  const counts = shop.db
    .select({ jobId: pieces.jobId, all: sql<number>`count(*)`, owed: sql<number>`sum(${pieces.state} = 'owed')` })
    .from(pieces)
    .where(
      inArray(
        pieces.jobId,
        rows.map(({ id }) => id),
      ),
    )
    .groupBy(pieces.jobId)
    .all();
  const prices = new Map(rows.map(({ id, priceMinor }) => [id, priceMinor]));
  const sum = { pieces: 0, priced: 0, pricesMinor: 0 };
  for (const { jobId, all, owed } of counts) {
    const priceMinor = prices.get(jobId) ?? null;
    sum.pieces += owed;
    if (priceMinor === null) continue;
    sum.priced += owed;
    sum.pricesMinor += (priceMinor * owed) / all;
  }
  return sum;
}
