import { RUN_STATES_ON_PRINTER } from '../../../core/flow/run.ts';
import { alongFigure, alongText } from '../../ui/text/lengths.ts';
import type { Hand } from '../../../core/schedule/nextHands.ts';
import { durationText } from '../../../core/units/durationText.ts';
import { HandItem } from './NextHands.tsx';
import { PrinterHead } from './PrinterHead.tsx';
import type { FloorLine } from './useFloor.ts';

interface PrinterCardProps {
  readonly floorLine: FloorLine;
  readonly hands: readonly Hand[];
  readonly nowMs: number;
  readonly onOpen: () => void;
}

/** The Floor on a phone: a list of printers with their next hands, those that need a hand first. */
export function PrinterCards({
  lines,
  hands,
  nowMs,
  onOpen,
}: {
  readonly lines: readonly FloorLine[];
  /** The most urgent first. */
  readonly hands: readonly Hand[];
  readonly nowMs: number;
  readonly onOpen: (printerId: string) => void;
}) {
  const urgent = hands.map(({ printerId }) => printerId);
  const rank = (id: string): number => (urgent.includes(id) ? urgent.indexOf(id) : urgent.length);
  const sorted = [...lines].sort((a, b) => rank(a.printer.id) - rank(b.printer.id));
  return (
    <div className="min-h-0 flex-1 overflow-y-auto border-t border-rule">
      {sorted.map((floorLine) => (
        <PrinterCard
          key={floorLine.printer.id}
          floorLine={floorLine}
          hands={hands.filter(({ printerId }) => printerId === floorLine.printer.id)}
          nowMs={nowMs}
          onOpen={() => {
            onOpen(floorLine.printer.id);
          }}
        />
      ))}
      {lines.length === 0 && <p className="p-5 text-soft">No printers are described yet. Add one under Setup.</p>}
    </div>
  );
}

function PrinterCard({ floorLine, hands, nowMs, onOpen }: PrinterCardProps) {
  const { printer, line } = floorLine;
  return (
    <article aria-label={printer.name} className="border-b border-rule pb-2">
      <PrinterHead printer={printer} freeMs={line.freeMs} nowMs={nowMs} onOpen={onOpen} />
      <p className="px-5 pb-1 text-soft">{workText(floorLine, nowMs)}</p>
      {hands.length > 0 && (
        <ul aria-label={`Hands for ${printer.name}`} className="flex flex-col gap-1.5 px-3">
          {hands.map((hand) => (
            <HandItem key={hand.key} hand={hand} nowMs={nowMs} whole onOpen={onOpen} />
          ))}
        </ul>
      )}
    </article>
  );
}

function workText({ line, runs }: FloorLine, nowMs: number): string {
  const present = runs.find(({ state }) => (RUN_STATES_ON_PRINTER as readonly string[]).includes(state));
  const queued = runs.filter((run) => run.state === 'queued').length;
  const behind = queued === 0 ? 'nothing queued behind it' : `${String(queued)} queued`;
  if (!present) return queued === 0 ? 'Nothing queued.' : `${String(queued)} queued.`;
  const end = line.events.find((event) => event.kind === 'run' && event.id === present.id)?.toMs ?? nowMs;
  const reached = alongFigure(present.reachedMm ?? 0).value;
  return `${present.name}: ${reached} of ${alongText(present.lengthMm)}, ${durationText(Math.max(0, end - nowMs))} left, ${behind}.`;
}
