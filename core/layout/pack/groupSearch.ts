import { float64At, int32At, itemAt } from '../../elementAt.ts';
import type { Random } from '../../random.ts';
import { BeamPacker } from './beam.ts';
import type { PlacedPiece, SizeClass } from './types.ts';
import type { SearchHooks } from './nestSearch.ts';
import { Skyline } from './skylineOver.ts';

/** Pieces that one beam lays at a time: more would make its levels long before anything is seen. */
const PORTION = 160;
const FIRST_BREADTH = 8;

/**
 * Groups one after another: each is packed by a beam onto the skyline that the groups before it left, so that in every
 * column nothing of a later group lies before an earlier one. Passes over all groups with ever broader beams.
 */
export class GroupSearch {
  steps = 0;
  private top = Infinity;
  private readonly portions: readonly (readonly { readonly index: number; readonly c: SizeClass }[])[];

  constructor(
    classes: readonly SizeClass[],
    groups: readonly number[],
    private readonly width: number,
    private readonly floor: number,
    private readonly random: Random,
    private readonly hooks: SearchHooks,
    private readonly period = Infinity,
  ) {
    this.portions = portionsOf(classes, groups);
  }

  run(): void {
    for (let breadth = FIRST_BREADTH; this.top > this.floor; breadth = Math.min(4000, Math.ceil(breadth * 1.5))) {
      if (!this.pass(breadth)) return;
    }
  }

  /** @returns false once time is up */
  private pass(breadth: number): boolean {
    const first = this.top === Infinity;
    const placed: PlacedPiece[] = [];
    const skyline = new Skyline(this.width);
    for (const portion of this.portions) {
      const classes = portion.map(({ c }) => c);
      const beam = new BeamPacker(classes, this.width, this.random, this.period);
      // Sheets before this one are closed; the heights count from where the lowest column stands.
      const under = this.period === Infinity ? skyline.low() : Math.floor(skyline.low() / this.period) * this.period;
      const start = skyline.startFor(classes, under);
      const stack = classes.reduce((sum, c) => sum + c.count * Math.max(c.h, c.turnable ? c.turnedH : 0), 0);
      const sheets = this.period === Infinity ? 0 : this.period * (1 + classes.reduce((sum, c) => sum + c.count, 0));
      const ceiling = first ? skyline.high() - under + Math.max(stack, sheets) : this.top - under - 1;
      const found = beam.run(start, { breadth, ceiling, greed: 0.07, rough: 0.1, noise: first ? 0 : 0.02 }, () => {
        this.steps += 1;
        // The first pass is what there is to show: it is always brought to its end.
        return !first && this.hooks.spent(this.steps);
      });
      if (!found) return !this.hooks.spent(this.steps);
      for (let i = 0; i < found.entries.length; i++) {
        const entry = int32At(found.entries, i);
        const { index, c } = itemAt(portion, beam.classAt(entry));
        const turned = beam.turnedAt(entry);
        const piece = { classIndex: index, turned, x: float64At(found.x, i), y: float64At(found.y, i) + under };
        placed.push(piece);
        skyline.cover(piece.x, turned ? c.turnedW : c.w, piece.y + (turned ? c.turnedH : c.h));
      }
    }
    if (skyline.high() < this.top) {
      this.top = skyline.high();
      this.hooks.better(placed, this.steps);
    }
    return !this.hooks.spent(this.steps);
  }
}

/** Each group in portions, high pieces first, so that its rows are level where the next portion begins. */
function portionsOf(
  classes: readonly SizeClass[],
  groups: readonly number[],
): { readonly index: number; readonly c: SizeClass }[][] {
  const order = classes
    .map((c, index) => ({ index, c, group: groups[index] ?? 0 }))
    .sort((a, b) => a.group - b.group || Math.max(b.c.w, b.c.h) - Math.max(a.c.w, a.c.h));
  const portions: { index: number; c: SizeClass }[][] = [];
  let group: number | undefined;
  let room = 0;
  for (const { index, c, group: own } of order) {
    for (let rest = c.count; rest > 0;) {
      if (own !== group || room === 0) {
        portions.push([]);
        group = own;
        room = PORTION;
      }
      const taken = Math.min(rest, room);
      portions[portions.length - 1]?.push({ index, c: { ...c, count: taken } });
      rest -= taken;
      room -= taken;
    }
  }
  return portions;
}
