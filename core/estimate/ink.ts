/** Share of full ink per channel, 0 … 1; from a real separation of the artwork, so an estimate. */
export type Coverage = Readonly<Record<string, number>>;

const MM2_PER_IN2 = 645.16;

/**
 * One-level estimate of one channel: coverage · in² · dpi_x · dpi_y · pl · 1e−9 (ml). Passes do not multiply; `heads`
 * fire the same data and count once each.
 */
export function inkMl(
  coverage: number,
  areaMm2: number,
  dpiX: number,
  dpiY: number,
  dropPl: number,
  heads = 1,
): number {
  return coverage * (areaMm2 / MM2_PER_IN2) * dpiX * dpiY * dropPl * 1e-9 * heads;
}

/**
 * Coverage under an ink limit: where all channels together are more, each is laid down by the same share less. Of a mean coverage
 * that is a lower bound of what a limit takes off, since single places may be denser than their mean.
 * @param limit share of one channel in full; null: none
 */
export function limitedCoverage(coverage: Coverage, limit: number | null): Coverage {
  if (limit === null) return coverage;
  const sum = Object.values(coverage).reduce((all, share) => all + share, 0);
  if (sum <= limit) return coverage;
  return Object.fromEntries(Object.entries(coverage).map(([id, share]) => [id, (share * limit) / sum]));
}

/**
 * What is printed of a piece: all of it, or one of its parts alone, in black; under the ink limit of its ticket.
 * @param part name of the ink that is printed alone; null: all
 * @param limit as {@link limitedCoverage} takes it
 */
export function printedCoverage(coverage: Coverage, part: string | null, limit: number | null): Coverage {
  return limitedCoverage(part === null ? coverage : { black: coverage[part] ?? 0 }, limit);
}

/**
 * Mean coverage of C, M, Y and K over a low-resolution picture, by full grey-component replacement.
 * @param pixels interleaved 8-bit RGBA; transparent pixels take no ink
 */
export function separatePicture(pixels: Uint8Array): Coverage {
  let c = 0;
  let m = 0;
  let y = 0;
  let k = 0;
  const count = Math.floor(pixels.length / 4);
  for (let i = 0; i < count * 4; i += 4) {
    const alpha = (pixels[i + 3] ?? 0) / 255;
    const cc = 1 - (pixels[i] ?? 0) / 255;
    const mm = 1 - (pixels[i + 1] ?? 0) / 255;
    const yy = 1 - (pixels[i + 2] ?? 0) / 255;
    const black = Math.min(cc, mm, yy);
    c += (cc - black) * alpha;
    m += (mm - black) * alpha;
    y += (yy - black) * alpha;
    k += black * alpha;
  }
  const n = Math.max(1, count);
  return { cyan: c / n, magenta: m / n, yellow: y / n, black: k / n };
}
