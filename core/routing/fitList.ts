import { type DueDate, lateMinorOf, lateMsOf } from '../schedule/plan.ts';
import type { OffcutOffer } from '../spools/offcutOffer.ts';
import { mmText, metresText } from '../units/lengthText.ts';

/** What a job or run asks of a printer. Lengths mm. */
export interface FitNeeds {
  readonly stockId: string;
  readonly stockName: string;
  /** Narrowest that its widest piece can lie across the media, as its ticket allows. */
  readonly leastWidthMm: number;
  /** What it fires; without these it can't be printed as meant. */
  readonly channels: readonly string[];
  /** As sharp as the mode that its ticket asks for: the lower of its resolutions (dpi); null: not known. */
  readonly leastDpi: number | null;
  readonly contour: boolean;
  readonly unattended: boolean;
  readonly dues: readonly DueDate[];
  readonly extraMinor: number;
}

/** A printer and the mode, stock and source with which it would print. */
export interface FitOption {
  readonly printerId: string;
  readonly printerName: string;
  readonly modeId: string | null;
  /** The lower of that mode's resolutions (dpi). */
  readonly modeDpi: number | null;
  readonly usableWidthMm: number;
  readonly widestMediaMm: number;
  readonly stockWidthMm: number;
  readonly longestMm: number;
  /** What the ticket asks for there: what comes from a printer, a stock or a queue is taken anew. */
  readonly asks: { readonly cutOff: 'none' | 'full' | 'perforated'; readonly edgeToEdge: boolean };
  /** Null: it can't be laid out there. */
  readonly laid: {
    readonly lengthMm: number;
    readonly fedMm: number;
    readonly wasteMinor: number;
    readonly mediaMinor: number;
    readonly inkMinor: number;
    readonly timeMs: number;
    readonly timeMinor: number;
    /** Ink, media and time, not rounded (micro-units). */
    readonly costMicro: number;
    /** Fired, by channel. */
    readonly inkMl: Readonly<Record<string, number>>;
    readonly startMs: number;
    readonly endMs: number;
    readonly changeOverMin: number;
    readonly changeOverMinor: number;
    readonly restsOn: readonly StartCondition[];
    readonly offcut: OffcutOffer | null;
  } | null;
  /** Why it can't be laid out there, and the way out; null: it can, or no mode suits. */
  readonly layTrouble: { readonly text: string; readonly way: string } | null;
  /** Left on the spool that is loaded, and the longest one on the rack. */
  readonly loadedMm: number | null;
  readonly rackMm: number | null;
  /** Spools of the stock that stand in other printers, in words. */
  readonly elsewhere: readonly string[];
  readonly channels: readonly string[];
  /** Channels that it fires and that can't print now, why, and the cheapest way out. */
  readonly unfit: Readonly<Record<string, { readonly name: string; readonly text: string; readonly remedy: string }>>;
  readonly suits: boolean;
  readonly finishing: { readonly fullCut: boolean; readonly perforate: boolean; readonly contourCut: boolean };
  readonly edgeToEdge: boolean;
  readonly needsHand: boolean;
  readonly hasQueue: boolean;
  readonly state: 'off' | 'idle' | 'printing' | 'caring' | 'waiting' | 'faulted';
  readonly stateReason: string | null;
}

export interface FitTrouble {
  readonly code:
    | 'width'
    | 'length'
    | 'lay'
    | 'stock'
    | 'media'
    | 'channel'
    | 'heads'
    | 'mode'
    | 'sharp'
    | 'finishing'
    | 'edge'
    | 'off'
    | 'fault'
    | 'queue';
  readonly text: string;
  /** The nearest way out. */
  readonly way: string;
}

/** Something that has to happen before it starts, in words; the instant by which the plan counts on it. */
export interface StartCondition {
  readonly text: string;
  readonly atMs: number | null;
}

export interface FitTerms {
  readonly wasteMinor: number;
  readonly inkMinor: number;
  readonly timeMinor: number;
  readonly changeOverMinor: number;
  readonly lateMinor: number;
}

