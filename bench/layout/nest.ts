/*
 * Nesting: used length ÷ known optimum over seeded zero-waste instances, beside two packers from npm on the same
 * instances in the same run; orders of few kinds ÷ the bound of their rows; and how many small orders are proven to be the
 * shortest that there are. Usage: npm run bench:nest [-- milliseconds]
 */
import { createRequire } from 'node:module';
import type * as maxrects from 'maxrects-packer';
import { float64At } from '../../core/elementAt.ts';
import { nest } from '../../core/layout/nest.ts';
import type { NestLayout } from '../../core/layout/nestLayout.ts';
import type { NestPiece } from '../../core/layout/nestPiece.ts';
import { type NestInput, parseNestRequest } from '../../core/layout/nestInput.ts';
import { zeroWasteInstance } from '../../core/testing/zeroWaste.ts';
import { seededRandom } from '../../core/random.ts';

interface ShelfPacker {
  packOne(width: number, height: number): { readonly y: number } | null;
}

// Both ship CommonJS; one has no types.
const load = createRequire(import.meta.url);
const { MaxRectsPacker } = load('maxrects-packer') as typeof maxrects;
const ShelfPack = load('@mapbox/shelf-pack') as new (width: number, height: number) => ShelfPacker;

const LIMIT_MS = Number(process.argv[2] ?? 1000);
const SIZES = [50, 100, 200, 500, 1000, 5000];
const SEEDS = 16;

interface Outcome {
  readonly ratio: number;
  readonly ms: number;
}

interface Family {
  readonly name: string;
  readonly cut: 'guillotine' | 'pinwheel';
  readonly gapMm: number;
  readonly stepMm: number;
}

const FAMILIES: readonly Family[] = [
  { name: 'guillotine', cut: 'guillotine', gapMm: 0, stepMm: 0.2 },
  { name: 'pinwheel', cut: 'pinwheel', gapMm: 0, stepMm: 0.2 },
  { name: 'with gap and decimals', cut: 'guillotine', gapMm: 3.2, stepMm: 0.1 },
];

function instance(pieces: number, seed: number, family: Family): { input: NestInput; optimumMm: number } {
  const random = seededRandom(pieces * 1000 + seed);
  const { request, optimumMm } = zeroWasteInstance(
    {
      pieces,
      widthMm: [1340, 914.4, 1590][seed % 3] ?? 1340,
      lengthMm: 1200 + pieces * 12,
      gapMm: family.gapMm,
      marginMm: seed % 2 ? 10 : 0,
      quarterTurn: seed % 4 < 2,
      cut: family.cut,
      stepMm: family.stepMm,
      evenness: 0.25,
    },
    random,
  );
  const parsed = parseNestRequest(request);
  if (!parsed.ok) throw new Error(JSON.stringify(parsed.reason));
  return { input: parsed.value, optimumMm };
}

function timed(run: () => number, optimumMm: number): Outcome {
  const start = performance.now();
  const lengthMm = run();
  return { ratio: lengthMm / optimumMm, ms: performance.now() - start };
}

function ours(input: NestInput): number {
  const start = performance.now();
  return nest(input, {
    seed: 1,
    stepBudget: Number.MAX_SAFE_INTEGER,
    shouldStop: () => performance.now() - start > LIMIT_MS,
  }).lengthMm;
}

function maxRects(input: NestInput): number {
  const { leadMm, trailMm, leftMm, rightMm } = input.margins;
  const packer = new MaxRectsPacker(input.widthMm - leftMm - rightMm, 1e7, input.gapXMm, {
    smart: false,
    pot: false,
    allowRotation: input.pieces[0]?.quarterTurn ?? false,
  });
  const tallestFirst = [...input.pieces].sort(
    (a, b) => Math.max(b.widthMm, b.heightMm) - Math.max(a.widthMm, a.heightMm),
  );
  for (const piece of tallestFirst) packer.add(piece.widthMm, piece.heightMm, piece.id);
  const end = packer.bins[0]?.rects.reduce((most, rect) => Math.max(most, rect.y + rect.height), 0) ?? 0;
  return end + leadMm + trailMm;
}

function shelves(input: NestInput): number {
  const { leadMm, trailMm, leftMm, rightMm } = input.margins;
  const { gapXMm: gap } = input;
  const packer = new ShelfPack(input.widthMm - leftMm - rightMm + gap, 1e7);
  const room = input.widthMm - leftMm - rightMm;
  // It doesn't turn by itself: pieces that may turn are laid flat where that fits.
  const flat = input.pieces.map((piece) => {
    const [long, short] = [Math.max(piece.widthMm, piece.heightMm), Math.min(piece.widthMm, piece.heightMm)];
    if (!piece.quarterTurn) return { widthMm: piece.widthMm, heightMm: piece.heightMm };
    return long <= room ? { widthMm: long, heightMm: short } : { widthMm: short, heightMm: long };
  });
  const tallestFirst = flat.sort((a, b) => b.heightMm - a.heightMm);
  let end = 0;
  for (const piece of tallestFirst) {
    const bin = packer.packOne(piece.widthMm + gap, piece.heightMm + gap);
    if (!bin) throw new Error('the shelf packer found no place');
    end = Math.max(end, bin.y + piece.heightMm);
  }
  return end + leadMm + trailMm;
}

function median(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  const middle = sorted.length / 2;
  return ((sorted[Math.floor(middle - 0.5)] ?? 0) + (sorted[Math.floor(middle)] ?? 0)) / 2;
}

