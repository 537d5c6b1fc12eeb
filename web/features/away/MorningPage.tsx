import { Check, RotateCcw } from 'lucide-react';
import { Link, useNavigate, useParams } from 'react-router';
import type { MorningView } from '../../../contract/api/away.ts';
import type { RunItem } from '../../../contract/api/floor.ts';
import { errorText, sendJson } from '../../api/client.ts';
import { useMorning } from '../../api/away.ts';
import { usePrinterName } from '../../api/data.ts';
import { useNotice } from '../../app/notice.tsx';
import { clockText, useZone } from '../../app/shopTime.ts';
import { durationText } from '../../../core/units/durationText.ts';
import { moneyText } from '../../draw/money.ts';
import { May } from '../../people/May.tsx';
import { Button } from '../../ui/Button.tsx';
import { type Column, DataTable } from '../../ui/DataTable.tsx';
import { PageError } from '../../ui/PageError.tsx';
import { counted } from '../../ui/text/counted.ts';
import { alongText } from '../../ui/text/lengths.ts';
import { number } from '../../ui/text/number.ts';
import { BigFigure } from './BigFigure.tsx';

/** How a time away came out: planned against happened, what it cost, what to look at and print first. */
export function MorningPage() {
  const { awayId = '' } = useParams();
  const { data, error, mutate } = useMorning(awayId);
  if (error && !data) return <PageError>{errorText(error)}</PageError>;
  return data ? <Morning view={data} onChanged={() => void mutate()} /> : null;
}

type Line = MorningView['lines'][number];

function Morning({ view, onChanged }: { readonly view: MorningView; readonly onChanged: () => void }) {
  const zone = useZone();
  const navigate = useNavigate();
  const { tell } = useNotice();
  const { sums, odds } = view;
  const isLost = sums.lostPieces > 0 || sums.lostMm > 0;
  const span = `${clockText(view.fromMs, 0, zone)} to ${clockText(view.toMs, 0, zone)}`;
  return (
    <section className="h-full overflow-y-auto px-5 py-3 max-phone:px-3" aria-label="How the time away came out">
      <header className="flex flex-wrap items-center gap-x-3 gap-y-2 pb-3">
        <h1 className="text-lg font-semibold">{view.state === 'armed' ? 'So far' : 'While you were away'}</h1>
        <span className="text-soft">
          {span}, armed by {view.armedBy}
          {view.state === 'disarmed' ? ', disarmed before its end' : ''}
        </span>
        <span className="flex-1" />
        <Link to="/rota/away" className="text-tide underline">
          The away plan
        </Link>
        {view.state !== 'armed' && view.seenMs === null && (
          <May right="operate">
            <Button
              kind="main"
              onClick={() => {
                sendJson('POST', `/api/away/${view.id}/seen`)
                  .then(() => navigate('/floor'))
                  .catch(tell);
              }}
            >
              <Check size={16} aria-hidden="true" /> Seen, to the Floor
            </Button>
          </May>
        )}
      </header>
      <dl className="flex flex-wrap gap-x-8 gap-y-3 pb-4">
        <BigFigure label="runs as planned">
          {sums.runsDone}
          <span className="text-soft"> of {sums.runsPlanned}</span>
        </BigFigure>
        <BigFigure label="pieces printed">
          {number(sums.piecesDone)}
          <span className="text-soft"> of {number(sums.piecesPlanned)}</span>
        </BigFigure>
        <BigFigure
          label="lost"
          under={isLost ? `${counted(sums.lostPieces, 'piece')}, ${alongText(sums.lostMm, 1)} of media` : ''}
        >
          {isLost ? moneyText(sums.lostMinor, view.currency) : 'nothing'}
        </BigFigure>
        {odds && (
          <BigFigure label="chance that was said">
            {number(odds.chance * 100)}
            <span className="text-soft"> %</span>
          </BigFigure>
        )}
      </dl>
      {view.checkFirst && (
        <p className="mb-3 rounded-md border border-rule bg-card px-3 py-2">
          Check first:{' '}
          <Link to={`/heads?printer=${view.checkFirst.printerId}`} className="font-semibold text-tide underline">
            {view.checkFirst.name}
          </Link>
          , {view.checkFirst.why}.
        </p>
      )}
      <Again lines={view.lines} onChanged={onChanged} />
      <Lines view={view} />
      <Stops view={view} />
      <Record record={view.record} />
    </section>
  );
}

