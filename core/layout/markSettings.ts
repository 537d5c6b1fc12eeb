export const CODE_KINDS = ['code39', 'code128', 'qr'] as const;
export type CodeKind = (typeof CODE_KINDS)[number];

/** Which marks a run carries; each stands for itself, several may be on at once. */
export interface MarkSettings {
  /** Per piece: ticks at the corners, outside the artwork. */
  readonly crop: { readonly on: boolean; readonly lengthMm: number; readonly awayMm: number };
  /** Per piece: a line of text behind it. */
  readonly label: { readonly on: boolean; readonly heightMm: number; readonly pattern: string };
  /** Per run: the trace code, by which a cutter finds the run whichever end is fed first. */
  readonly code: {
    readonly on: boolean;
    readonly kind: CodeKind;
    readonly ends: 'head' | 'foot' | 'both';
    readonly heightMm: number;
    readonly pattern: string;
  };
  /** Per run: a line of text at the head. */
  readonly slug: { readonly on: boolean; readonly heightMm: number; readonly pattern: string };
  /** Per run: marks along both sides, for a cutter's eye. */
  readonly registration: {
    readonly on: boolean;
    readonly shape: 'dots' | 'crosses';
    readonly sizeMm: number;
    readonly everyMm: number;
  };
  /** Per run: a narrow bar along one edge in which all channels fire. */
  readonly strip: {
    readonly on: boolean;
    readonly edge: 'left' | 'right';
    readonly widthMm: number;
    readonly awayMm: number;
    readonly aheadMm: number;
  };
}

export const NO_MARKS: MarkSettings = {
  crop: { on: false, lengthMm: 4, awayMm: 2 },
  label: { on: false, heightMm: 3, pattern: '{job} {order} {copy}/{of}' },
  code: { on: false, kind: 'code128', ends: 'both', heightMm: 10, pattern: '{id}' },
  slug: { on: false, heightMm: 4, pattern: '{run}  {date}  {printer}  {mode}' },
  registration: { on: false, shape: 'dots', sizeMm: 5, everyMm: 500 },
  strip: { on: false, edge: 'left', widthMm: 4, awayMm: 2, aheadMm: 5 },
};

/** Between marks and what they must not touch (mm). */
export const CLEAR_MM = 2;
/** Between the marks of two neighbours (mm). */
const APART_MM = 0.5;

export interface LaidOutWith {
  readonly gapMm: number;
  readonly leadMm: number;
  readonly trailMm: number;
  readonly marks?: MarkSettings | undefined;
}

export interface LayoutSpace {
  /** Between pieces, so that the marks of both have room. */
  readonly gapMm: number;
  /** Before the first and behind the last piece, the bands of the run's marks included. */
  readonly leadMm: number;
  readonly trailMm: number;
  /** At the ends of the usable width. */
  readonly leftMm: number;
  readonly rightMm: number;
}

/** How far the marks of a piece reach beyond it. */
export function markReachMm({ crop, label }: MarkSettings): number {
  return Math.max(crop.on ? crop.awayMm + crop.lengthMm : 0, label.on ? label.heightMm + APART_MM : 0);
}

/** Height of the bands for the marks of the run at its head and foot, with the clearance to the pieces. */
export function markBandsMm({ code, slug }: MarkSettings): { readonly headMm: number; readonly footMm: number } {
  const head = Math.max(code.on && code.ends !== 'foot' ? code.heightMm : 0, slug.on ? slug.heightMm : 0);
  const foot = code.on && code.ends !== 'head' ? code.heightMm : 0;
  return { headMm: head > 0 ? head + CLEAR_MM : 0, footMm: foot > 0 ? foot + CLEAR_MM : 0 };
}

/** Gap and margins that a layout really needs: what a person set, and the space for the marks. */
export function layoutSpace({ gapMm, leadMm, trailMm, marks = NO_MARKS }: LaidOutWith): LayoutSpace {
  const reach = markReachMm(marks);
  const { headMm, footMm } = markBandsMm(marks);
  const { registration, strip } = marks;
  const side = (edge: 'left' | 'right'): number =>
    reach +
    (registration.on ? registration.sizeMm + CLEAR_MM : 0) +
    (strip.on && strip.edge === edge ? strip.awayMm + strip.widthMm + CLEAR_MM : 0);
  return {
    gapMm: reach > 0 ? Math.max(gapMm, 2 * reach + APART_MM) : gapMm,
    leadMm: leadMm + headMm + reach,
    trailMm: trailMm + footMm + reach,
    leftMm: side('left'),
    rightMm: side('right'),
  };
}
