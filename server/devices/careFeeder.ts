import { deviceLink } from '../usecases/device/deviceLink.ts';
import { and, inArray, lte, or, sql } from 'drizzle-orm';
import type { CareOrder, CareReport } from '../../contract/machine/protocol.ts';
import { FEED_NOMINAL_MM } from '../../core/heads/feedCheck.ts';
import { CARE_STATES_ON_PRINTER } from '../../core/flow/care.ts';
import { careItems } from '../db/tables/careTables.ts';
import { findPrinter } from '../db/findRows.ts';
import { spools } from '../db/tables/floorTables.ts';
import { Refused, type Shop, transact } from '../shop.ts';
import { type CareRow, findCare, transitionCare } from '../usecases/care/careItems.ts';
import { carePrinter, designRow } from '../usecases/care/careWork.ts';
import { purgeRaster } from '../usecases/care/purgeOutput.ts';
import { careOnPrinter, nextCare } from '../usecases/care/nextCare.ts';
import { recordCareReport } from '../usecases/care/careReports.ts';
import { eq } from 'drizzle-orm';

/** Printers that care waits for, or is on. */
export function printersWithCare(shop: Shop): string[] {
  return shop.db
    .selectDistinct({ printerId: careItems.printerId })
    .from(careItems)
    .where(
      or(
        inArray(careItems.state, [...CARE_STATES_ON_PRINTER]),
        and(
          eq(careItems.state, 'waiting'),
          lte(sql`coalesce(${careItems.earlyMs}, ${careItems.dueMs})`, shop.clock.now()),
        ),
      ),
    )
    .all()
    .map(({ printerId }) => printerId);
}

/** Brings care to printers, as the dispatcher brings runs: what was sent is sent again under the same attempt until it is heard of. */
export class CareFeeder {
  constructor(private readonly shop: Shop) {}

  /**
   * What has to be done for a printer's care now; a promise while something is under way, or where the printer is taken by care.
   * @returns undefined: nothing, the line may go on
   */
  serve(printerId: string): Promise<void> | undefined {
    const present = careOnPrinter(this.shop.db, printerId);
    const printer = findPrinter(this.shop.db, printerId);
    if (present) {
      if (present.state === 'sent') return this.send(present);
      return printer?.linkStatus === 'idle' ? this.ask(present) : Promise.resolve();
    }
    if (printer?.linkStatus !== 'idle' || !this.shop.storage.acceptsWork) return undefined;
    const next = nextCare(this.shop, printer);
    if (!next) return undefined;
    const sent = transact(this.shop, (work) => {
      if (careOnPrinter(work.tx, printerId)) return undefined;
      const { inkMl, savedMl, fedMm } = next.care;
      return transitionCare(work, next.care.id, 'send', {
        attempt: next.care.attempt + 1,
        reportSeq: 0,
        spoolId: next.spoolId,
        inkMl,
        savedMl,
        fedMm,
      });
    });
    return sent ? this.send(sent) : Promise.resolve();
  }

  /** A person stops care that is under way. */
  async cancel(careId: string): Promise<void> {
    const row = findCare(this.shop.db, careId);
    if (!row) throw new Refused(404, 'no-such-care', `There is no care ${careId}.`);
    if (!CARE_STATES_ON_PRINTER.includes(row.state)) {
      throw new Refused(409, 'wrong-state', `The ${row.title} is ${row.state}; it is not on the printer.`, {
        state: row.state,
      });
    }
    const report = await this.shop.link.cancelCare(row.printerId, row.id, row.attempt).catch((error: unknown) => {
      this.shop.log.warn({ err: error, care: row.id }, 'the printer did not take the word');
      throw new Refused(
        503,
        'no-answer',
        `The printer does not answer, so the ${row.title} can't be stopped now.`,
        undefined,
        'Try again when it does.',
      );
    });
    recordCareReport(this.shop, report);
  }

  private async send(row: CareRow): Promise<void> {
    recordCareReport(this.shop, await this.shop.link.care(row.printerId, row.id, row.attempt, this.orderOf(row)));
  }

  /** Care that should be under way while its printer says it is free. */
  private async ask(row: CareRow): Promise<void> {
    const report = await this.shop.link.careReport(row.printerId, row.id, row.attempt);
    recordCareReport(this.shop, report ?? forgotten(row, this.shop.clock.now()));
  }

  private rastersOf(printerId: string, designId: string, fires: string[]): Pick<CareOrder, 'rasters' | 'dropPl'> {
    const { db } = this.shop;
    const { file, sha256, dropPl } = purgeRaster(carePrinter(db, printerId), designRow(db, designId), fires);
    const url = deviceLink(this.shop, `/api/purges/${designId}/channels.tif?fires=${fires.join(',')}`);
    return { rasters: [{ url, sha256, bytes: file.length }], dropPl };
  }

  private orderOf({ printerId, what, spoolId, estimateMs, inkMl, fedMm }: CareRow): CareOrder {
    if (what.kind === 'release') throw new Error('a release is nothing that a printer does');
    const spool = spoolId === null ? undefined : this.shop.db.select().from(spools).where(eq(spools.id, spoolId)).get();
    return {
      kind: what.kind,
      durationMs: estimateMs,
      inkMl: { ...inkMl },
      fedMm,
      sourceId: spool?.sourceId ?? null,
      clean: what.kind === 'clean' ? { channelIds: [...what.channelIds], strength: what.strength } : null,
      ...(what.kind === 'feed' ? { feedMm: FEED_NOMINAL_MM } : {}),
      ...(what.kind === 'check' ? { checks: Object.keys(inkMl) } : {}),
      ...(what.kind === 'purge' ? this.rastersOf(printerId, what.designId, Object.keys(inkMl)) : {}),
    };
  }
}

/** What is made of care that its printer has never heard of although it was under way. */
function forgotten(row: CareRow, nowMs: number): CareReport {
  return {
    careId: row.id,
    attempt: row.attempt,
    seq: row.reportSeq,
    status: 'failed',
    msLeft: 0,
    fedMm: 0,
    inkMl: {},
    reason: 'the printer no longer knows of it',
    startedMs: row.startedMs ?? nowMs,
    endedMs: nowMs,
  };
}
