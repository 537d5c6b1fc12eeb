import { type SQL, and, eq } from 'drizzle-orm';
import type { PaceQuery } from '../../../contract/api/pace/pace.ts';
import type { factParts, facts } from '../../db/tables/factTables.ts';

/** What figures may be narrowed to. */
export type PaceFilter = Pick<PaceQuery, 'printerId' | 'stockId' | 'queueId' | 'modeId' | 'customer'>;

/** Only what belongs to the printer, stock, queue, mode and customer that were asked for. */
export function narrowedTo(table: typeof facts | typeof factParts, filter: PaceFilter): SQL | undefined {
  const { printerId, stockId, queueId, modeId, customer } = filter;
  return and(
    printerId === undefined ? undefined : eq(table.printerId, printerId),
    stockId === undefined ? undefined : eq(table.stockId, stockId),
    queueId === undefined ? undefined : eq(table.queueId, queueId),
    modeId === undefined ? undefined : eq(table.modeId, modeId),
    customer === undefined ? undefined : eq(table.customer, customer),
  );
}
