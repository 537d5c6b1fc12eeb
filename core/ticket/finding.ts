import type { FinishedPage, SourcePage } from './finishedPage.ts';
import { outsideOf } from './finish.ts';
import type { TicketPart, TicketValues } from './ticket.ts';

export type Severity = 'block' | 'warn' | 'note';

export const FINDING_CODES = [
  'no-print-size',
  'too-wide',
  'must-turn',
  'too-long',
  'page-media',
  'page-sizes',
  'page-count',
  'no-size',
  'resolution',
  'bleed',
  'thin-lines',
  'blank',
  'fonts',
  'colour',
  'spots',
  'transparency',
  'overprint',
  'mended',
  'contour',
  'curves',
  'mode-profile',
  'mode-stock',
  'edge-to-edge',
  'layers',
  'annotations',
  'locked',
  'rasterised',
  'lost',
] as const;
export type FindingCode = (typeof FINDING_CODES)[number];

/** A one-click way to put a finding right: ticket values to set. */
export interface Mend {
  readonly text: string;
  readonly change: TicketPart;
}

/** What the check found in a job: a code, how bad it is, a plain sentence, the figures behind it, and what mends it. */
export interface Finding {
  readonly code: FindingCode;
  readonly severity: Severity;
  readonly text: string;
  readonly figures: Readonly<Record<string, number>>;
  readonly mends: Mend[];
}

/** What a queue wants of its jobs; each figure is the queue's own. */
export interface Checks {
  readonly warnBelowDpi: number;
  readonly noteBelowDpi: number;
  /** Bleed wanted on all sides; 0: none. */
  readonly bleedMm: number;
  /** Lines thinner than this are warned about; 0: never. */
  readonly thinLineMm: number;
  readonly mostPages: number;
}

export const PLAIN_CHECKS: Checks = {
  warnBelowDpi: 100,
  noteBelowDpi: 150,
  bleedMm: 0,
  thinLineMm: 0.1,
  mostPages: 500,
};

export interface CheckedPage {
  readonly source: SourcePage;
  readonly finished: FinishedPage;
  /** Of the coarsest picture on it, at the size it came; null: vectors only. */
  readonly dpi: number | null;
  /** Thinnest line on it, at the size it came; null: no lines, or not known. */
  readonly thinnestMm: number | null;
  /** Mean share of ink over the page, all channels added. */
  readonly coverage: number;
}

/** What of a PDF is not simply on its pages. */
export interface PdfNature {
  readonly layers?: { readonly printed: string[]; readonly left: string[] };
  /** Stamps and form fields that print with the page, notes that are left out, and what should print and has no picture of itself. */
  readonly annotations?: {
    readonly printed: number;
    readonly left: number;
    readonly fields: number;
    readonly empty: number;
  };
  /** Its list of pages was broken, and was put together again. */
  readonly mended?: boolean;
  /** Something is set to print over what lies under it. */
  readonly overprint?: boolean;
  /** It is locked and opens without a password; this is what its owner forbids. */
  readonly forbids?: string[];
}

/** What the file as a whole is like. */
export interface FileNature extends PdfNature {
  /** Of an SVG: printed as a picture of this resolution where its vectors can't be kept, and what of it is not drawn. */
  readonly svg?: { readonly rasterDpi: number | null; readonly lost: string[]; readonly letters: string[] };
  /** The file did not say how big it is; this density was taken instead. */
  readonly assumedDpi: number | null;
  readonly hasAlpha: boolean;
  readonly colourSpaces: string[];
  readonly profile: string | null;
  readonly spots: string[];
  readonly missingFonts: string[];
}

/** What findings are made of. It is plain data: the same file on the same ticket is always found to be the same. */
export interface CheckInput {
  readonly pages: readonly CheckedPage[];
  readonly nature: FileNature;
  readonly values: TicketValues;
  readonly usableWidthMm: number;
  readonly mediaName: string;
  readonly printerName: string;
  readonly longestMm: number;
  readonly canEdgeToEdge: boolean;
  /** Ids of the printer's channels. */
  readonly channels: readonly string[];
  /** Modes that suit the stock on this printer, as the shop has said; null: all do. */
  readonly suitableModes: readonly string[] | null;
  readonly modes: readonly {
    readonly id: string;
    readonly name: string;
    readonly passes: number;
    readonly profile: string;
    readonly profilePasses: number;
  }[];
  readonly checks: Checks;
}

interface Lies {
  readonly acrossMm: number;
  readonly alongMm: number;
}

/** A piece is trim and bleed. */
export function lies(page: FinishedPage): Lies {
  const { widthMm, heightMm } = outsideOf(page);
  const panels = page.panels ?? [{ widthMm, heightMm }];
  return {
    acrossMm: Math.max(...panels.map((panel) => panel.widthMm)),
    alongMm: Math.max(...panels.map((panel) => panel.heightMm)),
  };
}
