/** What a rule can look at. Lengths in mm, hours until the due date. */
export interface RoutedJob {
  readonly stock: string;
  readonly widthMm: number;
  readonly lengthMm: number;
  readonly pieces: number;
  readonly customer: string;
  readonly queue: string;
  readonly preset: string;
  readonly name: string;
  readonly dueH: number | null;
  readonly format: string;
}

export const RULE_TEXTS = ['stock', 'customer', 'queue', 'preset', 'name', 'format'] as const;
export const RULE_FIGURES = ['widthMm', 'lengthMm', 'pieces', 'dueH'] as const;
export type RuleText = (typeof RULE_TEXTS)[number];
export type RuleFigure = (typeof RULE_FIGURES)[number];

export type RuleCondition =
  | { readonly about: RuleText; readonly is: 'is' | 'contains' | 'is not'; readonly text: string }
  | { readonly about: RuleFigure; readonly is: 'over' | 'at most'; readonly figure: number };

export interface Rule {
  readonly id: string;
  readonly name: string;
  /** All of them must hold; none: every job. */
  readonly when: readonly RuleCondition[];
  readonly printerIds: readonly string[];
  readonly on: boolean;
}

export interface RuleAnswer {
  readonly rule: Rule;
  readonly printerId: string;
  /** Printers that the rule names before it, which can't take the job. */
  readonly passedOver: readonly string[];
}

/** Case and blanks at the ends don't count in texts. A job without a due date meets no condition on it. */
export function conditionHolds(job: RoutedJob, condition: RuleCondition): boolean {
  if ('figure' in condition) {
    const value = job[condition.about];
    if (value === null) return false;
    return condition.is === 'over' ? value > condition.figure + 1e-9 : value <= condition.figure + 1e-9;
  }
  const text = job[condition.about].trim().toLowerCase();
  const wanted = condition.text.trim().toLowerCase();
  switch (condition.is) {
    case 'is':
      return text === wanted;
    case 'is not':
      return text !== wanted;
    case 'contains':
      return text.includes(wanted);
  }
}

/**
 * The first rule, in order, that the job meets and one of whose printers can take it. A rule none of whose printers can is
 * passed by, so that a job never goes where it can't be printed.
 */
export function routeByRules(
  job: RoutedJob,
  rules: readonly Rule[],
  acceptsWork: (printerId: string) => boolean,
): RuleAnswer | undefined {
  for (const rule of rules) {
    if (!rule.on || !rule.when.every((condition) => conditionHolds(job, condition))) continue;
    const at = rule.printerIds.findIndex((id) => acceptsWork(id));
    const printerId = rule.printerIds[at];
    if (printerId !== undefined) return { rule, printerId, passedOver: rule.printerIds.slice(0, at) };
  }
  return undefined;
}
