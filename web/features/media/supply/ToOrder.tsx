import { Download, ShoppingCart } from 'lucide-react';
import type { StockOutlook, StockOutlooks } from '../../../../contract/api/media/supply.ts';
import { useStocks } from '../../../api/data.ts';
import { dateText, useZone } from '../../../app/shopTime.ts';
import { leftFigure } from '../../../media/spoolText.ts';
import { daysText } from './useOutlooks.ts';

/** Due soon enough to be thought of (open days). */
const SOON_DAYS = 5;

/** What has to be ordered now or soon, the most pressing first, and the list on paper. */
export function ToOrder({
  outlooks,
  onOpen,
}: {
  readonly outlooks: StockOutlooks | undefined;
  readonly onOpen: (stockId: string) => void;
}) {
  const { data: stocks = [] } = useStocks();
  const zone = useZone();
  const due = (outlooks?.stocks ?? [])
    .filter(({ order, ahead }) => order.isDue || isSoon(order.byMs, ahead))
    .sort((a, b) => (a.order.byMs ?? 0) - (b.order.byMs ?? 0) || (a.lasts.likely ?? 99) - (b.lasts.likely ?? 99));
  if (due.length === 0) return null;
  return (
    <section aria-label="To order" className="mb-4">
      <div className="mb-1.5 flex items-center gap-3">
        <h2 className="flex items-center gap-2 font-semibold">
          <ShoppingCart size={16} aria-hidden="true" className="text-soft" /> To order
        </h2>
        {(['pdf', 'csv'] as const).map((form) => (
          <a
            key={form}
            href={`/api/stock-orders/list.${form}`}
            className="inline-flex items-center gap-1 text-tide underline"
          >
            <Download size={14} aria-hidden="true" /> {form.toUpperCase()}
          </a>
        ))}
      </div>
      <ul className="flex flex-wrap gap-1.5">
        {due.map((own) => {
          const stock = stocks.find(({ id }) => id === own.stockId);
          if (!stock) return null;
          const amount = leftFigure({ leftMm: own.order.mm, sheetMm: stock.sheetMm });
          return (
            <li key={stock.id}>
              <button
                type="button"
                onClick={() => {
                  onOpen(stock.id);
                }}
                className={`rounded-md border bg-card px-2 py-1 text-left hover:bg-rule/40 ${own.order.isDue ? 'border-wait' : 'border-rule'}`}
              >
                <span className="font-medium">{stock.name}</span>{' '}
                <span className={own.order.isDue ? 'text-wait' : 'text-soft'}>
                  {lastsText(own)},{' '}
                  {own.order.isDue
                    ? `order ${amount.value} ${amount.unit} now`
                    : `order by ${dateText(own.order.byMs ?? 0, zone)}`}
                </span>
              </button>
            </li>
          );
        })}
      </ul>
    </section>
  );
}

function lastsText(own: StockOutlook): string {
  return own.queuedMm > own.leftMm ? 'not enough for what is queued' : `lasts ${daysText(own)}`;
}

function isSoon(byMs: number | null, ahead: StockOutlook['ahead']): boolean {
  const until = ahead[SOON_DAYS]?.atMs;
  return byMs !== null && until !== undefined && byMs < until;
}
