const MIN = 60_000;
const HOUR = 60 * MIN;

export interface TimeScale {
  readonly fromMs: number;
  readonly toMs: number;
  /** Between two labelled ticks. */
  readonly stepMs: number;
}

export const ZOOMS = [
  { name: '2 h', backMs: 20 * MIN, aheadMs: 100 * MIN, stepMs: 15 * MIN },
  { name: '6 h', backMs: HOUR, aheadMs: 5 * HOUR, stepMs: 30 * MIN },
  { name: '13 h', backMs: HOUR, aheadMs: 12 * HOUR, stepMs: HOUR },
  { name: '2 days', backMs: 3 * HOUR, aheadMs: 45 * HOUR, stepMs: 6 * HOUR },
  { name: 'week', backMs: 12 * HOUR, aheadMs: 156 * HOUR, stepMs: 24 * HOUR },
] as const;

/** Share of the strip's width at which an instant lies, as CSS. */
export function at(scale: TimeScale, ms: number): string {
  return `${String(((ms - scale.fromMs) / (scale.toMs - scale.fromMs)) * 100)}%`;
}

export function widthOf(scale: TimeScale, fromMs: number, toMs: number): string {
  return `${String((Math.max(0, toMs - fromMs) / (scale.toMs - scale.fromMs)) * 100)}%`;
}
