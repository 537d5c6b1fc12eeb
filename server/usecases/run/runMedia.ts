import { sideMargins } from '../../../core/layout/usableWidth.ts';
import type { PrinterConfig } from '../../../contract/api/floor.ts';
import type { LayoutSettings } from '../../../contract/api/run.ts';
import type { spools, stocks } from '../../db/tables/floorTables.ts';

interface Sized {
  readonly widthMm: number;
  readonly heightMm: number;
  readonly quarterTurn: boolean;
}

/**
 * What a new run is laid out on. From a roll: its width as measured, else as its stock has it. Sheets come one by one; of a
 * bed the smallest platen is taken that every piece lies on, one piece each.
 */
export function runMedia(
  config: PrinterConfig,
  stock: typeof stocks.$inferSelect,
  spool: typeof spools.$inferSelect | undefined,
  gapMm: number,
  edgeToEdge: boolean,
  pieces: readonly Sized[],
): { readonly mediaWidthMm: number; readonly settings: LayoutSettings } {
  const settings: LayoutSettings = {
    gapMm,
    ...sideMargins(config, edgeToEdge, stock.widthMm),
    leadMm: config.leadMm,
    trailMm: config.trailMm,
    quarterTurns: true,
  };
  if (stock.form === 'garment') {
    const bed = bedForStock(config, pieces);
    return {
      mediaWidthMm: bed.widthMm,
      settings: { ...settings, leadMm: 0, trailMm: 0, sheetMm: bed.lengthMm, places: { columns: 1, rows: 1 } },
    };
  }
  const mediaWidthMm = spool?.widthMm ?? stock.widthMm;
  return stock.form === 'sheet' && stock.sheetMm !== null
    ? { mediaWidthMm, settings: { ...settings, sheetMm: stock.sheetMm } }
    : { mediaWidthMm, settings };
}

/** The smallest platen that takes all of them; the largest where none does. */
function bedForStock(
  { beds, widestMediaMm, longestMm }: PrinterConfig,
  pieces: readonly Sized[],
): { readonly widthMm: number; readonly lengthMm: number } {
  const bySize = [...beds].sort((a, b) => a.widthMm * a.lengthMm - b.widthMm * b.lengthMm);
  const lies = ({ widthMm, lengthMm }: { widthMm: number; lengthMm: number }, piece: Sized): boolean =>
    (piece.widthMm <= widthMm + 1e-6 && piece.heightMm <= lengthMm + 1e-6) ||
    (piece.quarterTurn && piece.heightMm <= widthMm + 1e-6 && piece.widthMm <= lengthMm + 1e-6);
  const fits = bySize.find((bed) => pieces.every((piece) => lies(bed, piece)));
  return fits ?? bySize.at(-1) ?? { widthMm: widestMediaMm, lengthMm: longestMm };
}