/** A printer that can take the work, with what it costs there term by term; or one that can’t, with every reason. */
export type Fit =
  | {
      readonly can: true;
      readonly printerId: string;
      readonly printerName: string;
      readonly modeId: string;
      readonly terms: FitTerms;
      readonly totalMinor: number;
      readonly lengthMm: number;
      readonly fedMm: number;
      readonly mediaMinor: number;
      /** Ink, media and time, not rounded (micro-units). */
      readonly costMicro: number;
      readonly inkMl: Readonly<Record<string, number>>;
      readonly timeMs: number;
      readonly startMs: number;
      readonly endMs: number;
      readonly lateMs: number;
      readonly changeOverMin: number;
      readonly restsOn: readonly StartCondition[];
      /** An offcut on which it would be printed for less. */
      readonly offcut: OffcutOffer | null;
      /** What stands behind its place in the list. */
      readonly why: string;
    }
  | {
      readonly can: false;
      readonly printerId: string;
      readonly printerName: string;
      readonly troubles: readonly FitTrouble[];
    };

/**
 * The printers that can take it, cheapest first, then those that can't with what fails. Waste, ink, time, change-over and
 * lateness are weighed in money; media that is printed on costs the same anywhere and is shown, not weighed.
 */
export function fitList(needs: FitNeeds, options: readonly FitOption[]): Fit[] {
  const fits = options.map((option) => fitOf(needs, option));
  const able = fits.filter((fit) => fit.can).sort((a, b) => a.totalMinor - b.totalMinor || a.endMs - b.endMs);
  const cheapest = able[0];
  const second = able[1];
  return [
    ...able.map((fit) => ({ ...fit, why: whyText(fit, cheapest === fit ? second : cheapest) })),
    ...fits.filter((fit) => !fit.can),
  ];
}

type Able = Extract<Fit, { can: true }>;

/** Judges one printer. A printer that can’t is never priced: its figures would look like an offer. */
function fitOf(needs: FitNeeds, option: FitOption): Fit {
  const { printerId, printerName, laid, modeId } = option;
  const troubles = troublesOf(needs, option);
  if (troubles.length > 0 || !laid || modeId === null) return { can: false, printerId, printerName, troubles };
  // Each job by its own date.
  const lateMs = lateMsOf(needs.dues, laid.endMs);
  const lateMinor = Math.round(lateMinorOf(needs.dues, laid.endMs));
  const { wasteMinor, inkMinor, timeMinor, changeOverMinor } = laid;
  const terms = { wasteMinor, inkMinor, timeMinor, changeOverMinor, lateMinor };
  return {
    can: true,
    printerId,
    printerName,
    modeId,
    terms,
    totalMinor: wasteMinor + inkMinor + timeMinor + changeOverMinor + lateMinor,
    lengthMm: laid.lengthMm,
    fedMm: laid.fedMm,
    mediaMinor: laid.mediaMinor,
    costMicro: laid.costMicro,
    inkMl: laid.inkMl,
    timeMs: laid.timeMs,
    startMs: laid.startMs,
    endMs: laid.endMs,
    lateMs,
    changeOverMin: laid.changeOverMin,
    restsOn: laid.restsOn,
    offcut: laid.offcut,
    why: '',
  };
}

