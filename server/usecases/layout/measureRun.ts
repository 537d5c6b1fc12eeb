import { modeOf } from '../run/runRows.ts';
import { eq } from 'drizzle-orm';
import { leastColumnMm } from '../../../core/care/columns.ts';
import { usableWidth } from '../../../core/layout/usableWidth.ts';
import { fullMarks } from '../../../core/layout/marks/markSettings.ts';
import { stripAreaMm2 } from '../../../core/layout/marks/marks.ts';
import { type Coverage, inkMl, printedCoverage } from '../../../core/estimate/ink.ts';
import { type RunTime, runTime } from '../../../core/estimate/runTime.ts';
import type { Contour } from '../../../core/contour/contourRule.ts';
import { cutPathOf, sheetsOf } from '../../../core/estimate/cutPath.ts';
import { turnedSize } from '../../../core/geometry/turn.ts';
import { laidOutline } from '../../../core/geometry/laidOutline.ts';
import { type LaidPiece, extentOf } from '../../../core/layout/checkLayout.ts';
import { isMirrored } from '../../../core/layout/arrange/twoSides.ts';
import type { PanelOf } from '../../../contract/api/run.ts';
import type { PrinterConfig } from '../../../contract/api/floor.ts';
import type { Sides } from '../../../core/ticket/ticket.ts';
import type { Reader } from '../../db/open.ts';
import { runPieceRows } from '../../db/runViews.ts';
import { type jobPages, runs } from '../../db/tables/schema.ts';
import type { RunRow } from '../run/transitionRun.ts';

/** A piece of a run where it lies, with what marks and files need to know of it. */
export interface LaidRow extends LaidPiece {
  readonly pieceId: string;
  readonly jobId: string;
  readonly page: number;
  readonly copy: number;
  readonly angleDeg: number;
  readonly placed: boolean;
  readonly sourceName: string;
  readonly part: string | null;
  readonly panel: PanelOf | null;
  /** Size before it was turned. */
  readonly upright: { readonly widthMm: number; readonly heightMm: number };
  /** How much of it is bleed, before it was turned. */
  readonly bleed: Sides;
  readonly pageRow: typeof jobPages.$inferSelect;
  readonly coverage: Coverage;
  /** Rings that are cut, from the corner of the piece before it was turned. */
  readonly cut: Contour['cut'];
}

/** The pieces of a run as they lie, bleed included. */
export function laidPieces(db: Reader, runId: string): LaidRow[] {
  const run = db.select({ side: runs.side, ticket: runs.ticket }).from(runs).where(eq(runs.id, runId)).get();
  const side = run?.side;
  const mirrored = side?.side === 'back' && isMirrored(side);
  return runPieceRows(db, runId).map((row) => {
    const contour = row.pageRow.finished?.contour;
    return {
      key: row.pieceId,
      pieceId: row.pieceId,
      jobId: row.jobId,
      page: row.page,
      copy: row.copy,
      angleDeg: row.angleDeg,
      placed: row.placed,
      sourceName: row.sourceName,
      part: row.part,
      panel: row.panel,
      upright: { widthMm: row.widthMm, heightMm: row.heightMm },
      bleed: row.bleed,
      pageRow: row.pageRow,
      coverage: printedCoverage(row.pageRow.coverage, row.part, run?.ticket.inkLimit ?? null),
      xMm: row.xMm,
      yMm: row.yMm,
      ...turnedSize(row.widthMm, row.heightMm, row.angleDeg),
      cut: contour?.cut ?? [],
      outline: contour && laidOutline(contour.outline, row, row, mirrored),
    };
  });
}

/** The time of a run as laid out, by the printer's constants. */
export function timeOfRun(run: RunRow, config: PrinterConfig, laid: readonly LaidRow[]): RunTime {
  return runTime(
    {
      lengthMm: run.lengthMm,
      mediaWidthMm: run.mediaWidthMm,
      mode: modeOf(config, run.ticket.modeId),
      span: run.ticket.span,
      dryOut: run.ticket.dryOut,
      dryMin: run.ticket.dryMin,
      cutOff: run.ticket.cutOff,
      pieces: laid.map(extentOf),
      sheets: sheetsOf(config.sources, run.settings.sheetMm),
      contours: config.finishing.contourCut ? cutPathOf(laid) : undefined,
    },
    config.machine,
  );
}

/**
 * On a page-wide array: the ink by channel that every column across the media gets, by pieces and by a bar across it (ml). Its nozzles
 * stand each over one place, so that only this keeps all of them going. Null on a carriage, whose passes spread it.
 */
export function evenInkOfRun(
  run: RunRow,
  config: PrinterConfig,
  laid: readonly LaidRow[],
): Record<string, number> | null {
  if (config.head !== 'page-wide') return null;
  const { dpiX, dpiY, dropPl } = modeOf(config, run.ticket.modeId);
  const { leftMm, rightMm } = run.settings;
  const { usableWidthMm } = usableWidth(config, run.mediaWidthMm, leftMm, rightMm);
  const placed = laid.filter((piece) => piece.placed);
  const { strip } = fullMarks(run.settings.marks);
  const barMm = strip.on && strip.edge === 'across' ? strip.widthMm / config.channels.length : 0;
  return Object.fromEntries(
    config.channels.map(({ id, heads }) => {
      const printed = placed.map((piece) => ({ ...extentOf(piece), coverage: piece.coverage[id] ?? 0 }));
      const mm = leastColumnMm(printed, usableWidthMm, barMm);
      return [id, inkMl(1, mm * usableWidthMm, dpiX, dpiY, dropPl, heads)];
    }),
  );
}

/** Ink of a run by channel (ml): an estimate from a separation of each page's picture, and its exercise strip. */
export function inkOfRun(run: RunRow, config: PrinterConfig, laid: readonly LaidRow[]): Record<string, number> {
  const { dpiX, dpiY, dropPl } = modeOf(config, run.ticket.modeId);
  const spread = {
    usableWidthMm: run.mediaWidthMm,
    sheetMm: run.settings.sheetMm ?? null,
    pieces: laid.filter(({ placed }) => placed).map(extentOf),
  };
  const stripMm2 = stripAreaMm2(fullMarks(run.settings.marks), spread, config.channels.length);
  return Object.fromEntries(
    config.channels.map(({ id, heads }) => {
      const ml = laid.reduce(
        (sum, { coverage, widthMm, heightMm }) =>
          sum + inkMl(coverage[id] ?? 0, widthMm * heightMm, dpiX, dpiY, dropPl, heads),
        inkMl(1, stripMm2, dpiX, dpiY, dropPl, heads),
      );
      return [id, ml];
    }),
  );
}
