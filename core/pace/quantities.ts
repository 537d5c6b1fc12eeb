/**
 * What facts are made of. All are whole numbers, so that parts bring exactly their whole however they are split, added and taken
 * away again: times in ms, areas in mm², ink in nl (millionths of a ml), money in micro-units.
 */

/** Ink is counted in millionths of a ml. */
export const NL_PER_ML = 1e6;

/** How a quantity lies in time: spread evenly over its fact, or at the instant at which the fact ends. */
type Lies = 'spread' | 'at its end';

export const QUANTITIES = {
  runMs: 'spread',
  /** Of it with nobody there. */
  runAloneMs: 'spread',
  caringMs: 'spread',
  waitingMs: 'spread',
  idleMs: 'spread',
  downMs: 'spread',
  offMs: 'spread',
  /** Down or waiting within planned time. */
  lostMs: 'spread',
  /** Of printed runs: as it was estimated when it was sent, uncorrected, and as it came. */
  estimateMs: 'spread',
  actualMs: 'spread',
  goodMm2: 'spread',
  /** Whole pieces, good or spoiled. */
  wholeMm2: 'spread',
  fedMm2: 'spread',
  leadMm2: 'spread',
  nestMm2: 'spread',
  purgeMm2: 'spread',
  checkMm2: 'spread',
  faultMm2: 'spread',
  spoiledMm2: 'spread',
  stubMm2: 'spread',
  workNl: 'spread',
  purgeNl: 'spread',
  cleanNl: 'spread',
  checkNl: 'spread',
  /** Of work: in pieces that were spoiled or did not come out whole. */
  lostNl: 'spread',
  costMicro: 'spread',
  /** Of jobs with a price: what they cost, and what they bring. */
  pricedCostMicro: 'spread',
  priceMicro: 'spread',
  pieces: 'at its end',
  runs: 'at its end',
  failedRuns: 'at its end',
  changeOvers: 'at its end',
  faults: 'at its end',
  jobsDue: 'at its end',
  jobsLate: 'at its end',
  lateMs: 'at its end',
  /** What people did in the program. */
  actions: 'at its end',
} as const satisfies Record<string, Lies>;

export type Quantity = keyof typeof QUANTITIES;
export const QUANTITY_NAMES = Object.keys(QUANTITIES) as Quantity[];

/** What a fact brings; what is left out is 0. */
export type Amounts = Partial<Record<Quantity, number>>;

/** What a fact belongs to. Empty: to none. */
export interface FactKeys {
  readonly printerId: string;
  readonly stockId: string;
  readonly queueId: string;
  readonly modeId: string;
  readonly customer: string;
}

/** Something that happened, with its figures. */
export interface Fact extends FactKeys {
  /** The same source gives the same id, however often it is read. */
  readonly id: string;
  readonly kind: 'attempt' | 'care' | 'spell' | 'ledger' | 'job' | 'actions';
  readonly fromMs: number;
  readonly toMs: number;
  readonly runId: string;
  readonly jobId: string;
  readonly amounts: Amounts;
}

/** A sum of facts, every quantity in it. */
export type Sums = Record<Quantity, number>;

const NOTHING = Object.freeze(Object.fromEntries(QUANTITY_NAMES.map((name) => [name, 0]))) as Sums;

export function noSums(): Sums {
  return { ...NOTHING };
}

/**
 * The parts of a fact in periods of time: what is spread goes by the share of time, rounded so that the parts bring exactly the
 * whole; the rest belongs to the period in which the fact ends.
 * @param borders ascending instants that hold the whole fact, its end before the last of them; period i reaches from border i to i + 1
 */
export function partsOf(
  { fromMs, toMs, amounts }: Pick<Fact, 'fromMs' | 'toMs' | 'amounts'>,
  borders: readonly number[],
): { readonly at: number; readonly amounts: Amounts }[] {
  const parts: { at: number; amounts: Amounts }[] = [];
  const names = QUANTITY_NAMES.filter((name) => (amounts[name] ?? 0) !== 0);
  const length = toMs - fromMs;
  const until = (ms: number): number =>
    length <= 0 ? (ms > toMs ? 1 : 0) : Math.min(1, Math.max(0, (ms - fromMs) / length));
  for (let at = 0; at + 1 < borders.length; at += 1) {
    const [from, to] = [borders[at] ?? 0, borders[at + 1] ?? 0];
    if (to <= fromMs && length > 0) continue;
    const own: Amounts = {};
    for (const name of names) {
      const whole = amounts[name] ?? 0;
      const isHere = toMs >= from && toMs < to;
      const part =
        QUANTITIES[name] === 'at its end'
          ? isHere
            ? whole
            : 0
          : Math.round(whole * until(to)) - Math.round(whole * until(from));
      if (part !== 0) own[name] = part;
    }
    if (Object.keys(own).length > 0) parts.push({ at, amounts: own });
    if (from > toMs) break;
  }
  return parts;
}
