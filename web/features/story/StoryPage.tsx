import { Download, Printer as PrinterSign } from 'lucide-react';
import { Link, useParams } from 'react-router';
import useSWR from 'swr';
import type { Story, StoryPrint } from '../../../contract/api/pace/story.ts';
import { durationText } from '../../../core/units/durationText.ts';
import { errorText } from '../../api/client.ts';
import { clockText, dateText, useShopNow, useZone } from '../../app/shopTime.ts';
import { Button } from '../../ui/Button.tsx';
import { PageError } from '../../ui/PageError.tsx';
import { eventText } from '../../ui/text/inUnits.ts';
import { alongText, acrossText } from '../../ui/text/lengths.ts';
import { number } from '../../ui/text/number.ts';

/** Everything that is known of a piece, a job, a run, a spool or a head, in the order in which it happened. */
export function StoryPage() {
  const { kind = '', id = '' } = useParams();
  const { data, error } = useSWR<Story, Error>(`/api/stories/${kind}/${id}`);
  const zone = useZone();
  if (error) return <PageError>{errorText(error)}</PageError>;
  if (!data) return <p className="p-5 text-soft">Reading …</p>;
  return (
    <article className="h-full overflow-y-auto px-5 py-3.5">
      <header className="mb-3 flex flex-wrap items-baseline gap-x-3 gap-y-2">
        <h1 className="text-lg font-semibold break-words">{data.title}</h1>
        <p className="text-soft">
          Story of a {data.kind}
          {data.under === '' ? '' : `, ${data.under}`}
        </p>
        <span className="ml-auto flex items-center gap-3 print:hidden">
          <a
            href={`/api/stories/${data.kind}/${data.id}`}
            download={`${data.kind}-${data.id}.json`}
            className="inline-flex items-center gap-1 text-tide underline"
          >
            <Download size={14} aria-hidden="true" /> JSON
          </a>
          <Button
            onClick={() => {
              window.print();
            }}
          >
            <PrinterSign size={16} aria-hidden="true" /> Print
          </Button>
        </span>
      </header>
      {data.links.length > 0 && (
        <p className="mb-3 flex flex-wrap gap-x-3 gap-y-1">
          {data.links.map((link) => (
            <Link key={`${link.kind} ${link.id}`} to={`/story/${link.kind}/${link.id}`} className="text-tide underline">
              {link.name}
            </Link>
          ))}
        </p>
      )}
      <div className="grid gap-x-8 gap-y-4 min-[1000px]:grid-cols-2">
        <section aria-label="On printers">
          <h2 className="mb-1 font-semibold">On printers</h2>
          {data.prints.length === 0 && <p className="text-soft">It was not on a printer yet.</p>}
          {data.prints.map((print) => (
            <Print key={`${print.runId} ${String(print.attempt)}`} print={print} zone={zone} />
          ))}
        </section>
        <Log story={data} zone={zone} />
      </div>
    </article>
  );
}

function Print({ print, zone }: { readonly print: StoryPrint; readonly zone: string }) {
  const now = useShopNow(60_000) ?? 0;
  const { startedMs, endedMs, check } = print;
  const inks = Object.entries(print.inkMl).filter(([, ml]) => ml > 0);
  return (
    <div className="border-t border-rule py-2 first-of-type:border-0">
      <p>
        <span className="font-medium">{print.runName}</span> on {print.printerName}, {print.modeName}:{' '}
        <span className={print.outcome === 'printed' ? 'text-go' : 'text-stop'}>
          {print.outcome}
          {print.cause === null ? '' : ` (${print.cause})`}
        </span>
      </p>
      <p className="text-soft">
        {startedMs === null ? 'never begun' : clockText(startedMs, now, zone)}
        {startedMs !== null && endedMs !== null ? `, ${durationText(endedMs - startedMs)}` : ''}
      </p>
      <p>
        {print.stockName}
        {print.spoolId !== null && (
          <>
            {' '}
            from{' '}
            <Link to={`/story/spool/${print.spoolId}`} className="text-tide underline">
              {print.spoolLabel}
            </Link>
            {print.lot === null || print.lot === '' ? '' : `, lot ${print.lot}`}
            {print.onRollMm === null ? '' : `, ${alongText(print.onRollMm, 1)} into it`}
          </>
        )}
        , {alongText(print.fedMm, 2)} fed
      </p>
      {inks.length > 0 && (
        <p className="text-soft">{inks.map(([name, ml]) => `${name} ${number(ml, 2)} ml`).join(', ')}</p>
      )}
      <p className="text-soft">
        {check === null
          ? 'No check of its heads before it.'
          : `Heads checked ${dateText(check.printedMs, zone)}: ${check.faults.length === 0 ? 'all nozzles fired' : check.faults.map(({ channel, missing }) => `${channel} ${String(missing)} missing`).join(', ')}.`}
      </p>
      {print.pieces.length > 0 && (
        <details open={print.pieces.length <= 6}>
          <summary className="text-tide">
            {print.pieces.length === 1 ? 'Its piece' : `${String(print.pieces.length)} pieces`}
          </summary>
          <ul>
            {print.pieces.map((piece) => (
              <li key={piece.pieceId} className="flex justify-between gap-3">
                <Link to={`/story/piece/${piece.pieceId}`} className="min-w-0 truncate hover:underline">
                  {piece.name}
                </Link>
                <span className="shrink-0">
                  {piece.yMm === null ? '' : `at ${alongText(piece.yMm, 2)}, ${acrossText(piece.xMm ?? 0)} across, `}
                  <span className={piece.outcome === 'printed' ? 'text-soft' : 'text-stop'}>{piece.outcome}</span>
                </span>
              </li>
            ))}
          </ul>
        </details>
      )}
    </div>
  );
}

function Log({ story, zone }: { readonly story: Story; readonly zone: string }) {
  const now = useShopNow(60_000) ?? 0;
  return (
    <section aria-label="What was done">
      <h2 className="mb-1 font-semibold">What was done</h2>
      {story.events.length === 0 && <p className="text-soft">Nothing is in the log of it.</p>}
      {story.more && <p className="text-soft">What lies further back is left out.</p>}
      <ol>
        {story.events.map((event) => (
          <li key={event.id} className="flex gap-3 border-t border-rule/60 py-1 first:border-0">
            <span className="w-28 shrink-0 text-soft">{clockText(event.atMs, now, zone)}</span>
            <span className="min-w-0 flex-1">{eventText(event)}</span>
            <span className="shrink-0 text-soft">{event.who}</span>
          </li>
        ))}
      </ol>
    </section>
  );
}
