import { PRIOR_RATE, type StrainForm, meanRate, strainOf } from '../heads/clogLearning.ts';

/** How fast the nozzles of a channel clog: θ, and the form in which strain grows with idle time. */
export interface ClogPace {
  readonly theta: number;
  readonly form: StrainForm;
}

/** Where no check has told anything yet. */
export const PRIOR_PACE: ClogPace = { theta: meanRate(PRIOR_RATE), form: 'cubic' };

/** Clogs to be expected in one idle spell: M · (1 − e^(−θ · g)); never more than there are nozzles. */
export function spellClogs(
  idleH: number,
  limitH: number,
  nozzles: number,
  { theta, form }: ClogPace = PRIOR_PACE,
): number {
  return nozzles * (1 - Math.exp(-theta * strainOf(idleH / limitH, form)));
}

/**
 * Clogs to be expected over a horizon in which a channel is exercised every so many hours.
 * @param everyH Infinity: never
 */
export function expectedClogs(
  horizonH: number,
  everyH: number,
  channel: { readonly limitH: number; readonly nozzles: number },
  pace: ClogPace = PRIOR_PACE,
): number {
  let clogs = 0;
  for (let from = 0; from < horizonH; from += everyH) {
    clogs += spellClogs(Math.min(everyH, horizonH - from), channel.limitH, channel.nozzles, pace);
  }
  return clogs;
}
