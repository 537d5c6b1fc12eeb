/**
 * How fast nozzles of a channel clog, learned from what checks found. New clogs of a channel in one idle spell are Poisson with mean
 * θ · M · g(x), x the spell by its idle limit, M its open nozzles, g the strain. Source: clogs learned from the log, second sheet.
 */
import { gammaQuantile } from '../distributions.ts';

/** What is known of θ: gamma(a, rate b). */
export interface ClogRate {
  readonly a: number;
  readonly b: number;
}

/** Before anything was seen: mean 0.01. */
export const PRIOR_RATE: ClogRate = { a: 2, b: 200 };

/** How strain grows with idle time. Until much is known it is the first. */
export const STRAIN_FORMS = ['cubic', 'linear', 'late'] as const;
export type StrainForm = (typeof STRAIN_FORMS)[number];

/** Strain of an idle spell of x idle limits. */
export function strainOf(x: number, form: StrainForm = 'cubic'): number {
  const late = Math.max(0, x - 0.5);
  return form === 'cubic' ? late ** 3 / 3 : form === 'linear' ? x : late;
}

/** What a check found of one idle spell, or of the spells since the check before it added up. */
export interface SpellFound {
  /** Longest of its idle spells (h). */
  readonly idleH: number;
  /** Sum of the strain of its spells, by form. */
  readonly strain: Readonly<Record<StrainForm, number>>;
  /** Nozzles that were open when it began. */
  readonly open: number;
  readonly clogs: number;
}

/** Sums of {@link SpellFound}, all that learning needs: they grow by one row a check and are never read again. */
export interface ClogSums {
  readonly clogs: number;
  /** Σ M · g by form. */
  readonly exposure: Readonly<Record<StrainForm, number>>;
  /** Σ clogs · ln(M · g) by form: the part of the log likelihood that is not known from the other sums. */
  readonly logs: Readonly<Record<StrainForm, number>>;
}

export const NO_SUMS: ClogSums = {
  clogs: 0,
  exposure: { cubic: 0, linear: 0, late: 0 },
  logs: { cubic: 0, linear: 0, late: 0 },
};

/** Strain that no clog can come of would make its logarithm meaningless: a clog that was found all the same counts as of this little. */
const LEAST_EXPOSURE = 1e-6;

/** The sums with one more check. */
export function withSpell(sums: ClogSums, { strain, open, clogs }: SpellFound): ClogSums {
  const of = (value: (form: StrainForm) => number): Record<StrainForm, number> => ({
    cubic: value('cubic'),
    linear: value('linear'),
    late: value('late'),
  });
  return {
    clogs: sums.clogs + clogs,
    exposure: of((form) => sums.exposure[form] + open * strain[form]),
    logs: of((form) => sums.logs[form] + clogs * Math.log(Math.max(LEAST_EXPOSURE, open * strain[form]))),
  };
}

/** From so many clogs on another form of strain may be taken, where it is so much more likely. */
const ENOUGH_CLOGS = 30;
const MUCH_LIKELIER = 2;

/** The form of strain that the log speaks for. */
export function strainForm(sums: ClogSums): StrainForm {
  if (sums.clogs < ENOUGH_CLOGS) return 'cubic';
  // At θ = clogs ÷ exposure: Σ clogs · ln(θ M g) − clogs, what all forms share left out.
  const likelihood = (form: StrainForm): number =>
    sums.logs[form] + sums.clogs * Math.log(sums.clogs / Math.max(LEAST_EXPOSURE, sums.exposure[form]));
  const [best] = [...STRAIN_FORMS].sort((a, b) => likelihood(b) - likelihood(a));
  return best !== undefined && likelihood(best) >= likelihood('cubic') + MUCH_LIKELIER ? best : 'cubic';
}

/** What is known of θ after these checks. */
export function clogRate(sums: ClogSums, prior: ClogRate = PRIOR_RATE, form = strainForm(sums)): ClogRate {
  return { a: prior.a + sums.clogs, b: prior.b + sums.exposure[form] };
}

/** The most likely middle of θ. */
export function meanRate({ a, b }: ClogRate): number {
  return a / b;
}

/** Where θ lies with this probability, as much left out on either side. */
export function rateRange({ a, b }: ClogRate, share = 0.9): readonly [number, number] {
  const tail = (1 - share) / 2;
  return [gammaQuantile(tail, a) / b, gammaQuantile(1 - tail, a) / b];
}

/** Chance that no nozzle clogs in a spell of this strain: (b ÷ (b + M · g))^a. */
export function noClogChance({ a, b }: ClogRate, open: number, strain: number): number {
  return (b / (b + open * strain)) ** a;
}
