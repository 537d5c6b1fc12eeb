import { CUT_OFFS, SPANS } from '../../core/machine/constants.ts';
import type { WhatIfAsk, WhatIfChangeView } from '../../contract/api/pace/whatIf.ts';

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

/** What is changed, as the address has it; undefined: nothing yet. */
export function changeIn(params: URLSearchParams): WhatIfChangeView | undefined {
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
    params.set(key === 'gapMm' ? 'gap' : key, typeof value === 'boolean' ? (value ? 'on' : 'off') : String(value));
  }
  return `/pace/what-if?${params.toString()}`;
}

/** What of a change a stock can be told; undefined: some of it belongs to modes or to each run. */
export function stockPart(change: WhatIfChangeView): WhatIfChangeView | undefined {
  const { passes, oneDirectional, gapMm, order, ...part } = change;
  const others = [passes, oneDirectional, gapMm, order].some((value) => value !== undefined);
  return others ? undefined : part;
}
