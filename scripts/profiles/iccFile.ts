import type { Triple } from './inkModel.ts';

/*
 * ICC profiles of version 2.4, class output, with tables of 16 bits from the inks to Lab and back, and one that tells what can't be
 * printed. Source: ICC.1:2001-04.
 */

/** A table of n numbers to m: `values` node by node, the last input fastest, 0 … 65,535. */
export interface IccTable {
  readonly inputs: number;
  readonly outputs: number;
  readonly nodes: number;
  readonly values: Uint16Array;
  /** Of L, so that the white of the media lies on a node. */
  readonly lightness?: Uint16Array;
}

export interface IccContent {
  readonly description: string;
  readonly space: string;
  readonly white: Triple;
  readonly toLab: IccTable;
  readonly perceptual: IccTable;
  readonly relative: IccTable;
  readonly gamut: IccTable;
}

const LINE = Uint16Array.of(0, 65_535);

function table({ inputs, outputs, nodes, values, lightness }: IccTable): Buffer {
  const entries = lightness?.length ?? 2;
  const head = Buffer.alloc(52);
  head.write('mft2', 0, 'latin1');
  head.writeUInt8(inputs, 8);
  head.writeUInt8(outputs, 9);
  head.writeUInt8(nodes, 10);
  for (const i of [0, 4, 8]) head.writeInt32BE(65_536, 12 + i * 4);
  head.writeUInt16BE(entries, 48);
  head.writeUInt16BE(2, 50);
  const line = (i: number): Uint16Array =>
    lightness === undefined
      ? LINE
      : i === 0
        ? lightness
        : Uint16Array.from({ length: entries }, (_, k) => Math.round((k / (entries - 1)) * 65_535));
  const numbers = [
    ...Array.from({ length: inputs }, (_, i) => line(i)),
    values,
    ...Array.from({ length: outputs }, () => LINE),
  ];
  return Buffer.concat([head, ...numbers.map((list) => Buffer.from(list.buffer.slice(0)).swap16())]);
}

function text(value: string): Buffer {
  return Buffer.concat([Buffer.from('text\0\0\0\0', 'latin1'), Buffer.from(`${value}\0`, 'latin1')]);
}

function description(value: string): Buffer {
  const ascii = Buffer.from(`${value}\0`, 'latin1');
  const head = Buffer.alloc(12);
  head.write('desc', 0, 'latin1');
  head.writeUInt32BE(ascii.length, 8);
  // Neither Unicode nor a script code: fields of a fixed size.
  return Buffer.concat([head, ascii, Buffer.alloc(8 + 3 + 67)]);
}

function fixed(value: number): Buffer {
  const bytes = Buffer.alloc(4);
  bytes.writeInt32BE(Math.round(value * 65_536));
  return bytes;
}

function xyz(values: Triple): Buffer {
  return Buffer.concat([Buffer.from('XYZ \0\0\0\0', 'latin1'), ...values.map(fixed)]);
}

/** The profile as a file. Saturation and colorimetric intents share one table. */
export function iccFile({ description: name, space, white, toLab, perceptual, relative, gamut }: IccContent): Buffer {
  const [toLabTag, perceptualTag, relativeTag] = [table(toLab), table(perceptual), table(relative)];
  const tags: readonly (readonly [string, Buffer])[] = [
    ['desc', description(name)],
    ['cprt', text('Made up by a script. Public domain (CC0).')],
    ['wtpt', xyz(white)],
    ['A2B0', toLabTag],
    ['A2B1', toLabTag],
    ['A2B2', toLabTag],
    ['B2A0', perceptualTag],
    ['B2A1', relativeTag],
    ['B2A2', relativeTag],
    ['gamt', table(gamut)],
  ];
  const places = new Map<Buffer, number>();
  const parts: Buffer[] = [];
  let at = 128 + 4 + tags.length * 12;
  for (const [, data] of tags) {
    if (places.has(data)) continue;
    places.set(data, at);
    const padded = Buffer.concat([data, Buffer.alloc((4 - (data.length % 4)) % 4)]);
    parts.push(padded);
    at += padded.length;
  }
  const header = Buffer.alloc(128);
  header.writeUInt32BE(at, 0);
  header.writeUInt32BE(0x02400000, 8);
  header.write('prtr', 12, 'latin1');
  header.write(space, 16, 'latin1');
  header.write('Lab ', 20, 'latin1');
  [2026, 1, 1, 0, 0, 0].forEach((value, i) => header.writeUInt16BE(value, 24 + i * 2));
  header.write('acsp', 36, 'latin1');
  [0.9642, 1, 0.8249].forEach((value, i) => {
    fixed(value).copy(header, 68 + i * 4);
  });
  const list = Buffer.alloc(4 + tags.length * 12);
  list.writeUInt32BE(tags.length, 0);
  tags.forEach(([signature, data], i) => {
    list.write(signature, 4 + i * 12, 'latin1');
    list.writeUInt32BE(places.get(data) ?? 0, 8 + i * 12);
    list.writeUInt32BE(data.length, 12 + i * 12);
  });
  return Buffer.concat([header, list, ...parts]);
}
