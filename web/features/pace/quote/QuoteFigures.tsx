import type { ReactNode } from 'react';
import type { QuoteView, QuotedView } from '../../../../contract/api/pace/quote.ts';
import { durationText } from '../../../../core/units/durationText.ts';
import { clockText, useShopNow, useZone } from '../../../app/shopTime.ts';
import { moneyText } from '../../../draw/money.ts';
import { type Column, DataTable } from '../../../ui/DataTable.tsx';
import { FromWhat } from '../../../ui/FromWhat.tsx';
import { counted } from '../../../ui/text/counted.ts';
import { acrossText, alongText } from '../../../ui/text/lengths.ts';
import { number } from '../../../ui/text/number.ts';

type Can = Extract<QuotedView, { can: true }>;
type Cannot = Extract<QuotedView, { can: false }>;

/** Prices and dates by printer, for each number of copies. */
export function QuoteFigures({
  quote,
  action,
}: {
  readonly quote: QuoteView;
  /** What can be done with so many copies. */
  readonly action: (copies: number) => ReactNode;
}) {
  const zone = useZone();
  const nowMs = useShopNow(60_000) ?? 0;
  const { sourceName, pages, widthMm, heightMm, stockName, findings, quantities, currency, marginShare } = quote;
  // What holds for each number of copies is said once.
  const everyUnable = (quantities[0]?.printers ?? []).filter(isCannot);
  const always = new Set(
    everyUnable
      .map(whyNot)
      .filter((why) =>
        quantities.every(({ printers }) => printers.some((each) => isCannot(each) && whyNot(each) === why)),
      ),
  );
  const least = quote.leastPriceMinor > 0 ? `, at least ${moneyText(quote.leastPriceMinor, currency)}` : '';
  return (
    <>
      <p className="mb-1">
        <span className="font-medium">{sourceName}</span>, {acrossText(widthMm)} × {acrossText(heightMm)}
        {pages > 1 && `, ${counted(pages, 'page')}`}, on {stockName}.{' '}
        <span className="text-soft">
          Price: cost and {number(marginShare * 100)} % of it{least}.
        </span>
      </p>
      <ul className="mb-3">
        {findings.map(({ severity, text, remedy }) => (
          <li
            key={text}
            className={severity === 'block' ? 'text-stop' : severity === 'warn' ? 'text-wait' : 'text-soft'}
          >
            {text}
            {remedy !== null && ` ${remedy}.`}
          </li>
        ))}
      </ul>
      {quantities.length === 0 && <p className="text-stop">As it is it can’t be laid out, so it has no price.</p>}
      {quantities.map(({ copies, printers }) => {
        const able = printers.filter((each): each is Can => each.can);
        const unable = printers.filter(isCannot);
        return (
          <section key={copies} aria-label={counted(copies, 'copy', 'copies')} className="mb-5">
            <h2 className="mb-1 flex items-center gap-3 font-semibold">
              {counted(copies, 'copy', 'copies')} {able.length > 0 && action(copies)}
            </h2>
            {able.length > 0 && (
              <DataTable
                label={`Prices of ${counted(copies, 'copy', 'copies')}`}
                columns={columnsOf(copies, currency, (ms) => clockText(ms, nowMs, zone))}
                rows={able}
                rowId={({ printerId }) => printerId}
              />
            )}
            <Unable printers={unable.filter((each) => !always.has(whyNot(each)))} />
          </section>
        );
      })}
      <Unable printers={everyUnable.filter((each) => always.has(whyNot(each)))} />
    </>
  );
}

function isCannot(each: QuotedView): each is Cannot {
  return !each.can;
}

function whyNot({ printerName, troubles }: Cannot): string {
  return `Not on ${printerName}: ${troubles.map(({ text, way }) => `${text}. ${way}`).join(' ')}`;
}

function Unable({ printers }: { readonly printers: readonly Cannot[] }) {
  if (printers.length === 0) return null;
  return (
    <ul className="dense mt-1 mb-3 text-soft">
      {printers.map((each) => (
        <li key={each.printerId}>{whyNot(each)}</li>
      ))}
    </ul>
  );
}

function columnsOf(copies: number, currency: string, clock: (ms: number) => string): readonly Column<Can>[] {
  const money = (minor: number): string => moneyText(minor, currency);
  return [
    {
      ...{ id: 'printer', title: 'Printer', sortBy: ({ printerName }) => printerName },
      cell: ({ printerName, modeName }) => (
        <>
          {printerName} <span className="text-soft">{modeName}</span>
        </>
      ),
    },
    {
      ...{
        id: 'price',
        title: 'Price',
        right: true,
        className: 'font-semibold',
        sortBy: ({ priceMinor }) => priceMinor,
      },
      cell: ({ priceMinor }) => money(priceMinor),
    },
    {
      ...{ id: 'each', title: 'each', right: true, sortBy: ({ priceMinor }) => priceMinor },
      cell: ({ priceMinor }) => money(priceMinor / copies),
    },
    {
      ...{ id: 'cost', title: 'Cost', right: true, sortBy: ({ costMinor }) => costMinor },
      cell: ({ costMinor, inkMinor, mediaMinor, timeMinor }) => (
        <FromWhat text={`Ink ${money(inkMinor)}, media ${money(mediaMinor)}, time ${money(timeMinor)}.`}>
          {money(costMinor)}
        </FromWhat>
      ),
    },
    {
      ...{ id: 'length', title: 'Length', right: true, sortBy: ({ lengthMm }) => lengthMm },
      cell: ({ lengthMm }) => alongText(lengthMm),
    },
    {
      ...{ id: 'time', title: 'Time', right: true, sortBy: ({ timeMs }) => timeMs },
      cell: ({ timeMs }) => durationText(timeMs),
    },
    {
      ...{ id: 'by', title: 'done by', right: true, sortBy: ({ byMs, endMs }) => byMs ?? endMs },
      cell: ({ behind, startMs, endMs, byMs }) => (
        <FromWhat
          text={`Planned from ${clock(startMs)} to ${clock(endMs)}, ${behind === 0 ? 'next in its line' : `behind ${counted(behind, 'run')}`}, where it makes no other run late. Nine of ten times it is done by the time shown.`}
        >
          {byMs === null ? 'not known' : clock(byMs)}
        </FromWhat>
      ),
    },
  ];
}
