import { inkSums, spoolSums } from './tables/records.ts';
import { type Placeholder, type SQL, and, asc, desc, eq, inArray, isNotNull, sql } from 'drizzle-orm';
import { neededMm } from '../../core/stock/need.ts';
import { exercisedMs } from './exercised.ts';
import { checkToRead, faultsOf } from './headStates.ts';
import { unfitModes } from '../../core/heads/printerHeads.ts';
import { feedingOf } from './feeding.ts';
import { prepared } from './prepared.ts';
import type { PrinterView, SpoolView } from '../../contract/api/floor.ts';
import { learnedOf } from './learnedPrinters.ts';
import type { Reader } from './open.ts';
import { runs } from './tables/schema.ts';
import { printers, spools, stocks } from './tables/floorTables.ts';

/** What is left on the spools that a condition picks, the gone ones left out. */
const spoolQuery = (which?: (placeholder: Placeholder) => SQL) =>
  prepared((db) =>
    db
      .select({
        spool: spools,
        stock: stocks,
        booked: sql<number>`coalesce((select mm from spool_sums s where s.spool_id = ${spools.id}), 0)`,
        received: sql<number>`coalesce((select sum(mm) from spool_ledger l where l.spool_id = ${spools.id} and l.kind = 'received'), 0)`,
        feeding: sql<number>`coalesce((select sum(max(0, r.fed_mm - r.booked_mm)) from runs r where r.spool_id = ${spools.id} and r.state in ('sent', 'printing', 'paused') and coalesce(json_extract(r.side, '$.side'), 'front') = 'front'), 0)`,
      })
      .from(spools)
      .innerJoin(stocks, eq(stocks.id, spools.stockId))
      .where(and(eq(spools.gone, false), which?.(sql.placeholder('id'))))
      .orderBy(asc(spools.label))
      .prepare(),
  );
const everySpool = spoolQuery();
const spoolById = spoolQuery((id) => eq(spools.id, id));
const spoolsOfPrinter = spoolQuery((id) => eq(spools.printerId, id));

/** What is left on a spool: its ledger, less what a run on the printer has fed and not booked yet. */
export function spoolViews(
  db: Reader,
  only: { readonly id: string } | { readonly printerId: string } | null = null,
): SpoolView[] {
  const rows =
    only === null
      ? everySpool(db).all()
      : 'id' in only
        ? spoolById(db).all({ id: only.id })
        : spoolsOfPrinter(db).all({ id: only.printerId });
  const taken = takenByRuns(db);
  return rows.map(({ spool, stock, booked, received, feeding }) => ({
    id: spool.id,
    takenMm: taken.get(spool.id) ?? 0,
    label: spool.label,
    lot: spool.lot,
    stockId: stock.id,
    stockName: stock.name,
    colour: stock.colour,
    widthMm: spool.widthMm ?? stock.widthMm,
    kind: spool.kind,
    sheetMm: stock.sheetMm,
    place: spool.place,
    takeUp: spool.takeUp,
    thicknessMm: stock.thicknessMm,
    leaderMm: stock.form === 'roll' ? stock.leaderMm : 0,
    coreMm: stock.coreMm,
    receivedMm: received,
    leftMm: booked - feeding,
    printerId: spool.printerId,
    sourceId: spool.sourceId,
  }));
}

/** What the runs on the printers have not fed yet, by the spool that they are fed from (mm). */
function takenByRuns(db: Reader): Map<string, number> {
  const taken = new Map<string, number>();
  const feeding = feedingOf(db);
  for (const run of runsOnPrinters(db).all()) {
    if (run.spoolId === null) continue;
    const mm = Math.max(0, neededMm(feeding(run)) - Math.max(run.fedMm ?? 0, run.bookedMm));
    taken.set(run.spoolId, (taken.get(run.spoolId) ?? 0) + mm);
  }
  return taken;
}

const runsOnPrinters = prepared((db) =>
  db
    .select()
    .from(runs)
    .where(inArray(runs.state, ['sent', 'printing', 'paused']))
    .prepare(),
);

/** What the ledger says is left on a spool (mm), by its kept sum. */
export function spoolLeftMm(db: Reader, spoolId: string): number {
  return db.select({ mm: spoolSums.mm }).from(spoolSums).where(eq(spoolSums.spoolId, spoolId)).get()?.mm ?? 0;
}

/** All of a printer's view but its care and what holds its line back. */
export type PrinterBase = Omit<PrinterView, 'held' | 'care' | 'careRules'>;

/** A printer with the care in its line: what plans are made from. */
export type CaredPrinter = Omit<PrinterView, 'held'>;

/** Printers as pages see them, in their order on the Floor. */
export function printerViews(db: Reader, id?: string): PrinterBase[] {
  const rows = db
    .select()
    .from(printers)
    .where(id === undefined ? undefined : eq(printers.id, id))
    .orderBy(asc(printers.position))
    .all();
  const allSpools = spoolViews(db, id === undefined ? null : { printerId: id });
  const used = db.select().from(inkSums).all();
  return rows.map((row) => ({
    id: row.id,
    name: row.name,
    state: row.linkStatus,
    reason: row.linkReason,
    config: row.config,
    spools: allSpools.filter((spool) => spool.printerId === row.id),
    inkLeftMl: Object.fromEntries(
      row.config.channels.map((channel) => {
        const ml = used.find((u) => u.printerId === row.id && u.channelId === channel.id)?.ml ?? 0;
        return [channel.id, row.measured?.inkMl?.[channel.id] ?? channel.tankMl + ml];
      }),
    ),
    collectedMm: row.measured?.collectedMm ?? null,
    firedMs: exercisedMs(db, row),
    unfit: unfitModes(row.config, faultsOf(db, row.id)),
    checkToRead: checkToRead(db, row.id),
    inkMeasured: row.measured?.inkMl != null,
    measured: [...(row.measured?.media ?? [])],
    lastModeId: lastModes(db).get({ id: row.id })?.modeId ?? null,
    learned: learnedOf(db, row),
  }));
}

/** The mode that a printer printed in last, from the index `run_history`. */
const lastModes = prepared((db) =>
  db
    .select({ modeId: sql<string>`json_extract(${runs.ticket}, '$.modeId')` })
    .from(runs)
    .where(and(eq(runs.printerId, sql.placeholder('id')), isNotNull(runs.startedMs), isNotNull(runs.endedMs)))
    .orderBy(desc(runs.endedMs))
    .limit(1)
    .prepare(),
);
