import { careTitle } from '../../../core/care/careRule.ts';
import { PageError } from '../../ui/PageError.tsx';
import { Printer as PrinterSign } from 'lucide-react';
import { Link, useParams } from 'react-router';
import type { LineEvent } from '../../../core/schedule/plan.ts';
import { counted } from '../../ui/text/counted.ts';
import { type Printer, type RunItem, useStocks } from '../../api/data.ts';
import { durationText } from '../../../core/units/durationText.ts';
import { clockText, dayText, useShopNow, useZone } from '../../app/shopTime.ts';
import { Button } from '../../ui/Button.tsx';
import { alongText, acrossText } from '../../ui/text/lengths.ts';
import { BETWEEN, shortageText, WAITS } from './lineTexts.ts';
import { type FloorLine, useFloor } from './useFloor.ts';

const DAY_MS = 24 * 3_600_000;
/** Waits shorter than this are no line on paper. */
const LEAST_WAIT_MS = 5 * 60_000;

/** A list on paper is of one instant: on the page it is planned anew so often, not at every step of the clock. */
const RENEW_MS = 20_000;

/** What one printer does within the next day, on A4, to hang up at the printer. */
export function DayListPage() {
  const nowMs = useShopNow(RENEW_MS);
  const { printerId } = useParams();
  return nowMs !== undefined && printerId !== undefined ? <DayListAt printerId={printerId} nowMs={nowMs} /> : null;
}

function DayListAt({ printerId, nowMs }: { readonly printerId: string; readonly nowMs: number }) {
  const floor = useFloor(nowMs);
  const zone = useZone();
  const own = floor.lines.find(({ printer }) => printer.id === printerId);
  if (floor.loading) return <p className="p-8 text-soft">Reading…</p>;
  if (!own) return <PageError>There is no printer {printerId}.</PageError>;
  const events = own.line.events.filter(
    (event) =>
      event.toMs > nowMs &&
      event.fromMs < nowMs + DAY_MS &&
      (event.kind !== 'wait' || event.toMs - event.fromMs >= LEAST_WAIT_MS),
  );
  const shortages = own.line.shortages.filter(({ atMs }) => atMs < nowMs + DAY_MS);
  return (
    <section className="h-full overflow-auto px-8 py-6 print:h-auto print:overflow-visible print:p-0">
      <header className="mb-3 flex flex-wrap items-baseline gap-3">
        <h1 className="flex-1 text-lg font-semibold">
          {own.printer.name}: the next 24 hours
          <span className="block text-base font-normal text-soft">as planned {dayText(nowMs, zone)}</span>
        </h1>
        <span className="flex gap-2 print:hidden">
          <Link to={`/floor?printer=${printerId}`} className="px-2 py-1 text-tide hover:underline">
            Back to the Floor
          </Link>
          <Button
            kind="main"
            onClick={() => {
              window.print();
            }}
          >
            <PrinterSign size={16} aria-hidden="true" /> Print this list
          </Button>
        </span>
      </header>
      <Loaded own={own} />
      <table aria-label={`Next 24 hours of ${own.printer.name}`} className="w-full max-w-[190mm] border-collapse">
        <thead>
          <tr className="border-b-2 border-ink text-left">
            {['Done', 'From', 'To', 'What', 'Length', 'Due'].map((title) => (
              <th key={title} scope="col" className="py-1 pr-3 font-semibold">
                {title}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {events.map((event, i) => (
            <EventRow
              key={`${event.kind} ${String(event.fromMs)}`}
              event={event}
              next={nextRun(events.slice(i + 1), own.runs)}
              runs={own.runs}
              printer={own.printer}
              nowMs={nowMs}
              zone={zone}
            />
          ))}
        </tbody>
      </table>
      {events.length === 0 && <p className="mt-3 text-soft">Nothing is queued on {own.printer.name}.</p>}
      {shortages.map((shortage) => (
        <p key={`${shortage.runId} ${String(shortage.atMs)}`} className="mt-2 font-medium text-stop">
          {clockText(shortage.atMs, nowMs, zone)}: {shortageText(shortage, own.printer, floor.spools)}, unless somebody
          sees to it before.
        </p>
      ))}
    </section>
  );
}

function Loaded({ own: { printer } }: { readonly own: FloorLine }) {
  return (
    <p className="mb-3">
      {printer.config.sources
        .map((source) => {
          const spool = printer.spools.find((each) => each.sourceId === source.id);
          return spool
            ? `${source.name}: ${spool.label}, ${spool.stockName}, ${acrossText(spool.widthMm)} wide, ${alongText(spool.leftMm, 1)} left`
            : `${source.name}: empty`;
        })
        .join('. ')}
    </p>
  );
}

const needsLoading = (what: string): boolean => what === 'stock' || what === 'spool';

function nextRun(events: readonly LineEvent[], runs: readonly RunItem[]): RunItem | undefined {
  const event = events.find(({ kind }) => kind === 'run');
  return event?.kind === 'run' ? runs.find(({ id }) => id === event.id) : undefined;
}

function EventRow({
  event,
  next,
  runs,
  printer,
  nowMs,
  zone,
}: {
  readonly event: LineEvent;
  readonly printer: Printer;
  /** The run behind it. */
  readonly next: RunItem | undefined;
  readonly runs: readonly RunItem[];
  readonly nowMs: number;
  readonly zone: string;
}) {
  const { data: stocks } = useStocks();
  const stockName = ({ stockId }: RunItem): string => stocks?.find(({ id }) => id === stockId)?.name ?? stockId;
  const run = event.kind === 'run' ? runs.find(({ id }) => id === event.id) : undefined;
  const dues = (run?.dues ?? []).map(({ dueMs }) => dueMs);
  return (
    <tr className="break-inside-avoid border-b border-rule align-top">
      <td className="py-1 pr-3">
        {event.kind !== 'wait' && <span aria-hidden="true" className="mt-0.5 block size-4 border border-ink" />}
      </td>
      <td className="py-1 pr-3 whitespace-nowrap">{clockText(event.fromMs, nowMs, zone)}</td>
      <td className="py-1 pr-3 whitespace-nowrap">{clockText(event.toMs, nowMs, zone)}</td>
      <td className="py-1 pr-3">
        {run ? (
          <>
            <span className="font-semibold">{run.name}</span>
            {run.pair ? ` (${run.pair.side})` : ''} on {stockName(run)}
            <span className="block text-soft">
              {counted(run.pieceCount, 'piece')} of {run.jobNames.join(', ')}
              {run.jobCount > run.jobNames.length ? ` and ${String(run.jobCount - run.jobNames.length)} more` : ''}
              {run.customers.length > 0 ? `, for ${run.customers.join(', ')}` : ''}
            </span>
          </>
        ) : event.kind === 'wait' ? (
          <span className="text-soft">
            {WAITS[event.why]}, {durationText(event.toMs - event.fromMs)}
          </span>
        ) : event.kind === 'care' ? (
          careTitle(printer, event.id)
        ) : event.kind === 'run' ? null : (
          `${BETWEEN[event.what]}${needsLoading(event.what) && next ? `: load ${stockName(next)}` : ''}`
        )}
      </td>
      <td className="py-1 pr-3 whitespace-nowrap">{run ? alongText(run.lengthMm) : ''}</td>
      <td className="py-1 whitespace-nowrap">{dues.length > 0 ? dayText(Math.min(...dues), zone) : ''}</td>
    </tr>
  );
}
