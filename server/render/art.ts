import type { FileFormat } from '../../core/ticket/fileFormat.ts';
import type { CutLine } from '../../core/contour/contourRule.ts';

export interface Source {
  readonly sha256: string;
  readonly format: FileFormat;
  readonly page: number;
  readonly part: string | null;
  /** A line of it that is cut, not printed. */
  readonly without?: Pick<CutLine, 'from' | 'name'>;
}
