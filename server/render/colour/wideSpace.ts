import { descriptionTag, iccOfTags, textTag, xyzTag } from './iccTags.ts';
import { labOf, xyzOf } from '../../../core/coats/blackPoint.ts';

/*
 * The space in which pages are drawn whose artwork has colours beyond sRGB: a wide RGB under D50, so that a window of 8 bits holds whatever
 * inks and photographs ask for. Its profile is of class display, and any colour library reads it.
 */

/** Chromaticities of red, green and blue under D50. sRGB lies within, and so do the inks of print. */
const PRIMARIES = [
  [0.67, 0.33],
  [0.215, 0.74],
  [0.14, 0.055],
] as const;
const GAMMA = 2.2;

type Triple = readonly [number, number, number];

/** XYZ of each primary, so that all three together are the white of D50. */
function colourants(): readonly Triple[] {
  const columns = PRIMARIES.map(([x, y]): Triple => [x / y, 1, (1 - x - y) / y]);
  const shares = solved(columns, xyzOf([100, 0, 0]));
  return columns.map(([x, y, z], i) => {
    const share = shares[i] ?? 0;
    return [x * share, y * share, z * share];
  });
}

/** Shares of three columns that make a sum. */
function solved(columns: readonly Triple[], sum: Triple): Triple {
  const [a, b, c] = columns;
  if (!a || !b || !c) throw new Error('three columns make a space');
  const det = (p: Triple, q: Triple, r: Triple): number =>
    p[0] * (q[1] * r[2] - q[2] * r[1]) - q[0] * (p[1] * r[2] - p[2] * r[1]) + r[0] * (p[1] * q[2] - p[2] * q[1]);
  const whole = det(a, b, c);
  return [det(sum, b, c) / whole, det(a, sum, c) / whole, det(a, b, sum) / whole];
}

function curveTag(): Buffer {
  const bytes = Buffer.alloc(16);
  bytes.write('curv', 0, 'latin1');
  bytes.writeUInt32BE(1, 8);
  bytes.writeUInt16BE(Math.round(GAMMA * 256), 12);
  return bytes;
}

let made: Uint8Array | undefined;

/** The profile of the wide space. */
export function wideProfile(): Uint8Array {
  made ??= build();
  return made;
}

function build(): Buffer {
  const [red, green, blue] = colourants();
  if (!red || !green || !blue) throw new Error('three columns make a space');
  const curve = curveTag();
  const tags: readonly (readonly [string, Buffer])[] = [
    ['desc', descriptionTag('Wide RGB')],
    ['cprt', textTag('Public domain (CC0).')],
    ['wtpt', xyzTag(xyzOf([100, 0, 0]))],
    ['rXYZ', xyzTag(red)],
    ['gXYZ', xyzTag(green)],
    ['bXYZ', xyzTag(blue)],
    ['rTRC', curve],
    ['gTRC', curve],
    ['bTRC', curve],
  ];
  return iccOfTags({ deviceClass: 'mntr', space: 'RGB ', connection: 'XYZ ' }, tags);
}

/** Lab of a colour of the wide space, its parts 0 … 1: what the profile says, without a library. */
export function labOfWide(parts: Triple): Triple {
  const columns = colourants();
  const light = parts.map((part) => part ** GAMMA);
  const [x, y, z] = [0, 1, 2].map((axis) =>
    columns.reduce((sum, each, i) => sum + (each[axis] ?? 0) * (light[i] ?? 0), 0),
  );
  return labOf([x ?? 0, y ?? 0, z ?? 0]);
}
