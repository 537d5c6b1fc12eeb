import { type Random, seededRandom } from '../../random.ts';
import { toGrid } from './grid.ts';
import type { Orientation } from '../orientations.ts';
import type { NestControl, NestLayout, Placement } from '../nestLayout.ts';
import type { NestPiece } from '../nestPiece.ts';
import { lowerBoundMm } from '../bound.ts';
import { type NestInput, fittingOrientations, usableLengthMm, usableWidthMm } from '../nestInput.ts';

/** Copies of a piece as one rectangle: columns across, rows along, the last row perhaps not full. */
interface Block {
  readonly orientation: Orientation;
  readonly columns: number;
  readonly rows: number;
  readonly widthMm: number;
  readonly heightMm: number;
}

/** Searches of one choice of blocks take so many steps at first, then ever more. */
const FIRST_STEPS = 250;
/** So many choices of blocks are all tried. */
const MOST_CHOICES = 64;

/**
 * Nests with the copies of some pieces kept together, each such piece as one block. Which shape a block takes is varied
 * from one search to the next: first the shapes that waste least, then one piece changed at a time, kept where it helps.
 * @param inner nests what has no copies to be kept together
 */
export function nestBlocks(
  input: NestInput,
  control: NestControl,
  inner: (input: NestInput, control: NestControl) => NestLayout,
): NestLayout {
  const random = seededRandom(control.seed);
  const shapes = new Map(
    input.pieces.filter((piece) => isBlock(piece)).map((piece) => [piece.id, blocksOf(input, piece)] as const),
  );
  const splitUp = [...shapes].filter(([, blocks]) => blocks.length === 0).map(([id]) => id);
  for (const id of splitUp) shapes.delete(id);
  const { starts, all } = startsOf(shapes);
  let [chosen = new Map<string, Block>()] = starts;
  let best: NestLayout | undefined;
  let steps = 0;
  let settled = true;
  // No choice of blocks can beat what no layout of the pieces can.
  const boundMm = lowerBoundMm(input);
  const areaMm2 = [...input.pieces, ...input.fixed.map((rect) => ({ ...rect, copies: 1 }))].reduce(
    (sum, { widthMm, heightMm, copies }) => sum + widthMm * heightMm * copies,
    0,
  );
  const spent = (): boolean => steps >= control.stepBudget || (control.shouldStop?.() ?? false);
  for (let attempt = 0; attempt === 0 || !spent(); attempt++) {
    const tried = starts[attempt] ?? changed(chosen, shapes, random);
    const budget = Math.min(control.stepBudget - steps, FIRST_STEPS + 20 * attempt);
    const raw = inner(withBlocks(input, tried), {
      seed: control.seed + attempt,
      stepBudget: Math.max(1, budget),
      ...(control.shouldStop ? { shouldStop: control.shouldStop } : {}),
    });
    steps += Math.max(1, raw.steps);
    settled &&= raw.lengthMm <= raw.boundMm + 1e-6;
    const { lengthMm } = raw;
    const utilisation = lengthMm > 0 ? areaMm2 / (input.widthMm * lengthMm) : 0;
    const layout = { ...raw, boundMm, utilisation, steps, placements: takenApart(input, raw.placements, tried) };
    if (!best || lengthMm < best.lengthMm - 1e-9) {
      best = layout;
      chosen = tried;
      control.onBetter?.(layout);
    }
    if (best.lengthMm <= boundMm + 1e-6 || shapes.size === 0) break;
    // Every choice has been tried, and none of them could be laid out any shorter.
    if (all && settled && attempt + 1 >= starts.length) return { ...best, steps, boundMm: best.lengthMm };
  }
  if (!best) throw new Error('the first choice of blocks is always nested');
  return { ...best, steps };
}

/**
 * What is tried first: the shapes that waste least, then the lowest ones, which feed least where there is room beside them; and
 * every choice where there are few.
 * @returns also whether that is all that could be chosen
 */
