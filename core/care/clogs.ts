/** How fast nozzles clog (θ), where nothing was seen of a printer yet. */
const PRIOR_THETA = 0.01;

/** Strain of one idle spell: max(0, x − ½)³ ÷ 3, x the spell by its idle limit. */
function clogStrain(idleH: number, limitH: number): number {
  return Math.max(0, idleH / limitH - 0.5) ** 3 / 3;
}

/** Clogs to be expected in one idle spell: M · (1 − e^(−θ · g)); never more than there are nozzles. */
export function spellClogs(idleH: number, limitH: number, nozzles: number, theta = PRIOR_THETA): number {
  return nozzles * (1 - Math.exp(-theta * clogStrain(idleH, limitH)));
}

/**
 * Clogs to be expected over a horizon in which a channel is exercised every so many hours.
 * @param everyH Infinity: never
 */
export function expectedClogs(
  horizonH: number,
  everyH: number,
  channel: { readonly limitH: number; readonly nozzles: number },
  theta = PRIOR_THETA,
): number {
  let clogs = 0;
  for (let from = 0; from < horizonH; from += everyH) {
    clogs += spellClogs(Math.min(everyH, horizonH - from), channel.limitH, channel.nozzles, theta);
  }
  return clogs;
}
