import { limitInks } from '../../../core/coats/inkLimits.ts';
import { type BlackPoints, compensated } from '../../../core/coats/blackPoint.ts';
import { type InkTable, bakeTable } from '../../../core/coats/inkTable.ts';
import type { Intent } from '../../../core/coats/intent.ts';
import { Unreadable } from '../facts.ts';
import { ColourLibrary, type OpenProfile, type Transform } from './colourLibrary.ts';

/** Nodes along each side of a table: of 65 light inks keep their kinks. */
export const TABLE_NODES = 65;

export interface BakeOrder {
  /** Profile of the pixels; null: sRGB. */
  readonly input: Uint8Array | null;
  readonly output: Uint8Array;
  /** Colours of the printer in the order of its profile. */
  readonly channels: readonly string[];
  readonly intent: Intent;
  /** Most ink at one place, as a sum of full layers; null: none. */
  readonly inkLimit: number | null;
  readonly nodes?: number;
}

const FULL = 65_535;
/** Of a and b in Lab of 16 bits. */
const NEUTRAL = 0x8080;

/**
 * Bakes profiles, intent and limit into one table, from RGB to the inks of a printer. Since a table is read by interpolation, a limit that
 * holds at its nodes holds everywhere. The white of the pixels is the bare media: no ink.
 * @throws Unreadable where a profile can't be used, with the reason
 */
export async function bakeInks(order: BakeOrder): Promise<InkTable> {
  const library = await ColourLibrary.open();
  try {
    const input = order.input === null ? library.sRgb() : library.profile(order.input);
    const output = library.profile(order.output);
    checkProfiles(input, output, order.channels);
    return bake(library, input, output, order);
  } finally {
    library.close();
  }
}

function checkProfiles(input: OpenProfile, output: OpenProfile, channels: readonly string[]): void {
  if (input.space !== 'RGB') throw new Unreadable(`${input.name} describes ${input.space}, and pixels are RGB here.`);
  if (output.deviceClass !== 'prtr') throw new Unreadable(`${output.name} is no profile of a printer.`);
  if (output.channels !== channels.length) {
    throw new Unreadable(
      `${output.name} is for ${String(output.channels)} inks, and the printer has ${String(channels.length)} colours: ${channels.join(', ')}.`,
    );
  }
}

function bake(library: ColourLibrary, input: OpenProfile, output: OpenProfile, order: BakeOrder): InkTable {
  const { intent, inkLimit, channels, nodes = TABLE_NODES } = order;
  const lab = library.lab();
  const own = intent === 'relative with black point' ? 'relative' : intent;
  const toLab = library.transform(input, lab, own);
  const toInk = library.transform(lab, output, own);
  let colours = toLab(gridOf(nodes));
  if (intent === 'relative with black point') {
    const points = blackPointsOf(toLab, toInk, library.transform(output, lab, 'relative'));
    colours = compensated(colours, points);
  }
  const inks = toInk(colours);
  const n = channels.length;
  const last = nodes - 1;
  return bakeTable(nodes, n, (_r, _g, _b, node) => {
    // The library itself does so for four inks only; what it leaves elsewhere are single dots on bare media.
    if (intent !== 'absolute' && node === (last * nodes + last) * nodes + last) return new Array<number>(n).fill(0);
    const shares = Array.from(inks.subarray(node * n, node * n + n), (ink) => ink / FULL);
    return limitInks(shares, inkLimit);
  });
}

/** Every node, the last of the three axes fastest. */
function gridOf(nodes: number): Uint16Array {
  const grid = new Uint16Array(nodes ** 3 * 3);
  const valueOf = (node: number): number => Math.round((node / (nodes - 1)) * FULL);
  let at = 0;
  for (let r = 0; r < nodes; r += 1) {
    for (let g = 0; g < nodes; g += 1) {
      for (let b = 0; b < nodes; b += 1) {
        grid.set([valueOf(r), valueOf(g), valueOf(b)], at);
        at += 3;
      }
    }
  }
  return grid;
}

/** L of the darkest of the pixels, and of the darkest that the printer makes of a black that it is asked for. */
function blackPointsOf(toLab: Transform, toInk: Transform, back: Transform): BlackPoints {
  const lightness = (lab: Uint16Array): number => (lab[0] ?? 0) / (FULL / 100);
  return {
    input: lightness(toLab(Uint16Array.of(0, 0, 0))),
    output: lightness(back(toInk(Uint16Array.of(0, NEUTRAL, NEUTRAL)))),
  };
}
