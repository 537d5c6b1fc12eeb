import useSWR, { type SWRResponse } from 'swr';
import type { StockOutlook, StockOutlooks } from '../../../../contract/api/media/supply.ts';
import { useSpools } from '../../../api/data.ts';

const AGAIN_MS = 60_000;

/** How long each stock lasts; anew whenever something is received, printed or corrected. */
export function useOutlooks(): SWRResponse<StockOutlooks, Error> {
  const { data: spools } = useSpools();
  // A length that moves while something prints is no reason to ask again.
  const metres = spools?.reduce((sum, { leftMm }) => sum + Math.round(leftMm / 1000), spools.length) ?? 0;
  return useSWR(`/api/stock-outlooks?metres=${String(metres)}`, { refreshInterval: AGAIN_MS, keepPreviousData: true });
}

export function outlookOf(all: StockOutlooks | undefined, stockId: string): StockOutlook | undefined {
  return all?.stocks.find((each) => each.stockId === stockId);
}

/** `12 days`, `today only`, `more than 60 days`. */
export function daysText({ lasts: { likely }, ahead }: StockOutlook): string {
  if (likely === null) return `more than ${String(ahead.length)} days`;
  if (likely === 0) return 'not a whole day';
  return `${String(likely)} ${likely === 1 ? 'day' : 'days'}`;
}

/** `10 to 15 days`, where that says more than the number of days. */
export function spreadText({ lasts: { early, likely, late }, ahead }: StockOutlook): string {
  if (likely === null || early === late) return '';
  return `${String(early ?? ahead.length)} to ${late === null ? `more than ${String(ahead.length)}` : String(late)}`;
}
