const HOUR = 3_600_000;

/** Spans of time that one click shows: how far back, and how much in all (h). */
export const ZOOMS = [
  { name: '1 h', backH: 0.15, allH: 1 },
  { name: '6 h', backH: 0.75, allH: 6 },
  { name: '13 h', backH: 1, allH: 13 },
  { name: '2 days', backH: 3, allH: 48 },
  { name: 'week', backH: 12, allH: 168 },
] as const;

const LEAST_H = 1;
const MOST_H = 24 * 8;

/** What of the strips is drawn at present, a little more than can be seen. */
export interface Drawn {
  readonly fromMs: number;
  readonly toMs: number;
  readonly pxPerH: number;
}

/**
 * Which time the strips show. While a person pans or zooms, layers are moved and stretched as they are, so that every frame is
 * cheap: nothing is laid out or painted anew. What is drawn is renewed after a gesture, and when it no longer covers what is seen.
 *
 *   base ──────── left edge (now − back) ──── now ────────── right edge
 */
export class TimeView {
  private widthPx = 1;
  private allH: number;
  private backH: number;
  private element: HTMLElement | null = null;
  private settle: ReturnType<typeof setTimeout> | undefined;
  private drawn: Drawn;

  constructor(
    /** Everything is placed in hours from here. */
    readonly baseMs: number,
    private nowMs: number,
    private readonly onDrawn: (drawn: Drawn) => void,
    start: { readonly backH: number; readonly allH: number },
  ) {
    this.allH = start.allH;
    this.backH = start.backH;
    this.drawn = this.wanted();
  }

  get pxPerH(): number {
    return this.widthPx / this.allH;
  }

  get span(): { readonly backH: number; readonly allH: number } {
    return { backH: this.backH, allH: this.allH };
  }

  private get leftMs(): number {
    return this.nowMs - this.backH * HOUR;
  }

  /** The instant under a point of the strips (px from their left edge). */
  at(px: number): number {
    return this.leftMs + (px / this.pxPerH) * HOUR;
  }

  /** Where an instant lies (px from the strips' left edge). */
  pxOf(ms: number): number {
    return ((ms - this.leftMs) / HOUR) * this.pxPerH;
  }

  attach(element: HTMLElement | null): void {
    this.element = element;
    element?.style.setProperty('--pxh', `${String(this.drawn.pxPerH)}px`);
    this.apply();
  }

  resize(widthPx: number): void {
    if (widthPx < 1 || widthPx === this.widthPx) return;
    this.widthPx = widthPx;
    this.renew();
  }

  tick(nowMs: number): void {
    this.nowMs = nowMs;
    this.apply();
    this.renewIfBare();
  }

  show(backH: number, allH: number): void {
    this.allH = Math.min(MOST_H, Math.max(LEAST_H, allH));
    this.backH = backH;
    this.renew();
  }

  /** Moves what is seen, as a hand moves paper: to the right by so many px, which brings earlier times into sight. */
  pan(px: number): void {
    this.backH += px / this.pxPerH;
    this.moved();
  }

  /** @param atPx the point that stays where it is */
  zoom(factor: number, atPx: number): void {
    const fixed = this.at(atPx);
    this.allH = Math.min(MOST_H, Math.max(LEAST_H, this.allH * factor));
    this.backH = (this.nowMs - fixed) / HOUR + atPx / this.pxPerH;
    this.moved();
  }

  private moved(): void {
    this.apply();
    this.renewIfBare();
    clearTimeout(this.settle);
    this.settle = setTimeout(() => {
      this.renew();
    }, 140);
  }

  private apply(): void {
    if (!this.element) return;
    const shift = -((this.leftMs - this.baseMs) / HOUR) * this.pxPerH;
    const stretch = this.pxPerH / this.drawn.pxPerH;
    // Set on the layers themselves: a variable on their parent would have everything in them styled anew.
    const moved = `translateX(${String(shift)}px)${Math.abs(stretch - 1) < 1e-6 ? '' : ` scaleX(${String(stretch)})`}`;
    for (const layer of this.element.querySelectorAll<HTMLElement>('.strip-layer')) layer.style.transform = moved;
    const now = `translateX(${String(this.backH * this.pxPerH)}px)`;
    for (const mark of this.element.querySelectorAll<HTMLElement>('.now-mark')) mark.style.transform = now;
  }

  private wanted(): Drawn {
    const spare = this.allH * HOUR;
    return { fromMs: this.leftMs - spare, toMs: this.leftMs + 2 * spare, pxPerH: this.pxPerH };
  }

  private renewIfBare(): void {
    const right = this.leftMs + this.allH * HOUR;
    const ratio = this.drawn.pxPerH / this.pxPerH;
    if (this.leftMs < this.drawn.fromMs || right > this.drawn.toMs || ratio > 4 || ratio < 0.25) this.renew();
  }

  private renew(): void {
    this.drawn = this.wanted();
    this.element?.style.setProperty('--pxh', `${String(this.drawn.pxPerH)}px`);
    this.apply();
    this.onDrawn(this.drawn);
  }

  /** What has just come into the page has not been moved yet. */
  place(): void {
    this.apply();
  }
}

/** CSS of something that lies at its time. */
export function place(
  baseMs: number,
  fromMs: number,
  toMs?: number,
): { readonly left: string; readonly width?: string } {
  const hours = (ms: number): string => ((ms - baseMs) / HOUR).toFixed(5);
  const left = `calc(var(--pxh) * ${hours(fromMs)})`;
  return toMs === undefined ? { left } : { left, width: `calc(var(--pxh) * ${((toMs - fromMs) / HOUR).toFixed(5)})` };
}

const STEPS_H = [1 / 12, 1 / 6, 0.25, 0.5, 1, 2, 3, 6, 12, 24] as const;
/** Between two labels at least (px). */
const LABEL_PX = 62;

/** Time between two labelled ticks. */
export function stepOf(pxPerH: number): number {
  return (STEPS_H.find((step) => step * pxPerH >= LABEL_PX) ?? 24) * HOUR;
}
