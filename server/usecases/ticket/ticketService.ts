import { eq } from 'drizzle-orm';
import { sideMargins, usableWidth } from '../../../core/layout/usableWidth.ts';
import { type CheckedPage, type FileNature, type Finding } from '../../../core/ticket/finding.ts';
import { checkJob, noPrintSize } from '../../../core/ticket/findings.ts';
import type { FinishedPage } from '../../../core/ticket/finishedPage.ts';
import { finishPage } from '../../../core/ticket/finish.ts';
import {
  type PresetMark,
  type Ticket,
  type TicketLayers,
  type TicketPart,
  makeTicket,
} from '../../../core/ticket/ticket.ts';
import type { Reader } from '../../db/open.ts';
import { type jobPages, presets, queues } from '../../db/tables/schema.ts';
import { printers, stockSettings, stocks } from '../../db/tables/floorTables.ts';
import { Refused } from '../../shop.ts';

type QueueRow = typeof queues.$inferSelect;
type PrinterRow = typeof printers.$inferSelect;
type StockRow = typeof stocks.$inferSelect;
export type PageRow = typeof jobPages.$inferSelect;

export interface Judged {
  readonly findings: Finding[];
  /** One for each page; undefined where the ticket makes no print of it. */
  readonly finished: readonly (FinishedPage | undefined)[];
}

/**
 * Everything that stamps and judges tickets, read once and kept for as long as the desk: a change of ten thousand jobs reads
 * their queue once.
 */
export class TicketService {
  private readonly queueRows = new Map<string, { queue: QueueRow; printer: PrinterRow }>();
  private readonly stockRows: ReadonlyMap<string, StockRow>;
  private readonly runSettings: ReadonlyMap<string, TicketPart>;

  constructor(private readonly db: Reader) {
    this.stockRows = new Map(
      db
        .select()
        .from(stocks)
        .all()
        .map((stock) => [stock.id, stock]),
    );
    this.runSettings = new Map(
      db
        .select()
        .from(stockSettings)
        .all()
        .map((row) => [`${row.printerId}/${row.stockId}`, row.settings]),
    );
  }

  queue(id: string): { readonly queue: QueueRow; readonly printer: PrinterRow } {
    const known = this.queueRows.get(id);
    if (known) return known;
    const row = this.db
      .select({ queue: queues, printer: printers })
      .from(queues)
      .innerJoin(printers, eq(printers.id, queues.printerId))
      .where(eq(queues.id, id))
      .get();
    if (!row) throw new Refused(404, 'no-such-queue', `There is no queue ${id}.`);
    this.queueRows.set(id, row);
    return row;
  }

  preset(id: string): PresetMark & { readonly values: TicketPart } {
    const row = this.db.select().from(presets).where(eq(presets.id, id)).get();
    if (!row) throw new Refused(404, 'no-such-preset', `There is no preset ${id}.`);
    return { id: row.id, name: row.name, values: row.settings };
  }

  stock(id: string): StockRow {
    const row = this.stockRows.get(id);
    if (!row) throw new Refused(404, 'no-such-stock', `There is no stock ${id}.`);
    return row;
  }

  stockIdsFor(widestMediaMm: number): string[] {
    return [...this.stockRows.values()].filter((stock) => stock.widthMm <= widestMediaMm).map((stock) => stock.id);
  }

  /** What printer, stock and queue say of a ticket; the stock is the one that the stronger layers ask for, if any. */
  anew(queueId: string, stronger: TicketLayers): Pick<TicketLayers, 'printer' | 'stock' | 'queue'> {
    const { queue, printer } = this.queue(queueId);
    const base = { printer: printer.config.defaults, queue: queue.settings };
    const { stockId } = makeTicket({ ...stronger, ...base }).values;
    return { ...base, stock: this.runSettings.get(`${printer.id}/${stockId}`) ?? {} };
  }

  /** The ticket of a job that arrives. */
  stamp(
    queueId: string,
    said: { readonly presetId?: string | null; readonly fileName?: TicketPart; readonly ticketFile?: TicketPart },
  ): Ticket {
    const preset = said.presetId == null ? null : this.preset(said.presetId);
    const stronger: TicketLayers = {
      ...(preset ? { preset: preset.values } : {}),
      ...(said.fileName ? { 'file name': said.fileName } : {}),
      ...(said.ticketFile ? { 'ticket file': said.ticketFile } : {}),
    };
    return makeTicket({ ...this.anew(queueId, stronger), ...stronger }, preset && { id: preset.id, name: preset.name });
  }

  usableWidthMm(queueId: string, ticket: Ticket): number {
    const { config } = this.queue(queueId).printer;
    const { leftMm, rightMm } = sideMargins(
      config,
      ticket.values.edgeToEdge,
      this.stock(ticket.values.stockId).widthMm,
    );
    return usableWidth(config, this.stock(ticket.values.stockId).widthMm, leftMm, rightMm).usableWidthMm;
  }

  /** Modes that suit a stock on a printer; null: nothing is said of the stock, so all do. */
  private suitableModes(printerId: string, stockId: string): readonly string[] | null {
    const { suits } = this.stock(stockId);
    return suits === null ? null : (suits[printerId] ?? []);
  }

  /** Makes the pages as the ticket says, and checks them against the queue. */
  judge(queueId: string, ticket: Ticket, nature: FileNature, pages: readonly PageFacts[]): Judged {
    const { queue, printer } = this.queue(queueId);
    const usableWidthMm = this.usableWidthMm(queueId, ticket);
    const finished: (FinishedPage | undefined)[] = [];
    const checked: CheckedPage[] = [];
    for (const page of pages) {
      const made = finishPage(page, ticket.values, usableWidthMm);
      if (!made.ok) return { findings: [noPrintSize(made.reason)], finished: pages.map(() => undefined) };
      finished.push(made.value);
      const coverage = Object.values(page.coverage).reduce((sum, share) => sum + share, 0);
      checked.push({ source: page, finished: made.value, dpi: page.dpi, thinnestMm: page.thinnestMm, coverage });
    }
    const findings = checkJob({
      pages: checked,
      nature,
      values: ticket.values,
      usableWidthMm,
      mediaName: this.stock(ticket.values.stockId).name,
      printerName: printer.name,
      longestMm: printer.config.longestMm,
      canEdgeToEdge: printer.config.edgeToEdge,
      modes: printer.config.modes,
      channels: printer.config.channels.map(({ id }) => id),
      suitableModes: this.suitableModes(printer.id, ticket.values.stockId),
      checks: queue.checks,
    });
    return { findings, finished };
  }
}

export type PageFacts = Pick<PageRow, 'widthMm' | 'heightMm' | 'bleed' | 'dpi' | 'thinnestMm' | 'coverage'> &
  Partial<Pick<PageRow, 'cutLines'>>;

export const NO_NATURE: FileNature = {
  assumedDpi: null,
  hasAlpha: false,
  colourSpaces: [],
  profile: null,
  spots: [],
  missingFonts: [],
};
