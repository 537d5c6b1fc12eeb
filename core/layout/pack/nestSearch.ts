import { float64At, int32At, itemAt } from '../../elementAt.ts';
import type { Random } from '../../random.ts';
import type { BeamStart, SizeClass, PlacedPiece } from './types.ts';
import { BeamPacker } from './beam.ts';
import { ExactSearch, MOST_EXACT } from './exactSearch.ts';
import { RowPacker } from './rowPacker.ts';
import { Skyline } from './skylineOver.ts';
import { type Genome, SkylinePacker } from './skyline.ts';

export interface SearchHooks {
  readonly spent: (steps: number) => boolean;
  readonly better: (packing: readonly PlacedPiece[], steps: number) => void;
  /** A floor that is dearer to find, asked for once, where the openings have not come down to the first one. */
  readonly sharperFloor?: () => number;
  /** Told once, at the end, where everything was tried: the best is the shortest that there is. */
  readonly proven?: () => void;
}

/** Up to so many pieces the beam starts from nothing; beyond, from the tail of the best packing. */
const WHOLE = 320;
/** Pieces in a tail that is packed again. */
const TAIL = 220;
/** Beyond so many pieces exact rows come first: of fewer pieces they find too few. */
const ROWS = 300;
/** One attempt in so many begins with rows anew, in another order. */
const ROWS_EVERY = 6;
const ROW_NOISE = 0.6;
/** Pieces that the rows leave to the beam. */
const ROW_REST = 150;
/** Beyond so many pieces the opening is only there to have something at once: the rows do better. */
const MANY = 1500;
const OPENINGS_OF_MANY = 1;
/** Few pieces: steps of the beam for each before all layouts are tried, and how many states that may take; each time more. */
const BEAM_FIRST = 25;
const EXACT_STATES = 2_000_000;
const EXACT_MORE = 4;
/** So many states of that take about as long as one of the beam: they count as a step. */
const STATES_A_STEP = 16;
/** Balance of the beam's guide, tried on instances with known optimum (bench/nest). */
const GREED = 0.07;
const ROUGH = 0.1;
const NOISE = 0.01;

/**
 * The search for a short layout of rectangles: openings that give something at once, rows, then a beam over
 * skylines, for as long as there is time. What it has found so far only ever gets better.
 */
export class NestSearch {
  /** Packings of the opening and states opened by the beam. */
  steps = 0;
  private top = Infinity;
  private best: readonly PlacedPiece[] = [];
  private readonly total: number;
  private readonly beam: BeamPacker;

  constructor(
    private readonly classes: readonly SizeClass[],
    private readonly width: number,
    private floor: number,
    private readonly random: Random,
    private readonly hooks: SearchHooks,
    /** Length of a sheet with the gap; Infinity on a roll. */
    private readonly period = Infinity,
  ) {
    this.total = classes.reduce((sum, c) => sum + c.count, 0);
    this.beam = new BeamPacker(classes, width, random, period);
  }

  run(): void {
    this.opening();
    if (this.top > this.floor && !this.spent()) this.floor = Math.max(this.floor, this.hooks.sharperFloor?.() ?? 0);
    let breadth = this.total <= WHOLE ? 12 : 16;
    const exact = this.total <= MOST_EXACT && this.period === Infinity;
    let exactAt = exact ? this.steps + BEAM_FIRST * this.total : Infinity;
    let states = EXACT_STATES;
    for (let attempt = 0; this.top > this.floor && !this.spent(); attempt++) {
      const anew = this.total > ROWS && this.period === Infinity && attempt % ROWS_EVERY === 0;
      const found = anew ? this.rows(attempt, breadth) : this.attempt(attempt, breadth);
      if (this.steps >= exactAt && this.top > this.floor) {
        if (this.tryAll(states)) {
          this.hooks.proven?.();
          return;
        }
        states *= EXACT_MORE;
        exactAt = this.steps + states / STATES_A_STEP / 2;
      }
      if (!found && !anew) breadth = Math.min(20_000, Math.ceil(breadth * 1.4));
    }
  }

  /** Exact rows for most of the pieces, the rest by the beam. */
  private rows(attempt: number, breadth: number): boolean {
    const noise = attempt === 0 ? 0 : ROW_NOISE;
    const packer = new RowPacker(this.classes, this.width, noise, this.random);
    const kept = Math.min(this.total / 3, ROW_REST * (attempt === 0 ? 1 : 0.6 + this.random()));
    const packing = packer.run(kept, () => {
      this.steps += 1;
      return this.best.length > 0 && this.spent();
    });
    return packing !== undefined && this.finish(packing.start, packing.placed, attempt, breadth);
  }