function cell(outcomes: readonly Outcome[]): string {
  const ratios = outcomes.map((outcome) => outcome.ratio);
  const ms = median(outcomes.map((outcome) => outcome.ms));
  return `${median(ratios).toFixed(4)} / ${Math.max(...ratios).toFixed(4)} / ${ms.toFixed(0).padStart(5)} ms`;
}

for (const family of FAMILIES) {
  process.stdout.write(
    `Used length ÷ optimum, ${family.name}: median / worst / median time, ${String(SEEDS)} instances a row, limit ${String(LIMIT_MS)} ms\n`,
  );
  process.stdout.write('pieces  ours                            maxrects-packer                 @mapbox/shelf-pack\n');
  for (const pieces of SIZES) {
    const instances = Array.from({ length: SEEDS }, (_, seed) => instance(pieces, seed, family));
    const columns = [ours, maxRects, shelves].map((pack) => {
      // Its time grows with the cube of the pieces: minutes an instance.
      if (pack === maxRects && pieces > 500) return 'not run: too slow';
      return cell(instances.map(({ input, optimumMm }) => timed(() => pack(input), optimumMm)));
    });
    process.stdout.write(`${String(pieces).padStart(6)}  ${columns.map((column) => column.padEnd(32)).join('')}\n`);
  }
}

function nested(pieces: readonly NestPiece[], widthMm: number): NestLayout {
  const parsed = parseNestRequest({ widthMm, gapMm: 5, marginMm: 0, pieces });
  if (!parsed.ok) throw new Error(JSON.stringify(parsed.reason));
  const start = performance.now();
  return nest(parsed.value, {
    seed: 1,
    stepBudget: Number.MAX_SAFE_INTEGER,
    shouldStop: () => performance.now() - start > LIMIT_MS,
  });
}

// The same few sizes again and again, none wide: what a label order looks like. The optimum is not known; the bound is.
for (const [kinds, quarterTurn] of [
  [4, false],
  [8, false],
  [8, true],
] as const) {
  const random = seededRandom(77 + kinds);
  const ratios = Array.from({ length: SEEDS }, () => {
    const pieces = Array.from({ length: kinds }, (_, i) => ({
      id: `k${String(i)}`,
      widthMm: 40 + Math.floor(random() * 180),
      heightMm: 40 + Math.floor(random() * 240),
      copies: 6 + Math.floor(random() * 30),
      quarterTurn,
    }));
    const { lengthMm, boundMm } = nested(pieces, 1340);
    return lengthMm / boundMm;
  });
  process.stdout.write(
    `Orders of ${String(kinds)} sizes with copies, ${quarterTurn ? 'turning' : 'fixed direction'}, ÷ the bound of their rows: median ${median(ratios).toFixed(4)}, worst ${Math.max(...ratios).toFixed(4)}\n`,
  );
}

/** A small order: some sizes have copies, and either all may turn or none. */
function smallOrder(count: number, random: () => number): NestPiece[] {
  const [large, quarterTurn] = [random() < 0.5, random() < 0.6];
  const pieces: NestPiece[] = [];
  for (let left = count; left > 0;) {
    const copies = random() < 0.3 ? Math.min(left, 1 + Math.floor(random() * 4)) : 1;
    left -= copies;
    const widthMm = 80 + Math.floor(random() * (large ? 700 : 350));
    const heightMm = 80 + Math.floor(random() * (large ? 900 : 400));
    pieces.push({ id: String(pieces.length), widthMm, heightMm, copies, quarterTurn });
  }
  return pieces;
}

for (const [least, most] of [
  [1, 8],
  [1, 12],
  [9, 12],
  [16, 16],
] as const) {
  const orders = Array.from({ length: SEEDS * 4 }, (_, seed) => {
    const random = seededRandom(seed * 17 + least + most);
    return smallOrder(least + Math.floor(random() * (most - least + 1)), random);
  });
  const proven = orders.filter((pieces, seed) => {
    const { lengthMm, boundMm } = nested(pieces, [1340, 1590, 1300][seed % 3] ?? 1340);
    return lengthMm <= boundMm + 1e-6;
  }).length;
  process.stdout.write(
    `Orders of ${String(least)} to ${String(most)} pieces that are proven the shortest within the limit: ${String(proven)} of ${String(orders.length)}\n`,
  );
}

/** What the checked accessor of the kernels costs: the same walk over a flat array with it and with bare access. */
function accessorRatio(): number {
  const array = Float64Array.from({ length: 1 << 16 }, (_, i) => i % 97);
  const checked = (): number => {
    let sum = 0;
    for (let i = 0; i < array.length; i++) sum += float64At(array, i);
    return sum;
  };
  const bare = (): number => {
    let sum = 0;
    for (let i = 0; i < array.length; i++) sum += array[i] ?? 0;
    return sum;
  };
  const spent = (walk: () => number): number => {
    const start = performance.now();
    for (let i = 0; i < 400; i++) if (walk() <= 0) throw new Error('nothing was added up');
    return performance.now() - start;
  };
  spent(checked);
  spent(bare);
  // Turn by turn, so that both meet the same moments of the machine.
  const turns = Array.from({ length: 9 }, () => spent(checked) / spent(bare));
  return median(turns);
}
process.stdout.write(`Checked access to an element ÷ bare access: ${accessorRatio().toFixed(2)}\n`);
