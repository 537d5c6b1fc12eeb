import { CUT_OFFS, SPANS } from '../../core/machine/constants.ts';
import type { WhatIfAsk, WhatIfChangeView } from '../../contract/api/pace/whatIf.ts';
import type { RuleList } from '../../contract/api/shop.ts';

const DAY = 86_400_000;

/** What is looked at: days that lie behind, or what waits. */
export const LOOKED_AT = ['7 days', '30 days', '90 days', 'what waits'] as const;
export type LookedAt = (typeof LOOKED_AT)[number];
const DAYS: Record<LookedAt, number> = { '7 days': 7, '30 days': 30, '90 days': 90, 'what waits': 0 };
/** So far ahead plans reach. */
const AHEAD_MS = 46 * DAY;
export function daysLookedAt(looked: LookedAt, nowMs: number): Pick<WhatIfAsk, 'fromMs' | 'toMs'> {
  if (looked === 'what waits') return { fromMs: nowMs, toMs: nowMs + AHEAD_MS };
  return { fromMs: nowMs - DAYS[looked] * DAY, toMs: nowMs };
}

/** A period's figure as one of thirty days; undefined where a month says nothing. */
export function perMonth(looked: LookedAt, figure: number): number | undefined {
  const days = DAYS[looked];
  return days === 0 || days === 30 ? undefined : (figure * 30) / days;
}

/** Who prints what, as the address has it: a printer for all of it, the rules, one printer less or more. */
function whoIn(who: string, rules: RuleList | undefined): WhatIfChangeView {
  const [kind = '', printerId = ''] = who.split(':');
  if (kind === 'rules' && rules) return { rules };
  if (printerId === '') return {};
  if (kind === 'to') return { toPrinterId: printerId };
  if (kind === 'without') return { withoutPrinterId: printerId };
  return kind === 'like' ? { likePrinterId: printerId } : {};
}

/**
 * What is changed, as the address has it; undefined: nothing yet.
 * @param rules the routing rules as they stand; undefined: they are not here yet
 */
export function changeIn(params: URLSearchParams, rules?: RuleList): WhatIfChangeView | undefined {
  const number = (key: string): number | undefined => {
    const text = params.get(key);
    const value = Number(text);
    return text === null || text === '' || !Number.isFinite(value) ? undefined : value;
  };
  const onOff = (key: string): boolean | undefined => {
    const text = params.get(key);
    return text === 'on' ? true : text === 'off' ? false : undefined;
  };
  const change = {
    span: SPANS.find((each) => each === params.get('span')),
    dryOut: onOff('dryOut'),
    dryMin: number('dryMin'),
    cutOff: CUT_OFFS.find((each) => each === params.get('cutOff')),
    passes: number('passes'),
    oneDirectional: onOff('oneDirectional'),
    gapMm: number('gap'),
    order:
      params.get('order') === 'as listed'
        ? ('as listed' as const)
        : params.get('order') === 'free'
          ? ('free' as const)
          : undefined,
    collectH: number('collect'),
    purgeDays: number('purge'),
    ...whoIn(params.get('who') ?? '', rules),
  };
  const said = Object.entries(change).filter(([, value]) => value !== undefined);
  return said.length === 0 ? undefined : (Object.fromEntries(said) as WhatIfChangeView);
}

/** The address of the page that asks this. */
export function whatIfPath(
  change: WhatIfChangeView,
  of: { readonly printerId?: string; readonly stockId?: string },
): string {
  const params = new URLSearchParams();
  if (of.printerId !== undefined) params.set('printer', of.printerId);
  if (of.stockId !== undefined) params.set('stock', of.stockId);
  for (const [key, value] of Object.entries(change)) {
    if (typeof value === 'object') continue;
    params.set(key === 'gapMm' ? 'gap' : key, typeof value === 'boolean' ? (value ? 'on' : 'off') : String(value));
  }
  return `/pace/what-if?${params.toString()}`;
}

const OF_STOCKS: readonly (keyof WhatIfChangeView)[] = ['span', 'dryOut', 'dryMin', 'cutOff'];

/** What of a change a stock can be told; undefined: some of it belongs elsewhere. */
export function stockPart(change: WhatIfChangeView): WhatIfChangeView | undefined {
  return Object.keys(change).every((key) => OF_STOCKS.some((each) => each === key)) ? change : undefined;
}
