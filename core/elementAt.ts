/*
 * Checked access to an element of an array.
 *
 * The layout kernels walk flat arrays by indices that are inside by construction. These accessors say so in one place: they
 * return the element without `undefined` in its type, and a wrong index ends in an error that names it instead of a layout
 * of NaN. There is one accessor for each kind of array, because the engine compiles each to a plain load as long as it only
 * ever sees one kind. What they cost beside bare access is printed by `npm run bench:nest`. In the two hottest loops of
 * `layout/pack/skyline.ts` there are more calls than the engine compiles into one function, so those read `?? 0` instead.
 */

function outside(length: number, index: number): RangeError {
  return new RangeError(`index ${String(index)} is outside of an array of ${String(length)}`);
}

/** An element of a Float64Array. @throws RangeError where the index is outside */
export function float64At(array: Float64Array, index: number): number {
  const value = array[index];
  if (value === undefined) throw outside(array.length, index);
  return value;
}

/** An element of an Int32Array. @throws RangeError where the index is outside */
export function int32At(array: Int32Array, index: number): number {
  const value = array[index];
  if (value === undefined) throw outside(array.length, index);
  return value;
}

/** An element of an Int16Array. @throws RangeError where the index is outside */
export function int16At(array: Int16Array, index: number): number {
  const value = array[index];
  if (value === undefined) throw outside(array.length, index);
  return value;
}

/** An element of a Uint8Array. @throws RangeError where the index is outside */
export function uint8At(array: Uint8Array, index: number): number {
  const value = array[index];
  if (value === undefined) throw outside(array.length, index);
  return value;
}

/** An element of a Uint8Array. @throws RangeError where the index is outside */
export function uint16At(array: Uint16Array, index: number): number {
  const value = array[index];
  if (value === undefined) throw outside(array.length, index);
  return value;
}

/** An element of a list whose elements are never undefined. @throws RangeError where the index is outside */
export function itemAt<T>(list: readonly T[], index: number): T {
  const value = list[index];
  if (value === undefined) throw outside(list.length, index);
  return value;
}
