import { eq, inArray, sql } from 'drizzle-orm';
import type { AwayChange } from '../../../core/away/awayChange.ts';
import type { AwayCare, AwayPrinter, AwayRun, AwayWorld, HolidayCare } from '../../../core/away/awayWorld.ts';
import { workValueMinor } from '../../../core/away/workValue.ts';
import type { PurgedPrinter } from '../../../core/care/plannedPurges.ts';
import { occurrencesAfter } from '../../../core/care/recurrence.ts';
import { inkAsItGoes, timeAsItGoes } from '../../../core/estimate/learnedPrinter.ts';
import { costOfRun } from '../../../core/estimate/money.ts';
import type { RunItem } from '../../../contract/api/floor.ts';
import { timers } from '../../db/tables/careTables.ts';
import { findPrinter } from '../../db/findRows.ts';
import { jobs, pieces, runPieces } from '../../db/tables/schema.ts';
import type { Shop } from '../../shop.ts';
import { careWork } from '../care/careWork.ts';
import { purgedPrinter } from '../care/plannedLines.ts';
import { holidayTest } from '../care/timers.ts';
import { readFloor } from '../plan/fit.ts';
import { type Floor, snapshotFor } from '../plan/plannedFloor.ts';
import { shopSetup } from '../setup/shopSetup.ts';
import type { AwayOrder } from './awayOrder.ts';
import { learnedChance } from './learnedChance.ts';

/** All that a plan of a time away and its odds are made from, at this moment. */
export function awayOrder(
  shop: Shop,
  period: AwayWorld['period'],
  changes: readonly AwayChange[] = [],
  floor: Floor = readFloor(shop),
): AwayOrder {
  return { floor, about: aboutAway(shop, period, floor), chance: learnedChance(shop, floor), changes };
}

/** The same for a plan without odds: what was learned over a year needn't be read for it. */
export function awayWorld(shop: Shop, period: AwayWorld['period'], floor: Floor): AwayWorld {
  return { ...aboutAway(shop, period, floor), floor: snapshotFor(floor) };
}

function aboutAway(shop: Shop, period: AwayWorld['period'], floor: Floor): AwayOrder['about'] {
  return {
    period,
    printers: Object.fromEntries(floor.printers.map((printer) => [printer.id, awayPrinter(shop, printer)])),
    runs: awayRuns(shop, floor),
    spools: Object.fromEntries(floor.spools.map(({ id, label, colour }) => [id, { label, colour }])),
    stocks: Object.fromEntries(Object.values(floor.stocks).map(({ id, name }) => [id, name])),
    holidays: holidayCare(shop, period),
  };
}

type Cared = Floor['printers'][number];

function awayPrinter(shop: Shop, { id, name, config, care, careRules }: Cared): AwayPrinter {
  const row = findPrinter(shop.db, id);
  const purged: PurgedPrinter = row ? purgedPrinter(shop, row, care) : { channels: [], care: {} };
  const drawn = new Map(config.channels.map((channel) => [channel.id, channel]));
  return {
    id,
    name,
    ratePerHourMinor: config.ratePerHourMinor,
    sources: config.sources.map((source) => ({ id: source.id, name: source.name })),
    channels: purged.channels.map((channel) => {
      const { name: of = channel.id, colour = '', tankMl = 0 } = drawn.get(channel.id) ?? {};
      return { ...channel, name: of, colour, tankMl };
    }),
    care: Object.fromEntries(
      care.map(({ id: careId, title, what }): [string, AwayCare] => [
        careId,
        { title, what: what.kind, ...(purged.care[careId] ?? { skippable: false, onlyNeeded: false }) },
      ]),
    ),
    rules: careRules.map((rule) => ({ id: rule.id, title: rule.title, what: rule.what.kind })),
  };
}

/** What is said of each run that could still be printed, drafts too, and what it is worth. */
function awayRuns(shop: Shop, floor: Floor): Record<string, AwayRun> {
  const { marginShare = 0 } = shopSetup(shop.db, shop.clock.zone);
  const open = floor.runs.filter(({ endedMs }) => endedMs === null);
  const priced = pricedPieces(shop, open);
  return Object.fromEntries(
    open.map((run): [string, AwayRun] => {
      const costMinor = costOf(floor, run);
      const { pieces: pricedCount = 0, minor: pricesMinor = 0 } = priced.get(run.id) ?? {};
      return [
        run.id,
        {
          ...{ name: run.name, pieces: run.pieceCount, jobs: run.jobNames, costMinor },
          valueMinor: workValueMinor({
            pieces: run.pieceCount,
            priced: pricedCount,
            pricesMinor,
            costMinor,
            marginShare,
          }),
          evenMl: run.evenMl,
        },
      ];
    }),
  );
}

/** Of each run, how many of its pieces have a price, and what they come to. */
function pricedPieces(shop: Shop, runs: readonly RunItem[]): Map<string, { pieces: number; minor: number }> {
  const rows = shop.db
    .select({
      runId: runPieces.runId,
      pieces: sql<number>`count(*)`,
      minor: sql<number>`sum(${jobs.priceMinor} * 1.0 / max(1, (select count(*) from ${pieces} p where p.job_id = ${jobs.id})))`,
    })
    .from(runPieces)
    .innerJoin(pieces, eq(pieces.id, runPieces.pieceId))
    .innerJoin(jobs, eq(jobs.id, pieces.jobId))
    .where(
      sql`${jobs.priceMinor} is not null and ${inArray(
        runPieces.runId,
        runs.map(({ id }) => id),
      )}`,
    )
    .groupBy(runPieces.runId)
    .all();
  return new Map(rows.map(({ runId, ...row }) => [runId, row]));
}

/** What a run will cost, as its estimate has it. */
export function costOf(floor: Floor, run: RunItem): number {
  const printer = floor.printers.find(({ id }) => id === run.printerId);
  const stock = floor.stocks[run.stockId];
  if (!printer || !stock) return 0;
  const { learned } = printer;
  return costOfRun({
    inkMl: inkAsItGoes(run, learned),
    pricePerMlMicro: Object.fromEntries(
      printer.config.channels.map(({ id, pricePerMlMicro }) => [id, pricePerMlMicro]),
    ),
    fedMm: run.needMm,
    mediaWidthMm: run.mediaWidthMm,
    mediaPerM2Minor: stock.pricePerM2Minor,
    timeMs: timeAsItGoes(run.estimateMs, learned, run.modeId, run.stockId),
    ratePerHourMinor: printer.config.ratePerHourMinor,
    extraMinor: 0,
  }).totalMinor;
}

/** What timers leave out since it falls on a holiday. */
function holidayCare(shop: Shop, { fromMs, toMs }: AwayWorld['period']): HolidayCare[] {
  const isHoliday = holidayTest(shop);
  return shop.db
    .select()
    .from(timers)
    .where(eq(timers.skipHolidays, true))
    .all()
    .flatMap((timer): HolidayCare[] => {
      const printer = findPrinter(shop.db, timer.printerId);
      if (!printer || timer.paused || timer.nextMs === null) return [];
      const { nextMs } = timer;
      const coming = [nextMs, ...occurrencesAfter(timer, shop.clock.zone, nextMs, { beforeMs: toMs, known: nextMs })];
      const { title } = careWork(shop.db, printer, timer.what);
      return coming
        .filter((atMs) => atMs >= fromMs && atMs < toMs && isHoliday(atMs))
        .map((atMs) => ({
          ...{ id: `${timer.id}@${String(atMs)}`, printerId: printer.id },
          ...{ title, what: timer.what.kind, atMs },
        }));
    });
}
