import { ArrowLeft } from 'lucide-react';
import { useState } from 'react';
import { Link } from 'react-router';
import useSWR from 'swr';
import type { SpoolProposal, SpoolProposalSide } from '../../../../contract/api/media/spoolProposal.ts';
import { errorText, getJson, sendJson } from '../../../api/client.ts';
import { useNotice } from '../../../app/notice.tsx';
import { moneyText } from '../../../draw/money.ts';
import { leftFigure } from '../../../media/spoolText.ts';
import { May } from '../../../people/May.tsx';
import { Button } from '../../../ui/Button.tsx';
import { PageError } from '../../../ui/PageError.tsx';
import { counted } from '../../../ui/text/counted.ts';
import { SpoolBars } from './SpoolBars.tsx';

/** Which spool each queued run takes: as it stands and as it could be, drawn to one scale, with what that saves. */
export function WhichSpoolPage() {
  const [asked, setAsked] = useState(0);
  const { data, error, isLoading } = useSWR<SpoolProposal, Error>(
    ['spool proposal', asked],
    () => getJson<SpoolProposal>('/api/spool-proposal'),
    { revalidateOnFocus: false },
  );
  const { tell, say } = useNotice();
  const again = (): void => {
    setAsked((n) => n + 1);
  };
  if (error && !data) return <PageError>{errorText(error)}</PageError>;
  const changed = data ? choiceOf(data) : { runs: [], orders: [] };
  const better = data?.stocks.filter(isBetter) ?? [];
  const take = (): void => {
    sendJson('POST', '/api/spool-proposal', changed)
      .then(() => {
        say(`${counted(changed.runs.length, 'run')} on their spools`);
        again();
      })
      .catch(tell);
  };
  return (
    <section className="h-full overflow-y-auto px-5 py-3.5">
      <header className="mb-3 flex flex-wrap items-center gap-x-4 gap-y-2">
        <Link to="/media" className="inline-flex items-center gap-1 text-tide underline">
          <ArrowLeft size={16} aria-hidden="true" /> Media
        </Link>
        <h1 className="text-lg font-semibold">Which spool</h1>
        <p className="text-soft">All queued runs on rolls, packs and offcuts, so that stubs vanish.</p>
        <span className="ml-auto flex gap-2">
          <Button onClick={again} disabled={isLoading}>
            Work it out again
          </Button>
          <May right="coordinate">
            <Button kind="main" disabled={isLoading || better.length === 0} onClick={take}>
              Take the proposal
            </Button>
          </May>
        </span>
      </header>
      {!data && <p className="text-soft">Working it out …</p>}
      {data && (
        <p className="mb-4" aria-live="polite">
          {data.stocks.length === 0
            ? 'Nothing is queued that takes media.'
            : better.length === 0
              ? 'No better way than today’s was found.'
              : `${summary(data)}.`}
          {data.lateProposedMinor > data.lateTodayMinor && (
            <span className="text-wait">
              {' '}
              Lateness would cost {moneyText(data.lateProposedMinor - data.lateTodayMinor, data.currency)} more.
            </span>
          )}
        </p>
      )}
      {data?.stocks.map((stock) => {
        const longest = Math.max(
          ...[...stock.today.lines, ...stock.proposed.lines].map(({ wasLeftMm }) => wasLeftMm),
          1,
        );
        return (
          <section key={stock.stockId} aria-label={stock.stockName} className="mb-5 border-t border-rule pt-2">
            <h2 className="mb-1.5 flex items-baseline gap-3">
              <span className="font-semibold">{stock.stockName}</span>
              {isBetter(stock) ? (
                <span className="font-medium text-go">saves {moneyText(stock.savedMinor, data.currency)}</span>
              ) : (
                <span className="text-soft">as good as it can be{stock.isExact ? '' : ', as far as was looked'}</span>
              )}
            </h2>
            <div className={`grid gap-x-8 gap-y-3 ${isBetter(stock) ? 'min-[1000px]:grid-cols-2' : ''}`}>
              {isBetter(stock) && <Side title="As it stands" side={stock.today} stock={stock} longestMm={longest} />}
              <Side
                title={isBetter(stock) ? 'Proposed' : 'As it stands'}
                side={stock.proposed}
                stock={stock}
                longestMm={longest}
              />
            </div>
          </section>
        );
      })}
      {data && data.orders.length > 0 && better.length > 0 && (
        <p className="text-soft">
          Runs of one spool are put together in the line of{' '}
          {data.orders.map(({ printerName }) => printerName).join(', ')}. A roll that a run is meant for has to be
          loaded before it starts; in the sheet of a run it can be let go again.
        </p>
      )}
    </section>
  );
}

type StockOf = SpoolProposal['stocks'][number];

/** Half a unit of money is worth no change. */
const WORTH_MINOR = 50;

const isBetter = ({ savedMinor, today, proposed }: StockOf): boolean =>
  proposed.without.length < today.without.length || savedMinor >= WORTH_MINOR;

/** What taking it sends: runs of stocks that gain, and the lines in order. */
function choiceOf({ stocks, orders }: SpoolProposal) {
  const runs = stocks
    .filter(isBetter)
    .flatMap(({ proposed }) => [
      ...proposed.lines.flatMap(({ spoolId, runs: own }) => own.map(({ id }) => ({ runId: id, spoolId }))),
      ...proposed.without.map(({ id }) => ({ runId: id, spoolId: null })),
    ]);
  return { runs, orders: orders.map(({ printerId, runIds }) => ({ printerId, runIds })) };
}

function summary({ stocks, currency }: SpoolProposal): string {
  const sum = (of: (stock: StockOf) => number): number =>
    stocks.filter(isBetter).reduce((all, stock) => all + of(stock), 0);
  const stub = sum(({ today, proposed }) => today.stubMm - proposed.stubMm);
  const opened = sum(({ today, proposed }) => today.opened - proposed.opened);
  const placed = sum(({ today, proposed }) => today.without.length - proposed.without.length);
  const metres = leftFigure({ leftMm: Math.abs(stub), sheetMm: null });
  const saved = sum(({ savedMinor }) => savedMinor);
  const parts = [
    saved > 0 ? `Saves ${moneyText(saved, currency)}` : 'A better way',
    stub > 0 ? `${metres.value} ${metres.unit} less in stubs` : '',
    opened > 0 ? `${counted(opened, 'spool')} fewer opened` : '',
    placed > 0 ? `${counted(placed, 'run')} more with media` : '',
  ];
  return parts.filter((part) => part !== '').join(', ');
}

function Side({
  title,
  side,
  stock,
  longestMm,
}: {
  readonly title: string;
  readonly side: SpoolProposalSide;
  readonly stock: StockOf;
  readonly longestMm: number;
}) {
  const stub = leftFigure({ leftMm: side.stubMm, sheetMm: stock.sheetMm });
  return (
    <div className="min-w-0">
      <h3 className="flex items-baseline justify-between gap-3">
        <span className="font-medium">{title}</span>
        <span className="dense text-soft">
          stubs {stub.value} {stub.unit}, {counted(side.opened, 'spool')} opened, {counted(side.loads, 'load')}
        </span>
      </h3>
      <SpoolBars side={side} sheetMm={stock.sheetMm} longestMm={longestMm} />
    </div>
  );
}
