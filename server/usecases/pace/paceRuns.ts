import { and, desc, eq, gte, inArray, lt, or } from 'drizzle-orm';
import type { PaceRun, PaceRuns, PaceRunsQuery } from '../../../contract/api/pace/pace.ts';
import { toMinor } from '../../../core/estimate/money.ts';
import { runName } from '../../../core/flow/runName.ts';
import { NL_PER_ML } from '../../../core/pace/quantities.ts';
import { facts } from '../../db/tables/factTables.ts';
import { runAttempts } from '../../db/tables/records.ts';
import { runs } from '../../db/tables/schema.ts';
import { printers, stocks } from '../../db/tables/floorTables.ts';
import { namesOf } from '../../db/names.ts';
import type { Shop } from '../../shop.ts';
import { narrowedTo } from './narrowed.ts';

type FactRow = typeof facts.$inferSelect;

const PAGE = 100;

/** Attempts that ended in a period, the latest first, each with what it brought: what a figure is made of. */
export function paceRuns(shop: Shop, query: PaceRunsQuery): PaceRuns {
  const { fromMs, toMs, customer, before } = query;
  const [beforeMs, beforeId] = (before ?? '').split(' ');
  const which = and(
    eq(facts.kind, 'attempt'),
    gte(facts.toMs, fromMs),
    lt(facts.toMs, toMs),
    narrowedTo(facts, query),
    beforeId === undefined
      ? undefined
      : or(lt(facts.toMs, Number(beforeMs)), and(eq(facts.toMs, Number(beforeMs)), lt(facts.source, beforeId))),
  );
  const page = shop.db
    .selectDistinct({ source: facts.source, toMs: facts.toMs })
    .from(facts)
    .where(which)
    .orderBy(desc(facts.toMs), desc(facts.source))
    .limit(PAGE)
    .all();
  const sources = page.map(({ source }) => source);
  const rows = shop.db
    .select()
    .from(facts)
    .where(and(inArray(facts.source, sources), customer === undefined ? undefined : eq(facts.customer, customer)))
    .all();
  const shown = sources.map((source) => rows.filter((row) => row.source === source));
  const ids = [...new Set(shown.flatMap(([row]) => (row ? [row.runId] : [])))];
  const numbers = new Map(
    shop.db
      .select({ id: runs.id, number: runs.number })
      .from(runs)
      .where(inArray(runs.id, ids))
      .all()
      .map(({ id, number }) => [id, number]),
  );
  const outcomes = new Map(
    shop.db
      .select({ runId: runAttempts.runId, attempt: runAttempts.attempt, outcome: runAttempts.outcome })
      .from(runAttempts)
      .where(inArray(runAttempts.runId, ids))
      .all()
      .map(({ runId, attempt, outcome }) => [`${runId}/${String(attempt)}`, outcome]),
  );
  const printerNames = namesOf(shop.db, printers);
  const stockNames = namesOf(shop.db, stocks);
  const last = page.at(-1);
  return {
    currency: shop.currency(),
    runs: shown.flatMap((own): PaceRun[] => {
      const [row] = own;
      if (!row) return [];
      const sum = (of: (each: FactRow) => number): number => own.reduce((all, each) => all + of(each), 0);
      const [, , attempt] = row.source.split('/');
      return [
        {
          runId: row.runId,
          name: runName(numbers.get(row.runId) ?? 0),
          printerName: printerNames.get(row.printerId) ?? row.printerId,
          stockName: stockNames.get(row.stockId) ?? row.stockId,
          endedMs: row.toMs,
          outcome: outcomes.get(`${row.runId}/${attempt ?? ''}`) ?? '',
          runMs: sum((each) => each.runMs),
          estimateMs: sum((each) => each.estimateMs),
          goodM2: sum((each) => each.goodMm2) / 1e6,
          fedM2: sum((each) => each.fedMm2) / 1e6,
          inkMl: sum((each) => each.workNl) / NL_PER_ML,
          costMinor: toMinor(sum((each) => each.costMicro)),
          pieces: sum((each) => each.pieces),
        },
      ];
    }),
    before: page.length === PAGE && last ? `${String(last.toMs)} ${last.source}` : null,
  };
}