  /** Tries all layouts that are shorter, as far as so many states go; true where there is none left. */
  private tryAll(states: number): boolean {
    let tried = 0;
    const search = new ExactSearch(this.classes, this.width, this.floor, {
      spent: () => {
        tried += 1;
        if (tried % STATES_A_STEP !== 0) return false;
        this.steps += 1;
        return tried >= states || this.spent();
      },
      better: (packing, top) => {
        this.keep(packing, top);
      },
    });
    return search.run(this.top) === 'all tried';
  }

  private spent(): boolean {
    return this.hooks.spent(this.steps);
  }

  private opening(): void {
    const packer = new SkylinePacker(this.classes, this.width, this.period);
    let tried = 0;
    for (const genome of openingGenomes(this.classes, this.total <= MANY)) {
      const { top, unplaced } = packer.decode(genome, this.top - 1);
      this.steps += 1;
      if (unplaced === 0) this.keep(packer.placed(), top);
      tried += 1;
      if (this.top <= this.floor || (this.best.length > 0 && this.spent())) return;
      if (this.total > MANY && tried === OPENINGS_OF_MANY) return;
    }
  }

  private keep(packing: readonly PlacedPiece[], top: number): void {
    this.best = packing;
    this.top = top;
    this.hooks.better(packing, this.steps);
  }

  private attempt(attempt: number, breadth: number): boolean {
    const kept = this.total <= WHOLE ? 0 : Math.max(0, this.total - Math.round(TAIL * (0.4 + 1.2 * this.random())));
    return this.finish(this.startAfter(kept), this.best.slice(0, kept), attempt, breadth);
  }

  private finish(start: BeamStart, before: readonly PlacedPiece[], attempt: number, breadth: number): boolean {
    const vary = (): number => (attempt % 3 === 0 ? 1 : Math.exp((this.random() - 0.5) * 2));
    const found = this.beam.run(
      start,
      {
        breadth,
        ceiling: this.ceiling(),
        greed: GREED * vary(),
        rough: ROUGH * vary(),
        noise: NOISE,
      },
      () => {
        this.steps += 1;
        return this.spent();
      },
    );
    if (!found) return false;
    const tail = Array.from(found.entries, (entry, i): PlacedPiece => ({
      classIndex: this.beam.classAt(entry),
      turned: this.beam.turnedAt(entry),
      x: float64At(found.x, i),
      y: float64At(found.y, i),
    }));
    this.keep([...before, ...tail], found.top);
    return true;
  }

  /** What an attempt must stay under to be of use; on sheets, one sheet fewer where that may be possible. */
  private ceiling(): number {
    const sheets = this.period === Infinity ? 1 : Math.ceil(this.top / this.period);
    if (this.period !== Infinity && sheets > Math.ceil(this.floor / this.period)) return (sheets - 1) * this.period;
    // As few sheets as can be: the last one is used as little as can be.
    return this.top - Math.max(1, Math.floor((this.top - this.floor) * 0.02));
  }

  /** The skyline over the first `kept` pieces of the best packing: each piece lies on all that was there before it. */
  private startAfter(kept: number): BeamStart {
    const left = Int32Array.from(this.classes, (c) => c.count);
    const skyline = new Skyline(this.width);
    let packedArea = 0;
    for (const piece of this.best.slice(0, kept)) {
      const c = itemAt(this.classes, piece.classIndex);
      const w = piece.turned ? c.turnedW : c.w;
      const h = piece.turned ? c.turnedH : c.h;
      skyline.cover(piece.x, w, piece.y + h);
      left[piece.classIndex] = int32At(left, piece.classIndex) - 1;
      packedArea += w * h;
    }
    const start = skyline.startFor(this.classes, 0);
    return { ...start, left, waste: start.waste - packedArea, packedArea, packedCount: kept };
  }
}

const MEASURES: ((c: SizeClass) => number)[] = [
  (c) => c.w * c.h,
  (c) => c.h,
  (c) => c.w,
  (c) => Math.max(c.w, c.h),
  (c) => c.w + c.h,
];

function* openingGenomes(classes: readonly SizeClass[], pairs: boolean): Generator<Genome> {
  const flat = Uint8Array.from(classes, (c) => (c.turnedW > c.w ? 1 : 0));
  const tall = Uint8Array.from(classes, (c) => (c.turnedW < c.w ? 1 : 0));
  for (const measure of MEASURES) {
    const order = Int32Array.from(
      classes.map((_, i) => i).sort((a, b) => value(classes, b, measure) - value(classes, a, measure) || a - b),
    );
    for (const turned of [flat, tall]) {
      for (const reach of [0.1, 0.3, 1]) yield { order: order.slice(), turned: turned.slice(), reach, pairs };
    }
  }
}

function value(classes: readonly SizeClass[], index: number, measure: (c: SizeClass) => number): number {
  const c = classes[index];
  return c ? measure(c) : 0;
}
