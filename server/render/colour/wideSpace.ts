import { labOf, xyzOf } from '../../../core/coats/blackPoint.ts';

/*
 * The space in which pages are drawn whose artwork has colours beyond sRGB: a wide RGB under D50, so that a window of 8 bits holds whatever
 * inks and photographs ask for. A profile of class display, version 2.4, that any colour library reads. Source: ICC.1:2001-04.
 */

/** Chromaticities of red, green and blue under D50. sRGB lies within, and so do the inks of print. */
const PRIMARIES = [
  [0.67, 0.33],
  [0.215, 0.74],
  [0.14, 0.055],
] as const;
const GAMMA = 2.2;
const PARTS_OF_FIXED = 65_536;

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

function fixed(value: number): Buffer {
  const bytes = Buffer.alloc(4);
  bytes.writeInt32BE(Math.round(value * PARTS_OF_FIXED));
  return bytes;
}

function xyzTag(values: Triple): Buffer {
  return Buffer.concat([Buffer.from('XYZ \0\0\0\0', 'latin1'), ...values.map(fixed)]);
}

function curveTag(): Buffer {
  const bytes = Buffer.alloc(16);
  bytes.write('curv', 0, 'latin1');
  bytes.writeUInt32BE(1, 8);
  bytes.writeUInt16BE(Math.round(GAMMA * 256), 12);
  return bytes;
}

function descriptionTag(value: string): Buffer {
  const ascii = Buffer.from(`${value}\0`, 'latin1');
  const head = Buffer.alloc(12);
  head.write('desc', 0, 'latin1');
  head.writeUInt32BE(ascii.length, 8);
  const bytes = Buffer.concat([head, ascii, Buffer.alloc(8 + 3 + 67)]);
  return Buffer.concat([bytes, Buffer.alloc((4 - (bytes.length % 4)) % 4)]);
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
    ['cprt', Buffer.from('text\0\0\0\0Public domain (CC0).\0\0\0\0', 'latin1')],
    ['wtpt', xyzTag(xyzOf([100, 0, 0]))],
    ['rXYZ', xyzTag(red)],
    ['gXYZ', xyzTag(green)],
    ['bXYZ', xyzTag(blue)],
    ['rTRC', curve],
    ['gTRC', curve],
    ['bTRC', curve],
  ];
  const list = Buffer.alloc(4 + tags.length * 12);
  list.writeUInt32BE(tags.length, 0);
  let at = 128 + list.length;
  tags.forEach(([signature, data], i) => {
    list.write(signature, 4 + i * 12, 'latin1');
    list.writeUInt32BE(at, 8 + i * 12);
    list.writeUInt32BE(data.length, 12 + i * 12);
    at += data.length;
  });
  const header = Buffer.alloc(128);
  header.writeUInt32BE(at, 0);
  header.writeUInt32BE(0x02400000, 8);
  header.write('mntrRGB XYZ ', 12, 'latin1');
  [2026, 1, 1, 0, 0, 0].forEach((value, i) => header.writeUInt16BE(value, 24 + i * 2));
  header.write('acsp', 36, 'latin1');
  xyzOf([100, 0, 0]).forEach((value, i) => {
    fixed(value).copy(header, 68 + i * 4);
  });
  return Buffer.concat([header, list, ...tags.map(([, data]) => data)]);
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
