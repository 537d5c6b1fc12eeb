import { useState } from 'react';
import type { StockOutlook } from '../../../../contract/api/media/supply.ts';
import { sendJson } from '../../../api/client.ts';
import type { Stock } from '../../../api/data.ts';
import { useNotice } from '../../../app/notice.tsx';
import { clockText, dateText, useShopNow, useZone } from '../../../app/shopTime.ts';
import { moneyText } from '../../../draw/money.ts';
import { leftFigure } from '../../../media/spoolText.ts';
import { May } from '../../../people/May.tsx';
import { Button } from '../../../ui/Button.tsx';
import { Figure } from '../../../ui/Figure.tsx';
import { Row, Section, Sheet } from '../../../ui/Sheet.tsx';
import { FIELD } from '../../../ui/fields/look.ts';
import { amountOf } from '../SpoolSheet.tsx';
import { ForecastChart } from './ForecastChart.tsx';
import { daysText, spreadText } from './useOutlooks.ts';

/** One stock: how long it lasts and how sure that is, and what to order of it when. */
export function StockSheet({
  stock,
  outlook,
  currency,
  again,
  onClose,
}: {
  readonly stock: Stock;
  readonly outlook: StockOutlook;
  readonly currency: string;
  readonly again: () => void;
  readonly onClose: () => void;
}) {
  const zone = useZone();
  const figure = (mm: number) => leftFigure({ leftMm: mm, sheetMm: stock.sheetMm });
  const text = (mm: number): string => `${figure(mm).value} ${figure(mm).unit}`;
  const { order } = outlook;
  const left = figure(outlook.leftMm);
  return (
    <Sheet title={stock.name} under={<p className="text-soft">Use, forecast and orders</p>} onClose={onClose} wide>
      <div className="mb-3 flex gap-8">
        <p>
          <Figure large value={left.value} unit={left.unit} />
          <span className="block text-soft">left</span>
        </p>
        <p>
          <span className="text-2xl font-semibold">{daysText(outlook)}</span>
          <span className="block text-soft">
            {outlook.known === 'nothing used'
              ? 'nothing of it was used lately'
              : outlook.known === 'few data'
                ? 'few data: the plain mean of what there is'
                : spreadText(outlook) === ''
                  ? 'days that the shop is open'
                  : `${spreadText(outlook)}, 8 times in 10`}
          </span>
        </p>
      </div>
      <ForecastChart outlook={outlook} figure={figure} />
      <p className="dense mb-3 text-soft">
        Bars: used on each open day. Line: what will be left; band: 8 times in 10 it lies within. Queued work is part of
        it.
      </p>
      <Section title="Order">
        {outlook.known !== 'nothing used' && <Row label="A day takes about">{text(outlook.perDayMm)}</Row>}
        {outlook.queuedMm > 0 && <Row label="Queued runs take">{text(outlook.queuedMm)}</Row>}
        <Row label="Order below">{text(order.reorderPointMm)}</Row>
        <Row label="There in, and for">
          {order.leadDays} and {order.coverDays} open days
        </Row>
        {order.leastMm > 0 && <Row label="Always there">{text(order.leastMm)}</Row>}
        <Row label={order.isDue ? 'Order now' : 'Order by'}>
          {order.isDue
            ? `${String(order.packs)} × ${text(order.packMm)}, ${moneyText(order.costMinor, currency)}`
            : order.byMs === null
              ? 'not soon'
              : dateText(order.byMs, zone)}
        </Row>
        <May right="coordinate">
          <OrderForm key={order.mm} stock={stock} suggestedMm={order.mm || order.packMm} again={again} />
        </May>
        {outlook.orders.length > 0 && (
          <ul className="mt-2">
            {outlook.orders.map((each) => (
              <OpenOrder key={each.id} order={each} text={text} again={again} />
            ))}
          </ul>
        )}
      </Section>
      <p className="dense text-soft">
        Lead time, cover, least amount, pack and usable length are set in Setup, Stocks, {stock.name}.
      </p>
    </Sheet>
  );
}

/** What was ordered, as much as the program proposes or as somebody says. */
function OrderForm({
  stock,
  suggestedMm,
  again,
}: {
  readonly stock: Stock;
  readonly suggestedMm: number;
  readonly again: () => void;
}) {
  const { tell } = useNotice();
  const suggested = leftFigure({ leftMm: suggestedMm, sheetMm: stock.sheetMm });
  const [text, setText] = useState(stock.sheetMm === null ? `${suggested.value} ${suggested.unit}` : suggested.value);
  const mm = amountOf(text, stock);
  return (
    <div className="mt-2 flex gap-1.5">
      <input
        aria-label="Amount ordered"
        value={text}
        onChange={(event) => {
          setText(event.target.value);
        }}
        aria-invalid={mm === undefined}
        className={`${FIELD} w-32`}
      />
      <Button
        disabled={mm === undefined || mm <= 0}
        onClick={() => {
          sendJson('POST', '/api/stock-orders', { stockId: stock.id, mm }).then(again).catch(tell);
        }}
      >
        It is ordered
      </Button>
    </div>
  );
}

function OpenOrder({
  order,
  text,
  again,
}: {
  readonly order: StockOutlook['orders'][number];
  readonly text: (mm: number) => string;
  readonly again: () => void;
}) {
  const { tell } = useNotice();
  const now = useShopNow(60_000) ?? 0;
  const zone = useZone();
  return (
    <li className="flex items-center justify-between gap-2 border-t border-rule py-1">
      <span>
        {text(order.mm)} <span className="text-soft">ordered {clockText(order.orderedMs, now, zone)}</span>
        {order.receivedMm > 0 && <span className="text-soft">, {text(order.receivedMm)} came</span>}
      </span>
      <May right="coordinate">
        <Button
          kind="quiet"
          onClick={() => {
            sendJson('POST', `/api/stock-orders/${order.id}/close`).then(again).catch(tell);
          }}
        >
          No longer waited for
        </Button>
      </May>
    </li>
  );
}
