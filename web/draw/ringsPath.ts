interface Point {
  readonly x: number;
  readonly y: number;
}

/** Closed lines as the path of an SVG. */
export function ringsPath(rings: readonly (readonly Point[])[]): string {
  return rings.map((ring) => `M${ring.map(({ x, y }) => `${String(x)} ${String(y)}`).join('L')}Z`).join('');
}
