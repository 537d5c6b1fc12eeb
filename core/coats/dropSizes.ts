import { itemAt } from '../elementAt.ts';

/** Dots have two bits: none, small, medium and full drops. Volumes of the drops of each level of a mode (pl), the full one last: [small, medium, full]. */
export type DropSizes = readonly [number, number, number];

/**
 * Ink of counted dots (ml) = Σ over levels (dots · pl) · 1e−9 · repeats · heads. Source: dots to ml.
 * @param dots of each level, [0] none … [3] full
 */
export function dotsMl(dots: readonly number[], sizes: DropSizes, repeats = 1, heads = 1): number {
  const pl = sizes.reduce((sum, volume, i) => sum + itemAt(dots, i + 1) * volume, 0);
  return pl * 1e-9 * repeats * heads;
}

/** Ink that counted dots come to, as a share of full drops everywhere. */
export function firedShare(dots: readonly number[], sizes: DropSizes): number {
  const all = dots.reduce((sum, count) => sum + count, 0);
  const full = sizes[2];
  return all === 0 ? 0 : dotsMl(dots, sizes) / (all * full * 1e-9);
}

/** Volumes of small and medium drops beside a full one, where a mode does not say otherwise. */
const DROP_SHARES = [3 / 7, 5 / 7] as const;

/** Volumes of drops of which the full one is so large (pl), the others as most heads have them. */
export function dropSizesOf(fullPl: number): DropSizes {
  return [DROP_SHARES[0] * fullPl, DROP_SHARES[1] * fullPl, fullPl];
}

/** What a mode says of its drops (pl); what it leaves out is as most heads have it. */
export interface ModeDrops {
  readonly dropPl: number;
  readonly smallPl?: number | null;
  readonly mediumPl?: number | null;
}

/** Volumes of the drops of a mode (pl). */
export function dropsOfMode({ dropPl, smallPl, mediumPl }: ModeDrops): DropSizes {
  const [small, medium, full] = dropSizesOf(dropPl);
  return [smallPl ?? small, mediumPl ?? medium, full];
}

/** Whether drops can be told apart: each larger than the one before. */
export function dropsGrow([small, medium, full]: DropSizes): boolean {
  return small > 0 && small < medium && medium < full;
}
