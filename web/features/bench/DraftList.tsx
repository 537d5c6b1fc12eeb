import { alongText } from '../../ui/text/lengths.ts';
import { number } from '../../ui/text/number.ts';
import { useRef } from 'react';
import { Link } from 'react-router';
import { usePrinters, type RunItem } from '../../api/data.ts';
import { StateWord } from '../../draw/StateShape.tsx';
import { useRoving } from '../../ui/useRoving.ts';

/** Runs on the Bench, and those that have left it for a printer. */
export function DraftList({
  drafts,
  runs,
  shownId,
}: {
  readonly drafts: readonly RunItem[];
  readonly runs: readonly RunItem[];
  readonly shownId: string | null;
}) {
  const { data: printers } = usePrinters();
  const nameOf = (id: string): string => printers?.find((printer) => printer.id === id)?.name ?? '';
  const gone = runs.filter((run) => ['queued', 'sent', 'printing', 'paused'].includes(run.state));
  const list = useRef<HTMLElement>(null);
  const onKeyDown = useRoving(list);
  return (
    <nav
      ref={list}
      onKeyDown={onKeyDown}
      aria-label="Runs"
      className="flex w-[172px] shrink-0 flex-col overflow-y-auto border-r border-rule px-2 py-3 max-[960px]:hidden"
    >
      <Link
        to="/bench/batches"
        className="mb-3 rounded-md border border-rule px-2 py-1.5 text-center font-medium hover:border-soft"
      >
        Propose batches
      </Link>
      <h2 className="px-2 pb-1 font-semibold">On the Bench</h2>
      {drafts.length === 0 && (
        <p className="dense px-2 text-soft">
          No drafts.{' '}
          <Link to="/intake" className="text-tide underline">
            Choose jobs
          </Link>
        </p>
      )}
      {drafts.map((run) => (
        <RunLink key={run.id} run={run} printer={nameOf(run.printerId)} shown={run.id === shownId} />
      ))}
      <h2 className="mt-4 px-2 pb-1 font-semibold">In line</h2>
      {gone.length === 0 && <p className="dense px-2 text-soft">Nothing is queued.</p>}
      {gone.map((run) => (
        <RunLink key={run.id} run={run} printer={nameOf(run.printerId)} shown={run.id === shownId} />
      ))}
    </nav>
  );
}

function RunLink({
  run,
  printer,
  shown,
}: {
  readonly run: RunItem;
  readonly printer: string;
  readonly shown: boolean;
}) {
  return (
    <Link
      to={`/bench/${run.id}`}
      data-rove
      aria-current={shown ? 'page' : undefined}
      className="mb-0.5 rounded-md border border-transparent px-2 py-1.5 hover:bg-rule/40 aria-[current=page]:border-ink aria-[current=page]:bg-spool/15"
    >
      <span className="flex items-baseline justify-between gap-2">
        <span className="font-medium">{run.name}</span>
        <span className="dense text-soft">{printer}</span>
      </span>
      <span className="dense flex items-center justify-between text-soft">
        {run.state === 'draft' && (run.series ?? run.pair) ? (
          run.series ? (
            `segment ${String(run.series.no)} of ${String(run.series.of)}`
          ) : (
            `draft, ${run.pair?.side ?? ''}`
          )
        ) : (
          <StateWord state={run.state} />
        )}
        <span>{run.lengthMm > 0 ? alongText(run.lengthMm) : `${number(run.pieceCount)} pcs`}</span>
      </span>
    </Link>
  );
}
