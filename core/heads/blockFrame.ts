import type { RectMm } from '../geometry/frame.ts';
import type { CodeModules } from '../layout/marks/codeShape.ts';
import type { PlotBlock } from './checkPlot.ts';
import { MARK_MODULES, markInked } from './markBits.ts';

/**
 * What is inked of a block beside its lines: the modules of its corner marks and of its code.
 * @param code of its text; undefined: it is left out
 */
export function blockFrame({ marks, code: place }: PlotBlock, code: CodeModules | undefined): RectMm[] {
  const rects: RectMm[] = [];
  const add = (
    at: { readonly xMm: number; readonly yMm: number },
    module: number,
    row: number,
    column: number,
  ): void => {
    rects.push({ xMm: at.xMm + column * module, yMm: at.yMm + row * module, widthMm: module, heightMm: module });
  };
  for (const mark of marks) {
    for (let at = 0; at < MARK_MODULES ** 2; at += 1) {
      const [row, column] = [Math.floor(at / MARK_MODULES), at % MARK_MODULES];
      if (markInked(mark.id, row, column)) add(mark, mark.sizeMm / MARK_MODULES, row, column);
    }
  }
  if (code?.kind !== 'square') return rects;
  for (const [at, dark] of code.dark.entries()) {
    if (dark) add(place, place.sizeMm / code.size, Math.floor(at / code.size), at % code.size);
  }
  return rects;
}
