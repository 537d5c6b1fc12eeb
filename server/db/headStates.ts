import { and, desc, eq, isNotNull, sql } from 'drizzle-orm';
import type { FaultsByChannel } from '../../core/heads/printerHeads.ts';
import { channelHeads, nozzleChecks } from './tables/headTables.ts';
import type { Reader } from './open.ts';
import { prepared } from './prepared.ts';

const faultsOfPrinter = prepared((db) =>
  db
    .select({ channelId: channelHeads.channelId, faults: channelHeads.faults })
    .from(channelHeads)
    .where(and(eq(channelHeads.printerId, sql.placeholder('printerId')), isNotNull(channelHeads.faults)))
    .prepare(),
);

const latestCheck = prepared((db) =>
  db
    .select({ id: nozzleChecks.id, readMs: nozzleChecks.readMs })
    .from(nozzleChecks)
    .where(eq(nozzleChecks.printerId, sql.placeholder('printerId')))
    .orderBy(desc(nozzleChecks.printedMs), desc(nozzleChecks.seq))
    .limit(1)
    .prepare(),
);

/** What is wrong with the nozzles of a printer, by channel, as it was last read; a channel that was never read is left out. */
export function faultsOf(db: Reader, printerId: string): FaultsByChannel {
  const rows = faultsOfPrinter(db).all({ printerId });
  return Object.fromEntries(rows.flatMap(({ channelId, faults }) => (faults ? [[channelId, faults]] : [])));
}

/** The check plot of a printer that waits to be read: its latest, if nobody has read that. */
export function checkToRead(db: Reader, printerId: string): string | null {
  const latest = latestCheck(db).get({ printerId });
  return latest?.readMs === null ? latest.id : null;
}
