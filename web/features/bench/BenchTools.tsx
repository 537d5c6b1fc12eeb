import { number } from '../../ui/text/number.ts';
import { Redo2, Square, Undo2, Wand2 } from 'lucide-react';
import { Link } from 'react-router';
import { type RunDetail, usePrinters } from '../../api/data.ts';
import { StateWord } from '../../draw/StateShape.tsx';
import { Button } from '../../ui/Button.tsx';
import { ZoomButtons } from './ZoomButtons.tsx';
import type { Bench } from './state/useBench.ts';

/** The two sides of the same media, one click apart. */
function Sides({ pair }: { readonly pair: NonNullable<RunDetail['pair']> }) {
  return (
    <span
      className="flex shrink-0 overflow-hidden rounded-md border border-rule"
      role="group"
      aria-label="Side of the media"
    >
      {(['front', 'back'] as const).map((side) =>
        side === pair.side || pair.otherRunId === null ? (
          <span
            key={side}
            aria-current={side === pair.side ? 'true' : undefined}
            className="px-2.5 py-1 aria-[current]:bg-spool aria-[current]:font-medium aria-[current]:text-on-spool"
          >
            {side}
          </span>
        ) : (
          <Link key={side} to={`/bench/${pair.otherRunId}`} className="px-2.5 py-1 hover:bg-rule/40">
            {side}
          </Link>
        ),
      )}
    </span>
  );
}

interface BenchToolsProps {
  readonly run: RunDetail;
  readonly bench: Bench;
  readonly zoom: number;
  readonly onZoom: (factor: number) => void;
  readonly onFit: () => void;
}

/** What is done with the pieces that are chosen, and how near they are looked at. */
export function BenchTools({ run, bench, zoom, onZoom, onFit }: BenchToolsProps) {
  const { data: printers } = usePrinters();
  const printer = printers?.find((each) => each.id === run.printerId);
  return (
    <header className="@container flex min-h-14 items-center gap-x-3 border-b border-rule px-4 py-3">
      <h1 className="text-lg font-semibold whitespace-nowrap">{run.name}</h1>
      <span className="min-w-0 truncate text-soft @max-2xl:hidden">
        {printer?.name}, {run.mode.name} · {number(run.pieceCount)} {run.pieceCount === 1 ? 'piece' : 'pieces'} of{' '}
        {number(run.jobCount)} {run.jobCount === 1 ? 'job' : 'jobs'}
      </span>
      <StateWord state={run.state} />
      {run.pair && <Sides pair={run.pair} />}
      <span className="ml-auto" />
      {bench.editable && (
        <>
          {bench.nest.running ? (
            <Button
              onClick={() => {
                bench.nest.stop();
              }}
              title="Keep the best layout so far"
            >
              <Square size={15} aria-hidden="true" /> Stop
            </Button>
          ) : (
            <Button
              onClick={() => {
                bench.nestAgain();
              }}
              title="n"
            >
              <Wand2 size={16} aria-hidden="true" /> Nest again
            </Button>
          )}
          <span className="flex">
            <Button
              kind="quiet"
              disabled={!bench.canUndo}
              onClick={() => {
                bench.undo();
              }}
              aria-label="Undo"
              title="Undo (Ctrl Z)"
            >
              <Undo2 size={17} />
            </Button>
            <Button
              kind="quiet"
              disabled={!bench.canRedo}
              onClick={() => {
                bench.redo();
              }}
              aria-label="Redo"
              title="Redo (Ctrl Shift Z)"
            >
              <Redo2 size={17} />
            </Button>
          </span>
        </>
      )}
      <ZoomButtons onZoom={onZoom} onFit={onFit}>
        <span className="w-12 text-center text-soft max-[960px]:hidden">{number(zoom, zoom < 10 ? 1 : 0)}×</span>
      </ZoomButtons>
    </header>
  );
}
