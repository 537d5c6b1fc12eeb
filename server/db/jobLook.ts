import { createHash } from 'node:crypto';
import { eq } from 'drizzle-orm';
import { sideMargins, usableWidth } from '../../core/layout/usableWidth.ts';
import type { CutLine } from '../../core/contour/contourRule.ts';
import type { FinishedPage } from '../../core/ticket/finishedPage.ts';
import type { Sides, Ticket } from '../../core/ticket/ticket.ts';
import type { Reader } from './open.ts';
import { type jobs, queues } from './tables/schema.ts';
import { printers, stocks } from './tables/floorTables.ts';

/** How a ticket makes pages look; empty where they look as they came. The pages' pictures are kept by it. */
export function appearanceKey({ values }: Ticket): string {
  const { size, crop, bleedMm, turn, mirror, contour } = values;
  const cropped = crop.leftMm + crop.topMm + crop.rightMm + crop.bottomMm > 0;
  if (size.kind === 'as it came' && !cropped && bleedMm === null && turn === 0 && !mirror && !contour) return '';
  // Width of the media and best turn look at the stock.
  const about = [size, crop, bleedMm, turn, mirror, contour, values.stockId, values.edgeToEdge];
  return createHash('sha256').update(JSON.stringify(about)).digest('hex').slice(0, 12);
}

export interface PageLook {
  readonly key: string;
  readonly window: { readonly x: number; readonly y: number; readonly width: number; readonly height: number };
  readonly aspect: number;
  readonly turn: FinishedPage['turn'];
  readonly mirror: boolean;
  /** A line of the file that is cut, not printed. */
  readonly without?: Pick<CutLine, 'from' | 'name'>;
}

/** The look of one page in shares of its artwork with bleed; undefined where it is printed as it came. */
export function pageAppearance(page: {
  readonly widthMm: number;
  readonly heightMm: number;
  readonly bleed: Sides;
  readonly finished: FinishedPage | null;
}): PageLook | undefined {
  const { finished, bleed } = page;
  if (!finished) return undefined;
  const wholeW = page.widthMm + bleed.leftMm + bleed.rightMm;
  const wholeH = page.heightMm + bleed.topMm + bleed.bottomMm;
  const { window, turn, mirror, scaleX, scaleY, contour } = finished;
  const without = contour && contour.line.from !== 'picture' ? contour.line : undefined;
  const part = {
    x: (window.xMm + bleed.leftMm) / wholeW,
    y: (window.yMm + bleed.topMm) / wholeH,
    width: window.widthMm / wholeW,
    height: window.heightMm / wholeH,
  };
  const whole =
    Math.abs(part.x) < 1e-7 &&
    Math.abs(part.y) < 1e-7 &&
    Math.abs(part.width - 1) < 1e-7 &&
    Math.abs(part.height - 1) < 1e-7;
  const sameShape = Math.abs(scaleX / scaleY - 1) < 1e-7;
  if (whole && sameShape && turn === 0 && !mirror && !without) return undefined;
  const aspect = (window.widthMm * scaleX) / (window.heightMm * scaleY);
  const shape = { window: part, aspect, turn, mirror, ...(without ? { without } : {}) };
  const key = createHash('sha256').update(JSON.stringify(shape)).digest('hex').slice(0, 16);
  return { key, ...shape };
}

/** W for a job, on the stock of its ticket. */
export function usableWidthOf(db: Reader, job: typeof jobs.$inferSelect): number {
  const row = db
    .select({ config: printers.config })
    .from(queues)
    .innerJoin(printers, eq(printers.id, queues.printerId))
    .where(eq(queues.id, job.queueId))
    .get();
  const stock = db.select().from(stocks).where(eq(stocks.id, job.ticket.values.stockId)).get();
  if (!row || !stock) return 0;
  const { leftMm, rightMm } = sideMargins(row.config, job.ticket.values.edgeToEdge, stock.widthMm);
  return usableWidth(row.config, stock.widthMm, leftMm, rightMm).usableWidthMm;
}