/** Everything that keeps a printer from taking the work, not only the first: a person may mend several at once. */
function troublesOf(needs: FitNeeds, option: FitOption): FitTrouble[] {
  const troubles: FitTrouble[] = [];
  const say = (code: FitTrouble['code'], text: string, way: string): void => {
    troubles.push({ code, text, way });
  };
  const { printerName: name, laid } = option;
  if (!option.suits) {
    say('stock', `${needs.stockName} is not for ${name}`, 'Choose another stock, or let it suit under Setup, Stocks.');
  } else if (option.stockWidthMm > option.widestMediaMm + 1e-6) {
    say(
      'stock',
      `${needs.stockName} is wider than ${name} takes: ${mmText(option.stockWidthMm, 0)} of ${mmText(option.widestMediaMm, 0)}`,
      'Choose a narrower stock.',
    );
  } else if (needs.leastWidthMm > option.usableWidthMm + 1e-6) {
    const panels = Math.ceil(needs.leastWidthMm / Math.max(1, option.usableWidthMm));
    say(
      'width',
      `Wider than ${name} prints on it: ${mmText(needs.leastWidthMm, 0)} of ${mmText(option.usableWidthMm, 0)}`,
      `Make it smaller, or tile it in ${String(panels)}.`,
    );
  } else if (option.layTrouble) {
    say('lay', option.layTrouble.text, option.layTrouble.way);
  } else if (!laid) {
    say('mode', `${name} has no print mode for ${needs.stockName}`, 'Let a mode suit under Setup, Stocks.');
  }
  if (needs.leastDpi !== null && option.modeDpi !== null && option.modeDpi < needs.leastDpi) {
    say(
      'sharp',
      `Not as sharp on ${name}: ${String(option.modeDpi)} dpi at best on ${needs.stockName}, ${String(needs.leastDpi)} asked`,
      'Choose a coarser mode on its ticket.',
    );
  }
  if (laid && laid.lengthMm > option.longestMm + 1e-6) {
    say(
      'length',
      `Longer than ${name} prints in one go: ${mmText(laid.lengthMm, 0)} of ${mmText(option.longestMm, 0)}`,
      'Split it.',
    );
  }
  const most = Math.max(option.loadedMm ?? 0, option.rackMm ?? 0);
  if (laid && option.suits && laid.fedMm > most + 1e-6) {
    const have = `${metresText(most)} of ${metresText(laid.fedMm)}`;
    say(
      'media',
      `Too little ${needs.stockName} for ${name}: ${have} on its longest spool`,
      option.elsewhere.length > 0
        ? `Take out ${option.elsewhere.join(' or ')}, or split it.`
        : 'Split it, or bring in more.',
    );
  }
  for (const channel of needs.channels) {
    if (!option.channels.includes(channel))
      say('channel', `${name} has no ${channel}`, 'Print it without, or elsewhere.');
  }
  for (const { name: ink, text, remedy } of Object.values(option.unfit)) {
    say('heads', `${ink} of ${name} can't print it: ${text}`, `Clean it first: ${remedy}.`);
  }
  if (needs.contour && !option.finishing.contourCut) {
    say('finishing', `${name} cuts no contours`, 'Cut them elsewhere: take the contour off the ticket, or as a file.');
  }
  if (option.asks.cutOff === 'full' && !option.finishing.fullCut)
    say('finishing', `${name} has no cutter`, 'Set cut off to none.');
  if (option.asks.cutOff === 'perforated' && !option.finishing.perforate) {
    say('finishing', `${name} does not perforate`, 'Set cut off to none.');
  }
  if (option.asks.edgeToEdge && !option.edgeToEdge)
    say('edge', `${name} does not print edge to edge`, 'Print it with margins.');
  if (option.state === 'off') say('off', `${name} does not answer`, 'Switch it on, and it is offered again.');
  if (option.state === 'faulted') {
    say(
      'fault',
      `${name} has a fault: ${option.stateReason ?? 'not said which'}`,
      'Repair it, and it is offered again.',
    );
  }
  if (!option.hasQueue) say('queue', `No queue feeds ${name}`, 'Make one under Setup.');
  return troubles;
}

const TERM_WORDS: readonly (readonly [keyof FitTerms, string, string])[] = [
  ['lateMinor', 'less late', 'later'],
  ['changeOverMinor', 'fewer change-overs', 'more change-overs'],
  ['timeMinor', 'faster', 'slower'],
  ['wasteMinor', 'less waste', 'more waste'],
  ['inkMinor', 'less ink', 'more ink'],
];

/** The term in which it differs most from the one it is measured by. */
function whyText(fit: Able, other: Able | undefined): string {
  if (!other) return 'the only one that can';
  let best = { by: 0, text: 'as good as any' };
  for (const [term, less, more] of TERM_WORDS) {
    const by = other.terms[term] - fit.terms[term];
    const better = fit.totalMinor <= other.totalMinor;
    const counts = better ? by : -by;
    if (counts > best.by) best = { by: counts, text: better ? less : more };
  }
  return best.text;
}
