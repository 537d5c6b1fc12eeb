export interface Point {
  readonly x: number;
  readonly y: number;
}

/** A plane seen in perspective: x′ = (a x + b y + c) ÷ (g x + h y + 1), y′ = (d x + e y + f) ÷ (g x + h y + 1). */
export type Homography = readonly [number, number, number, number, number, number, number, number];

/** Where a point is seen. */
export function seenAt([a, b, c, d, e, f, g, h]: Homography, x: number, y: number): Point {
  const w = g * x + h * y + 1;
  return { x: (a * x + b * y + c) / w, y: (d * x + e * y + f) / w };
}

/**
 * The view in which points are seen where they are, as near as can be (least squares).
 * @param from at least four, no three of them on one line
 * @returns undefined: they say too little
 */
export function homographyOf(from: readonly Point[], to: readonly Point[]): Homography | undefined {
  const matrix = Array.from({ length: 8 }, () => new Float64Array(9));
  const add = (row: readonly number[], value: number): void => {
    for (let i = 0; i < 8; i += 1) {
      const line = matrix[i];
      if (!line) continue;
      const weight = row[i] ?? 0;
      for (let j = 0; j < 8; j += 1) line[j] = (line[j] ?? 0) + weight * (row[j] ?? 0);
      line[8] = (line[8] ?? 0) + weight * value;
    }
  };
  for (const [i, { x, y }] of from.entries()) {
    const seen = to[i];
    if (!seen) continue;
    add([x, y, 1, 0, 0, 0, -x * seen.x, -y * seen.x], seen.x);
    add([0, 0, 0, x, y, 1, -x * seen.y, -y * seen.y], seen.y);
  }
  const solved = solve(matrix);
  return solved && (solved as unknown as Homography);
}

/** Gauss with pivots; the last column is the right side. */
function solve(matrix: readonly Float64Array[]): number[] | undefined {
  const size = matrix.length;
  const rows = matrix.map((row) => Float64Array.from(row));
  for (let column = 0; column < size; column += 1) {
    let best = column;
    for (let row = column + 1; row < size; row += 1) {
      if (Math.abs(rows[row]?.[column] ?? 0) > Math.abs(rows[best]?.[column] ?? 0)) best = row;
    }
    const pivot = rows[best];
    const swapped = rows[column];
    if (!pivot || !swapped || Math.abs(pivot[column] ?? 0) < 1e-12) return undefined;
    rows[best] = swapped;
    rows[column] = pivot;
    for (let row = 0; row < size; row += 1) {
      const line = rows[row];
      if (row === column || !line) continue;
      const factor = (line[column] ?? 0) / (pivot[column] ?? 1);
      for (let j = column; j <= size; j += 1) line[j] = (line[j] ?? 0) - factor * (pivot[j] ?? 0);
    }
  }
  return rows.map((row, i) => (row[size] ?? 0) / (row[i] ?? 1));
}
