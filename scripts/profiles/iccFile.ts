import { descriptionTag, iccOfTags, textTag, xyzTag } from '../../server/render/colour/iccTags.ts';
import type { Triple } from './inkModel.ts';

/* ICC profiles of class output, with tables of 16 bits from the inks to Lab and back, and one that tells what can't be printed. */

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

/** The profile as a file. Saturation and colorimetric intents share one table. */
export function iccFile({ description: name, space, white, toLab, perceptual, relative, gamut }: IccContent): Buffer {
  const [toLabTag, perceptualTag, relativeTag] = [table(toLab), table(perceptual), table(relative)];
  const tags: readonly (readonly [string, Buffer])[] = [
    ['desc', descriptionTag(name)],
    ['cprt', textTag('Made up by a script. Public domain (CC0).')],
    ['wtpt', xyzTag(white)],
    ['A2B0', toLabTag],
    ['A2B1', toLabTag],
    ['A2B2', toLabTag],
    ['B2A0', perceptualTag],
    ['B2A1', relativeTag],
    ['B2A2', relativeTag],
    ['gamt', table(gamut)],
  ];
  return iccOfTags({ deviceClass: 'prtr', space, connection: 'Lab ' }, tags);
}
