import { type IccTable, iccFile } from './iccFile.ts';
import { type ModelledPrinter, type Triple, askedFor, labOfInks, mediaXyz, recipe } from './inkModel.ts';

/** What a full layer of each ink lets through. */
export const LETS: Readonly<Record<string, Triple>> = {
  cyan: [0.02, 0.38, 0.72],
  magenta: [0.6, 0.04, 0.22],
  yellow: [0.92, 0.8, 0.05],
  black: [0.025, 0.024, 0.026],
  'light-cyan': [0.3, 0.72, 0.88],
  'light-magenta': [0.86, 0.36, 0.58],
  'light-black': [0.2, 0.19, 0.18],
  grey: [0.44, 0.43, 0.41],
};

/** Nodes of inks to Lab along each ink, by how many inks there are. */
const INK_NODES: Readonly<Record<number, number>> = { 4: 9, 6: 5, 8: 4 };
const L_FULL = 0xff00;

/** Lab in 16 bits, as profiles of version 2 have it. */
function encoded([l, a, b]: Triple): Triple {
  const held = (value: number): number => Math.round(Math.min(65_535, Math.max(0, value)));
  return [held((l / 100) * L_FULL), held(a * 256 + 0x8000), held(b * 256 + 0x8000)];
}

/** Calls back for each node of a grid, the last axis fastest. */
function eachNode(inputs: number, nodes: number, act: (at: readonly number[], index: number) => void): void {
  for (let index = 0; index < nodes ** inputs; index += 1) {
    const at: number[] = [];
    for (let left = index, i = 0; i < inputs; i += 1) {
      at.unshift(left % nodes);
      left = Math.floor(left / nodes);
    }
    act(at, index);
  }
}

function toLabTable(printer: ModelledPrinter): IccTable {
  const inputs = printer.inks.length;
  const nodes = INK_NODES[inputs] ?? 4;
  const values = new Uint16Array(nodes ** inputs * 3);
  eachNode(inputs, nodes, (at, index) => {
    values.set(
      encoded(
        labOfInks(
          printer,
          at.map((node) => node / (nodes - 1)),
        ),
      ),
      index * 3,
    );
  });
  return { inputs, outputs: 3, nodes, values };
}

/** The white of the media, 0xFF00, lies on the last node: what is lighter is white as well. */
const LIGHTNESS = Uint16Array.from({ length: 257 }, (_, k) => Math.min(65_535, Math.round((k / 255) * 65_535)));

/** Lab of a node of a table that begins with {@link LIGHTNESS}. */
function labOfNode([l = 0, a = 0, b = 0]: readonly number[], labNodes: number): Triple {
  const side = labNodes - 1;
  return [(l / side) * 100, (a / side) * (65_535 / 256) - 128, (b / side) * (65_535 / 256) - 128];
}

/** @param toned the colour that is aimed at instead of that of a node */
function toInkTable(printer: ModelledPrinter, labNodes: number, toned: (lab: Triple) => Triple): IccTable {
  const outputs = printer.inks.length;
  const values = new Uint16Array(labNodes ** 3 * outputs);
  const known = new Map<number, Triple>();
  const middle = (labNodes - 1) / 2;
  eachNode(3, labNodes, (at, index) => {
    const lab = toned(labOfNode(at, labNodes));
    const before = known.get(index - 1) ?? known.get(index - labNodes) ?? [0.3, 0.3, 0.3];
    // A neighbour may lie in a corner from which no way leads on: the middle is tried as well, and the nearer one taken.
    const ways = [before, [0.4, 0.4, 0.4] as const].map((start) => askedFor(printer, lab, start));
    const missOf = (asked: Triple): number => {
      const got = labOfInks(printer, recipe(printer, asked));
      return Math.hypot(lab[0] - got[0], lab[1] - got[1], lab[2] - got[2]);
    };
    const [first = before, second = before] = ways;
    const asked = missOf(first) <= missOf(second) ? first : second;
    known.set(index, asked);
    const isWhite = at[0] === labNodes - 1 && at[1] === middle && at[2] === middle;
    if (isWhite) return;
    values.set(
      recipe(printer, asked).map((share) => Math.round(share * 65_535)),
      index * outputs,
    );
  });
  return { inputs: 3, outputs, nodes: labNodes, values, lightness: LIGHTNESS };
}

/** 0 where a colour can be printed within 3 dE, else full. */
function gamutTable(printer: ModelledPrinter, labNodes: number): IccTable {
  const values = new Uint16Array(labNodes ** 3);
  eachNode(3, labNodes, (at, index) => {
    const lab = labOfNode(at, labNodes);
    const got = labOfInks(printer, recipe(printer, askedFor(printer, lab, [0.4, 0.4, 0.4])));
    values[index] = Math.hypot(lab[0] - got[0], lab[1] - got[1], lab[2] - got[2]) > 3 ? 65_535 : 0;
  });
  return { inputs: 3, outputs: 1, nodes: labNodes, values, lightness: LIGHTNESS };
}

const SPACES: Readonly<Record<number, string>> = { 4: 'CMYK', 6: '6CLR', 8: '8CLR' };

const LAB_NODES = 17;

/**
 * The profile of a made-up printer, as ICC.
 * @param labNodes along each side of the tables from Lab: odd, so that the greys lie on nodes; fewer are made sooner
 */
export function madeProfile(printer: ModelledPrinter, description: string, labNodes = LAB_NODES): Buffer {
  const space = SPACES[printer.inks.length];
  if (space === undefined) throw new Error(`no space has ${String(printer.inks.length)} inks`);
  const [darkest] = labOfInks(printer, recipe(printer, [1, 1, 1]));
  return iccFile({
    description,
    space,
    white: mediaXyz(printer),
    toLab: toLabTable(printer),
    // Seen as a whole: from the darkest that can be printed to the white of the media, colours a little quieter.
    perceptual: toInkTable(printer, labNodes, ([l, a, b]) => [
      darkest + (l / 100) * (100 - darkest),
      a * 0.94,
      b * 0.94,
    ]),
    relative: toInkTable(printer, labNodes, (lab) => lab),
    gamut: gamutTable(printer, labNodes),
  });
}
