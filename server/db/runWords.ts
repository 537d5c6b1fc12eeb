import { findPrinter } from './findRows.ts';
import { tz } from '@date-fns/tz';
import { format } from 'date-fns';
import { eq, inArray } from 'drizzle-orm';
import type { Reader } from './open.ts';
import { jobs, type runs, settings } from './tables/schema.ts';
import { stocks } from './tables/floorTables.ts';

type RunRow = typeof runs.$inferSelect;

/** What slug lines and codes of a run can say. The id is what a scanner finds it by. */
export function runWordsOf(db: Reader, run: RunRow): Record<string, string> {
  const printer = findPrinter(db, run.printerId);
  const stock = db.select().from(stocks).where(eq(stocks.id, run.ticket.stockId)).get();
  const zone = db.select().from(settings).where(eq(settings.key, 'zone')).get();
  const mode = printer?.config.modes.find((each) => each.id === run.ticket.modeId);
  return {
    id: run.id,
    run: `Run ${String(run.number)}`,
    date: format(run.createdMs, 'd MMM yyyy', { in: tz((zone?.value as string | undefined) ?? 'UTC') }),
    printer: printer?.name ?? '',
    mode: mode?.name ?? '',
    stock: stock?.name ?? '',
    segment: run.seriesNo === null ? '' : `${String(run.seriesNo)}/${String(run.seriesOf)}`,
  };
}

/** What labels can say of jobs, by their id. */
export function jobWordsOf(db: Reader, jobIds: readonly string[]): Record<string, Record<string, string>> {
  const rows = db
    .select({ id: jobs.id, sourceName: jobs.sourceName, ticket: jobs.ticket })
    .from(jobs)
    .where(inArray(jobs.id, [...jobIds]))
    .all();
  return Object.fromEntries(
    rows.map(({ id, sourceName, ticket: { values } }) => [
      id,
      {
        job: sourceName.replace(/\.[^.]+$/, ''),
        order: values.orderNo ?? '',
        customer: values.customer ?? '',
      },
    ]),
  );
}
