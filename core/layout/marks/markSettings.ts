export const CODE_KINDS = ['code39', 'code128', 'qr'] as const;
export type CodeKind = (typeof CODE_KINDS)[number];

/** One at every piece, or one at the first piece of every job. */
export const MARK_PER = ['piece', 'job'] as const;
export type MarkPer = (typeof MARK_PER)[number];
/** Before the piece is nearer the leading edge. */
export const MARK_AT = ['behind', 'before'] as const;
export type MarkAt = (typeof MARK_AT)[number];

/** Which marks a run carries; each stands for itself, several may be on at once. */
export interface MarkSettings {
  /** Per piece: ticks at the corners, outside the artwork. */
  readonly crop: { readonly on: boolean; readonly lengthMm: number; readonly awayMm: number };
  /** Straight cuts: ticks in the gaps, at both ends of each cut, in both directions. */
  readonly cut: { readonly on: boolean; readonly lengthMm: number };
  /** A line of text at each piece, or at the first piece of each job. */
  readonly label: {
    readonly on: boolean;
    readonly per: MarkPer;
    readonly at: MarkAt;
    readonly awayMm: number;
    readonly heightMm: number;
    readonly pattern: string;
  };
  /** A code at each piece, or at the first piece of each job, beyond its label. */
  readonly pieceCode: {
    readonly on: boolean;
    readonly per: MarkPer;
    readonly at: MarkAt;
    readonly awayMm: number;
    readonly kind: CodeKind;
    readonly heightMm: number;
    readonly pattern: string;
    readonly white: boolean;
  };
  /** Per run: the trace code, by which a cutter finds the run whichever end is fed first. */
  readonly code: {
    readonly on: boolean;
    readonly kind: CodeKind;
    readonly ends: 'head' | 'foot' | 'both';
    readonly heightMm: number;
    readonly pattern: string;
    /** White under the code and its quiet zone, where the printer has white: for media that are clear or dark. */
    readonly white: boolean;
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
  /**
   * Per run: a narrow bar along one edge in which all channels fire. On a page-wide array that exercises only the nozzles over it:
   * there it lies across the media, ahead of the first piece.
   */
  readonly strip: {
    readonly on: boolean;
    readonly edge: 'left' | 'right' | 'across';
    readonly widthMm: number;
    readonly awayMm: number;
    readonly aheadMm: number;
  };
}

export const NO_MARKS: MarkSettings = {
  crop: { on: false, lengthMm: 4, awayMm: 2 },
  cut: { on: false, lengthMm: 5 },
  label: { on: false, per: 'piece', at: 'behind', awayMm: 0.5, heightMm: 3, pattern: '{job} {order} {copy}/{of}' },
  pieceCode: {
    on: false,
    per: 'piece',
    at: 'behind',
    awayMm: 1,
    kind: 'qr',
    heightMm: 12,
    pattern: '{order} {copy}',
    white: false,
  },
  code: { on: false, kind: 'code128', ends: 'both', heightMm: 10, pattern: '{id}', white: false },
  slug: { on: false, heightMm: 4, pattern: '{run}  {date}  {printer}  {mode}' },
  registration: { on: false, shape: 'dots', sizeMm: 5, everyMm: 500 },
  strip: { on: false, edge: 'left', widthMm: 4, awayMm: 2, aheadMm: 5 },
};

/** Between marks and what they must not touch (mm). */
export const CLEAR_MM = 2;
/** As they are kept: a run that was laid out before a mark was known says nothing of it. */
export type KeptMarks = {
  readonly [K in keyof MarkSettings]?: Partial<MarkSettings[K]> | undefined;
};

/** What is not said is off, and as it is at first. */
export function fullMarks(kept: KeptMarks | undefined): MarkSettings {
  const full: Record<string, unknown> = {};
  for (const [key, plain] of Object.entries(NO_MARKS)) full[key] = { ...plain, ...kept?.[key as keyof MarkSettings] };
  return full as unknown as MarkSettings;
}

/** Between the marks of two neighbours, and where a tick lies between them (mm). */
const APART_MM = 0.5;
const APART_WITH_TICK_MM = 1.25;

export interface LaidOutWith {
  /** Between pieces beside each other, and behind each other unless that is said apart. */
  readonly gapMm: number;
  readonly gapAlongMm?: number | undefined;
  readonly leadMm: number;
  readonly trailMm: number;
  readonly marks?: KeptMarks | undefined;
}

export interface LayoutSpace {
  /** Between pieces beside and behind each other, so that the marks of both have room. */
  readonly gapXMm: number;
  readonly gapYMm: number;
  /** Before the first and behind the last piece, the bands of the run's marks included. */
  readonly leadMm: number;
  readonly trailMm: number;
  /** At the ends of the usable width. */
  readonly leftMm: number;
  readonly rightMm: number;
}

/** How far the marks of a piece reach beyond it: ticks on every side, a label and a code on theirs alone. */
export interface MarkReach {
  readonly beside: number;
  readonly before: number;
  readonly behind: number;
}

/** @returns in mm */
export function markReachMm({ crop, label, pieceCode }: MarkSettings): MarkReach {
  const ticks = crop.on ? crop.awayMm + crop.lengthMm : 0;
  const labelMm = label.on ? label.awayMm + label.heightMm : 0;
  // A code on the same side as the label lies beyond it.
  const under = label.at === pieceCode.at ? labelMm : 0;
  const codeMm = pieceCode.on ? under + pieceCode.awayMm + pieceCode.heightMm : 0;
  const on = (side: MarkAt): number =>
    Math.max(ticks, label.at === side ? labelMm : 0, pieceCode.at === side ? codeMm : 0);
  return { beside: ticks, before: on('before'), behind: on('behind') };
}

/** Height of the bands for the marks of the run at its head and foot, with the clearance to the pieces. */
export function markBandsMm(marks: MarkSettings): { readonly headMm: number; readonly footMm: number } {
  const { code, slug } = marks;
  const head = Math.max(code.on && code.ends !== 'foot' ? code.heightMm : 0, slug.on ? slug.heightMm : 0);
  const foot = code.on && code.ends !== 'head' ? code.heightMm : 0;
  return {
    headMm: (head > 0 ? head + CLEAR_MM : 0) + barAcrossMm(marks),
    footMm: foot > 0 ? foot + CLEAR_MM : 0,
  };
}

/** Length that a bar across the media takes ahead of the first piece (mm), with its clearance. */
export function barAcrossMm({ strip }: MarkSettings): number {
  return strip.on && strip.edge === 'across' ? strip.widthMm + CLEAR_MM : 0;
}

/** Gap and margins that a layout really needs: what a person set, and the space for the marks. */
export function layoutSpace({ gapMm, gapAlongMm = gapMm, leadMm, trailMm, marks: kept }: LaidOutWith): LayoutSpace {
  const marks = fullMarks(kept);
  const apart = marks.cut.on ? APART_WITH_TICK_MM : APART_MM;
  const reach = markReachMm(marks);
  const { headMm, footMm } = markBandsMm(marks);
  const { registration, strip } = marks;
  const side = (edge: 'left' | 'right'): number =>
    reach.beside +
    (registration.on ? registration.sizeMm + CLEAR_MM : 0) +
    (strip.on && strip.edge === edge ? strip.awayMm + strip.widthMm + CLEAR_MM : 0);
  const gap = (wanted: number, needed: number): number =>
    needed > 0 || marks.cut.on ? Math.max(wanted, needed + apart) : wanted;
  return {
    gapXMm: gap(gapMm, 2 * reach.beside),
    // The tick of a straight cut stands in the middle of the gap: as much is kept free on either side of it.
    gapYMm: gap(gapAlongMm, marks.cut.on ? 2 * Math.max(reach.behind, reach.before) : reach.behind + reach.before),
    leadMm: leadMm + headMm + reach.before,
    trailMm: trailMm + footMm + reach.behind,
    leftMm: side('left'),
    rightMm: side('right'),
  };
}
