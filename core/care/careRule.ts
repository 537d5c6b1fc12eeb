import { metresText } from '../units/lengthText.ts';
import type { CleanStrength } from './careData.ts';

/** Care that a rule puts before runs. */
export type RuleWhat =
  | { readonly kind: 'check' }
  | { readonly kind: 'stir' }
  /** Of the channels that the run fires. */
  | { readonly kind: 'clean'; readonly strength: CleanStrength };

/** Before which runs some care comes. Both conditions must hold; one that is null or false always does. */
export interface CareRule {
  readonly id: string;
  readonly what: RuleWhat;
  /** Longer than this (mm); null: however long. */
  readonly overMm: number | null;
  /** Only runs that a person has marked as important. */
  readonly onlyImportant: boolean;
}

/** What of a run rules look at. */
export interface RuledRun {
  /** Length that comes out of the printer (mm); 0 where a person takes each piece. */
  readonly outMm: number;
  readonly important: boolean;
  readonly inkMl: Readonly<Record<string, number>>;
}

const WHITE = 'white';

/** Whether a rule puts its care before a run. White is stirred only for a run that fires white. */
export function callsForCare({ what, overMm, onlyImportant }: Omit<CareRule, 'id'>, run: RuledRun): boolean {
  if (overMm !== null && run.outMm <= overMm + 1e-6) return false;
  if (onlyImportant && !run.important) return false;
  return what.kind !== 'stir' || (run.inkMl[WHITE] ?? 0) > 0;
}

/** The id under which a plan tells the care that a rule puts before a run. */
export function ruledCareId(ruleId: string, runId: string): string {
  return `${ruleId}@${runId}`;
}

/** A rule as a person says it: `nozzle check before every run over 20 m`. */
export function careRuleText({ what, overMm, onlyImportant }: Omit<CareRule, 'id'>): string {
  const care = what.kind === 'clean' ? `${what.strength} clean` : what.kind === 'stir' ? 'stir white' : 'nozzle check';
  const run = onlyImportant ? 'every important run' : 'every run';
  return `${care} before ${run}${overMm === null ? '' : ` over ${metresText(overMm, overMm % 1000 === 0 ? 0 : 2)}`}`;
}

/** The rule and the run that care in a plan belongs to; undefined: no rule asks for it. */
export function ruledCare<Rule extends { readonly id: string }>(
  rules: readonly Rule[],
  careId: string,
): { readonly rule: Rule; readonly runId: string } | undefined {
  const rule = rules.find(({ id }) => careId.startsWith(ruledCareId(id, '')));
  return rule && { rule, runId: careId.slice(ruledCareId(rule.id, '').length) };
}

interface Titled {
  readonly id: string;
  readonly title: string;
}

/** What care in the plan of a printer's line is called. */
export function careTitle(
  { care, careRules }: { readonly care: readonly Titled[]; readonly careRules: readonly Titled[] },
  id: string,
): string {
  return care.find((each) => each.id === id)?.title ?? ruledCare(careRules, id)?.rule.title ?? 'care';
}
