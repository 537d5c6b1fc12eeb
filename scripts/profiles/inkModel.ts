import { labOf } from '../../core/coats/blackPoint.ts';

/*
 * A made-up printer: what its inks do to light, in three bands. Shares of full ink become bands of reflectance by a product of
 * transmittances under optical dot gain (Yule and Nielsen), and those become Lab under D50, the media being white.
 */

export type Triple = readonly [number, number, number];

export interface Ink {
  readonly id: string;
  /** What a full layer lets through of red, green and blue, once. */
  readonly lets: Triple;
}

export interface ModelledPrinter {
  readonly inks: readonly Ink[];
  /** 1: none; larger: lighter tints print darker. */
  readonly gain: number;
  /** Most ink at one place, as a sum of full layers. */
  readonly total: number;
  /** Of the media, beside a perfect white. */
  readonly media: Triple;
}

/** Linear sRGB to XYZ under D50. */
const TO_XYZ: readonly Triple[] = [
  [0.4360747, 0.3850649, 0.1430804],
  [0.2225045, 0.7168786, 0.0606169],
  [0.0139322, 0.0971045, 0.7141733],
];

function xyzOf(bands: Triple): Triple {
  const [x, y, z] = TO_XYZ.map(([r, g, b]) => r * bands[0] + g * bands[1] + b * bands[2]);
  return [x ?? 0, y ?? 0, z ?? 0];
}

/** XYZ of the media itself, beside a perfect white. */
export function mediaXyz({ media }: ModelledPrinter): Triple {
  return xyzOf(media);
}

/** Lab of inks, relative to the media. @param shares of full ink, 0 … 1 */
export function labOfInks({ inks, gain }: ModelledPrinter, shares: readonly number[]): Triple {
  const bands = [0, 1, 2].map((band) => {
    let through = 1;
    inks.forEach(({ lets }, i) => {
      const full = (lets[band] ?? 1) ** (1 / gain);
      through *= 1 - (shares[i] ?? 0) * (1 - full);
    });
    return through ** gain;
  });
  return labOf(xyzOf([bands[0] ?? 0, bands[1] ?? 0, bands[2] ?? 0]));
}

/** How much of a light ink lies down where its dark one is asked for: it comes first, and goes when the dark one has taken over. */
function lightAndDark(asked: number): { readonly light: number; readonly dark: number } {
  const light = asked < 0.4 ? asked / 0.4 : Math.max(0, 1 - (asked - 0.4) / 0.6);
  return { light: 0.9 * light, dark: asked < 0.25 ? 0 : (asked - 0.25) / 0.75 };
}

/**
 * Inks of what is asked of cyan, magenta and yellow, 0 … 1: what all three have in common becomes black in the shadows, light inks come
 * before dark ones, and all of them stay under the total.
 */
export function recipe({ inks, total }: ModelledPrinter, [c, m, y]: Triple): number[] {
  const common = Math.min(c, m, y);
  const black = common < 0.3 ? 0 : ((common - 0.3) / 0.7) ** 1.4;
  const has = new Set(inks.map(({ id }) => id));
  const shareOf = (id: string, asked: number, light: string): Record<string, number> => {
    if (!has.has(light)) return { [id]: asked };
    const split = lightAndDark(asked);
    return { [id]: split.dark, [light]: split.light };
  };
  const grey = has.has('grey') ? Math.max(0, 1 - Math.abs(common - 0.25) / 0.25) * 0.6 : 0;
  const lightBlack = has.has('light-black') ? Math.max(0, 1 - Math.abs(common - 0.45) / 0.3) * 0.6 : 0;
  const replaced = 0.6 * black + 0.25 * grey + 0.3 * lightBlack;
  const left = (asked: number): number => Math.max(0, asked - replaced);
  const shares: Record<string, number> = {
    ...shareOf('cyan', left(c), 'light-cyan'),
    ...shareOf('magenta', left(m), 'light-magenta'),
    yellow: left(y),
    black,
    grey,
    'light-black': lightBlack,
  };
  const list = inks.map(({ id }) => shares[id] ?? 0);
  const sum = list.reduce((all, share) => all + share, 0);
  const blackAt = inks.findIndex(({ id }) => id === 'black');
  if (sum <= total) return list;
  const kept = list[blackAt] ?? 0;
  return list.map((share, i) => (i === blackAt ? share : (share * (total - kept)) / (sum - kept)));
}

/**
 * What has to be asked for to come to a colour: damped Gauss–Newton steps within 0 … 1.
 * @param start where it begins, such as what a neighbour needed
 */
export function askedFor(printer: ModelledPrinter, lab: Triple, start: Triple): Triple {
  let asked = start;
  let damping = 1e-3;
  const missOf = (at: Triple): { readonly miss: Triple; readonly error: number } => {
    const got = labOfInks(printer, recipe(printer, at));
    const miss: Triple = [lab[0] - got[0], lab[1] - got[1], lab[2] - got[2]];
    return { miss, error: miss[0] ** 2 + miss[1] ** 2 + miss[2] ** 2 };
  };
  let now = missOf(asked);
  for (let turn = 0; turn < 40 && now.error > 1e-6 && damping < 1e6; turn += 1) {
    const slopes = [0, 1, 2].map((axis) => {
      const delta = (asked[axis] ?? 0) > 0.5 ? -1e-3 : 1e-3;
      const moved = asked.map((value, i) => (i === axis ? value + delta : value)) as unknown as Triple;
      const { miss } = missOf(moved);
      return miss.map((value, i) => (now.miss[i] ?? 0) / delta - value / delta);
    });
    const normal = slopes.map((a, i) =>
      slopes.map(
        (b, j) =>
          a.reduce((sum, value, k) => sum + value * (b[k] ?? 0), 0) * (i === j ? 1 + damping : 1) +
          (i === j ? 1e-6 : 0),
      ),
    );
    const right = slopes.map((a) => a.reduce((sum, value, k) => sum + value * (now.miss[k] ?? 0), 0));
    const step = solve(normal, right);
    const next = asked.map((value, i) => Math.min(1, Math.max(0, value + (step[i] ?? 0)))) as unknown as Triple;
    const then = missOf(next);
    if (then.error < now.error) {
      asked = next;
      now = then;
      damping /= 4;
    } else damping *= 4;
  }
  return asked;
}

/** Three equations by Cramer's rule. */
function solve(m: readonly (readonly number[])[], right: readonly number[]): number[] {
  const at = (rows: readonly (readonly number[])[], i: number, j: number): number => rows[i]?.[j] ?? 0;
  const det = (rows: readonly (readonly number[])[]): number =>
    at(rows, 0, 0) * (at(rows, 1, 1) * at(rows, 2, 2) - at(rows, 1, 2) * at(rows, 2, 1)) -
    at(rows, 0, 1) * (at(rows, 1, 0) * at(rows, 2, 2) - at(rows, 1, 2) * at(rows, 2, 0)) +
    at(rows, 0, 2) * (at(rows, 1, 0) * at(rows, 2, 1) - at(rows, 1, 1) * at(rows, 2, 0));
  const whole = det(m);
  return [0, 1, 2].map(
    (column) => det(m.map((row, i) => row.map((value, j) => (j === column ? (right[i] ?? 0) : value)))) / whole,
  );
}
