import { gammaQuantile } from '../distributions.ts';

/** A rate as a shop's own log has taught it: gamma distributed, by its shape a and its inverse scale b; or known for sure. */
export type LearnedRate =
  | { readonly kind: 'gamma'; readonly a: number; readonly b: number }
  | { readonly kind: 'known'; readonly rate: number };

/** What has been seen: how often something happened, over how much. */
export interface Seen {
  readonly events: number;
  /** Hours of printing, or metres of media. */
  readonly over: number;
}

/** What is thought of a printer before it has printed anything: two events' worth of opinion. */
const PRIOR_SHAPE = 2;
/** Hours in which a printer that nobody knows has its two faults. */
const PRIOR_HOURS = 200;
/** Metres in which a stock that nobody knows has its two jams or flaws. */
const PRIOR_METRES = 1000;

/**
 * Faults of a printer per hour of printing, other than jams: its own, and as much of the others' as two faults weigh.
 * (Odds, “Fault rate”.)
 * @param own of this printer
 * @param others of all other printers of the shop together
 */
export function faultRate(own: Seen, others: Seen): LearnedRate {
  const b0 = others.over > 0 ? (PRIOR_SHAPE * (PRIOR_HOURS / 2 + others.over)) / (1 + others.events) : PRIOR_HOURS;
  return { kind: 'gamma', a: PRIOR_SHAPE + own.events, b: b0 + own.over };
}

/** Jams, or flaws, of a stock per metre. (Odds, “Media”.) */
export function mediaRate({ events, over }: Seen): LearnedRate {
  return { kind: 'gamma', a: PRIOR_SHAPE + events, b: PRIOR_METRES + over };
}

/** The mean of a rate. */
export function meanRate(rate: LearnedRate): number {
  return rate.kind === 'known' ? rate.rate : rate.a / rate.b;
}

/** The rate below which it lies with a probability. */
export function rateQuantile(rate: LearnedRate, probability: number): number {
  return rate.kind === 'known' ? rate.rate : gammaQuantile(probability, rate.a) / rate.b;
}

/**
 * The chance that nothing happens over so much: not that of the mean rate, since nobody knows the rate.
 * @param over in the unit that the rate is of; over several runs of one printer it is their sum
 */
export function nothingChance(rate: LearnedRate, over: number): number {
  return rate.kind === 'known' ? Math.exp(-rate.rate * over) : (rate.b / (rate.b + over)) ** rate.a;
}
