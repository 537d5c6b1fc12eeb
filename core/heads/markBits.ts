import aruco from 'js-aruco2';

/** Of which corner marks are: 250 marks of 6 × 6 modules within a black border. */
export const MARK_DICTIONARY = 'ARUCO_MIP_36h12';
/** Modules along a side of a mark, its border included. */
export const MARK_MODULES = 8;

let codes: readonly string[] | undefined;

/** Whether a module of a mark is inked. @param row from the top @param column from the left, both of the whole mark */
export function markInked(id: number, row: number, column: number): boolean {
  if (row < 1 || column < 1 || row > 6 || column > 6) return true;
  codes ??= new aruco.AR.Dictionary(MARK_DICTIONARY).codeList;
  const code = codes[id];
  if (code === undefined) throw new RangeError(`no mark ${String(id)}`);
  return code[(row - 1) * 6 + column - 1] !== '1';
}