/** Runs that broke off: what is left of each goes first in line, in one click. */
function Again({ lines, onChanged }: { readonly lines: readonly Line[]; readonly onChanged: () => void }) {
  const { tell, say } = useNotice();
  const runs = lines.filter(({ again }) => again);
  if (runs.length === 0) return null;
  const print = async (some: readonly Line[]): Promise<void> => {
    for (const { planned } of some) {
      try {
        say(`Laying out the rest of ${planned.what}`);
        await sendJson<RunItem>('POST', `/api/runs/${planned.id}/print-rest`, {});
      } catch (problem) {
        tell(problem);
        break;
      }
    }
    onChanged();
  };
  return (
    <May right="coordinate">
      <p className="mb-3 flex flex-wrap items-center gap-2">
        {runs.map((line) => (
          <Button key={line.planned.id} onClick={() => void print([line])}>
            <RotateCcw size={14} aria-hidden="true" /> Print the rest of {line.planned.what}
          </Button>
        ))}
        {runs.length > 1 && (
          <Button kind="main" onClick={() => void print(runs)}>
            Print all {runs.length} rests
          </Button>
        )}
      </p>
    </May>
  );
}

const VERDICTS: Readonly<Record<Line['verdict'], string>> = {
  'as planned': 'text-go',
  later: 'text-wait',
  instead: 'text-go',
  'not done': 'text-stop font-semibold',
  'left out': 'text-soft',
};

function Lines({ view }: { readonly view: MorningView }) {
  const zone = useZone();
  const name = usePrinterName();
  const columns: readonly Column<Line>[] = [
    {
      id: 'planned',
      title: 'Planned',
      className: 'whitespace-nowrap',
      sortBy: ({ planned }) => planned.atMs,
      cell: ({ planned }) => clockText(planned.atMs, view.fromMs, zone),
    },
    {
      id: 'happened',
      title: 'Happened',
      className: 'whitespace-nowrap max-phone:hidden',
      cell: ({ happened }) =>
        happened?.startedMs == null ? (
          <span className="text-soft">–</span>
        ) : (
          `${clockText(happened.startedMs, view.fromMs, zone)}${happened.endedMs === null ? '' : ` to ${clockText(happened.endedMs, view.fromMs, zone)}`}`
        ),
    },
    {
      id: 'printer',
      title: 'Printer',
      className: 'max-phone:hidden',
      cell: ({ planned }) => name(planned.printerId),
    },
    {
      id: 'what',
      title: 'What',
      cell: ({ planned }) => (
        <>
          <span className="hidden text-soft max-phone:block">{name(planned.printerId)}</span>
          {planned.what}
        </>
      ),
    },
    {
      id: 'verdict',
      title: 'Came out',
      sortBy: ({ verdict }) => verdict,
      cell: ({ verdict, why, happened, planned }) => (
        <>
          <span className={VERDICTS[verdict]}>{verdict}</span>
          {why !== '' && <span className="ml-1.5">{why}</span>}
          {verdict === 'later' && happened?.endedMs != null && (
            <span className="ml-1.5 text-soft">by {durationText(happened.endedMs - planned.toMs)}</span>
          )}
          {(happened?.lostPieces ?? 0) > 0 && (
            <span className="ml-1.5 text-stop">{counted(happened?.lostPieces ?? 0, 'piece')} lost</span>
          )}
        </>
      ),
    },
  ];
  return (
    <DataTable
      label="Planned against happened"
      columns={columns}
      rows={view.lines}
      rowId={({ planned }) => `${planned.id} ${String(planned.atMs)}`}
      empty={<span className="text-soft">Nothing was planned.</span>}
    />
  );
}

function Stops({ view }: { readonly view: MorningView }) {
  const zone = useZone();
  const name = usePrinterName();
  if (view.stops.length === 0) return null;
  return (
    <section className="mt-5">
      <h2 className="mb-1 font-semibold">What stood</h2>
      <ul>
        {view.stops.map(({ printerId, fromMs, toMs, why }) => (
          <li key={`${printerId} ${String(fromMs)}`}>
            {name(printerId)} from {clockText(fromMs, view.fromMs, zone)}
            {toMs === null ? ' until now' : ` for ${durationText(toMs - fromMs)}`}: {why}
          </li>
        ))}
      </ul>
    </section>
  );
}

/** How good the odds have been lately. */
function Record({ record }: { readonly record: MorningView['record'] }) {
  return (
    <p className="mt-5 text-soft">
      {record === null
        ? 'How good the odds are shows once a time away has ended by itself.'
        : `Of ${counted(record.nights, 'time')} away that ended lately, ${number(record.came * 100)} % came out as planned; ${number(record.said * 100)} % was said on average. Brier ${number(record.brier, 3)}${record.nights < 10 ? ', from few times' : ''}.`}
    </p>
  );
}
