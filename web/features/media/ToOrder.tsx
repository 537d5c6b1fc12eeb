import { ShoppingCart } from 'lucide-react';
import type { Outlook } from '../../../core/stock/outlook.ts';
import { useStocks } from '../../api/data.ts';
import { leftFigure } from '../../media/spoolText.ts';

/** `3 days`, `today only`, `12 days`. */
export function daysText(days: number): string {
  if (days < 1) return 'today only';
  const whole = Math.floor(days);
  return `${String(whole)} ${whole === 1 ? 'day' : 'days'}`;
}

/** What has to be ordered now, the most pressing first, with its pace. */
export function ToOrder({ outlooks }: { readonly outlooks: ReadonlyMap<string, Outlook> }) {
  const { data: stocks = [] } = useStocks();
  const short = stocks
    .flatMap((stock) => {
      const own = outlooks.get(stock.id);
      return own?.order === true ? [{ stock, own }] : [];
    })
    .sort((a, b) => (a.own.daysLeft ?? 0) - (b.own.daysLeft ?? 0));
  if (short.length === 0) return null;
  return (
    <section aria-label="To order" className="mb-4">
      <h2 className="mb-1.5 flex items-center gap-2 font-semibold">
        <ShoppingCart size={16} aria-hidden="true" className="text-soft" /> To order
      </h2>
      <ul className="flex flex-wrap gap-1.5">
        {short.map(({ stock, own }) => {
          const perDay = leftFigure({ leftMm: own.perDayMm, sheetMm: stock.sheetMm });
          return (
            <li key={stock.id} className="rounded-md border border-wait bg-card px-2 py-1">
              <span className="font-medium">{stock.name}</span>{' '}
              <span className="text-wait">
                {own.daysLeft === 0 ? 'not enough for what is queued' : `lasts ${daysText(own.daysLeft ?? 0)}`}
              </span>
              {own.perDayMm > 0 && (
                <span className="dense text-soft">
                  {' '}
                  at {perDay.value} {perDay.unit} a day
                </span>
              )}
            </li>
          );
        })}
      </ul>
    </section>
  );
}
