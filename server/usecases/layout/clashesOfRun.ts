import type { PrinterConfig } from '../../../contract/api/floor.ts';
import { type LayoutClash, findClashes } from '../../../core/layout/checkLayout.ts';
import { oversprayOf, usableWidth } from '../../../core/layout/usableWidth.ts';
import type { RunRow } from '../run/transitionRun.ts';
import type { LaidRow } from './measureRun.ts';

/** Pieces of a run that lie on each other, beyond its usable width or across the end of a sheet. They may be laid closer than the gap by hand. */
export function clashesOfRun(
  config: PrinterConfig,
  { mediaWidthMm, settings }: RunRow,
  laid: readonly LaidRow[],
): { readonly clashes: LayoutClash[]; readonly usableWidthMm: number } {
  const usable = usableWidth(config, mediaWidthMm, settings.leftMm, settings.rightMm);
  const { usableWidthMm } = usable;
  const clashes = findClashes(laid, {
    ...{ widthMm: usableWidthMm, leftMm: 0, rightMm: 0, over: oversprayOf(usable, mediaWidthMm) },
    ...{ leadMm: 0, gapXMm: 0, gapYMm: 0, sheetMm: settings.sheetMm },
  });
  return { clashes, usableWidthMm };
}