function startsOf(shapes: ReadonlyMap<string, readonly Block[]>): {
  readonly starts: Map<string, Block>[];
  readonly all: boolean;
} {
  const lowest = (blocks: readonly Block[]): Block[] => [...blocks].sort((a, b) => a.heightMm - b.heightMm).slice(0, 1);
  const product = (of: (blocks: readonly Block[]) => readonly Block[]): Map<string, Block>[] => {
    let choices = [new Map<string, Block>()];
    for (const [id, blocks] of shapes) {
      choices = choices.flatMap((chosen) => of(blocks).map((block) => new Map(chosen).set(id, block)));
    }
    return choices;
  };
  const all = [...shapes.values()].reduce((count, blocks) => count * blocks.length, 1) <= MOST_CHOICES;
  const starts = [
    ...product((blocks) => blocks.slice(0, 1)),
    ...product(lowest),
    ...(all ? product((blocks) => blocks) : []),
  ];
  return { starts, all };
}

function isBlock(piece: NestPiece): boolean {
  return piece.together === true && piece.copies > 1 && !piece.held;
}

/** All blocks of a piece that fit, those that waste least and are least drawn out first; none where only a part fits. */
function blocksOf(input: NestInput, piece: NestPiece): Block[] {
  const room = { across: toGrid(usableWidthMm(input)), along: usableLengthMm(input) };
  const blocks = fittingOrientations(input, piece).flatMap((orientation) => {
    const list: Block[] = [];
    for (let columns = 1; columns <= piece.copies; columns++) {
      const widthMm = columns * orientation.widthMm + (columns - 1) * input.gapXMm;
      if (toGrid(widthMm) > room.across) break;
      const rows = Math.ceil(piece.copies / columns);
      // The same rows with fewer columns waste less.
      if (columns > 1 && Math.ceil(piece.copies / (columns - 1)) === rows) continue;
      const heightMm = rows * orientation.heightMm + (rows - 1) * input.gapYMm;
      if (heightMm > room.along + 1e-9) continue;
      list.push({ orientation, columns, rows, widthMm, heightMm });
    }
    return list;
  });
  const area = (block: Block): number => block.widthMm * block.heightMm;
  const drawnOut = ({ widthMm, heightMm }: Block): number => Math.max(widthMm / heightMm, heightMm / widthMm);
  return blocks.sort((a, b) => area(a) * (1 + drawnOut(a) / 50) - area(b) * (1 + drawnOut(b) / 50));
}

function changed(
  chosen: ReadonlyMap<string, Block>,
  shapes: ReadonlyMap<string, readonly Block[]>,
  random: Random,
): Map<string, Block> {
  const next = new Map(chosen);
  const ids = [...shapes.keys()];
  for (let n = 1 + Math.floor(random() * 2); n > 0; n--) {
    const id = ids[Math.floor(random() * ids.length)];
    const blocks = id === undefined ? [] : (shapes.get(id) ?? []);
    // Squared: the first ones waste least.
    const block = blocks[Math.floor(random() ** 2 * blocks.length)];
    if (id !== undefined && block) next.set(id, block);
  }
  return next;
}

/** The problem with each block as one piece that may not turn: its orientation is chosen already. */
function withBlocks(input: NestInput, chosen: ReadonlyMap<string, Block>): NestInput {
  return {
    ...input,
    pieces: input.pieces.map((piece) => {
      const block = chosen.get(piece.id);
      if (!block) return { ...piece, together: false };
      const { widthMm, heightMm } = block;
      const group = piece.group === undefined ? {} : { group: piece.group };
      return { id: piece.id, widthMm, heightMm, copies: 1, quarterTurn: false, ...group };
    }),
  };
}

function takenApart(
  input: NestInput,
  placements: readonly Placement[],
  chosen: ReadonlyMap<string, Block>,
): Placement[] {
  const copies = new Map(input.pieces.map((piece) => [piece.id, piece.copies]));
  return placements.flatMap((placement) => {
    const block = chosen.get(placement.id);
    if (!block) return [placement];
    const { orientation, columns } = block;
    return Array.from({ length: copies.get(placement.id) ?? 0 }, (_, copy) => ({
      id: placement.id,
      copy,
      xMm: placement.xMm + (copy % columns) * (orientation.widthMm + input.gapXMm),
      yMm: placement.yMm + Math.floor(copy / columns) * (orientation.heightMm + input.gapYMm),
      angleDeg: orientation.angleDeg,
    }));
  });
}
