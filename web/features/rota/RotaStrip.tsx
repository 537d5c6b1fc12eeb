import type { RotaItem, RotaView } from '../../../contract/api/care.ts';
import { RotaMark } from './RotaMark.tsx';
import { type RotaSpan, shareOf } from './rotaTime.ts';
import type { Moves } from './useMoves.ts';

interface RotaStripProps {
  readonly printer: RotaView['printers'][number];
  readonly span: RotaSpan;
  readonly attended: RotaView['attended'];
  readonly nowMs: number;
  readonly zone: string;
  readonly chosenId: string | null;
  readonly moves: Moves;
  readonly onChoose: (item: RotaItem) => void;
}

const percent = (share: number): string => `${(share * 100).toFixed(3)}%`;

/** One printer's time, to scale: when people are there, planned runs above, care below them. */
export function RotaStrip({ printer, span, attended, nowMs, zone, chosenId, moves, onChoose }: RotaStripProps) {
  const left = (ms: number): string => percent(shareOf(ms, span));
  const width = (fromMs: number, toMs: number): string => percent(shareOf(toMs, span) - shareOf(fromMs, span));
  return (
    <div
      className="relative h-16 min-w-0 flex-1 overflow-hidden border-l border-rule"
      role="group"
      data-time-strip
      aria-label={`Time of ${printer.name}`}
    >
      <div aria-hidden="true" className="hatched absolute inset-0" />
      {attended.map((there) => (
        <span
          key={there.fromMs}
          aria-hidden="true"
          className="absolute inset-y-0 bg-card"
          style={{ left: left(there.fromMs), width: width(there.fromMs, there.toMs) }}
        />
      ))}
      {span.days.slice(1, -1).map((day) => (
        <span
          key={day}
          aria-hidden="true"
          className="absolute inset-y-0 border-l border-rule"
          style={{ left: left(day) }}
        />
      ))}
      {printer.items.map((item) => (
        <RotaMark
          key={item.id}
          item={item}
          left={left}
          width={width}
          nowMs={nowMs}
          zone={zone}
          isChosen={item.id === chosenId}
          moves={moves}
          onChoose={onChoose}
        />
      ))}
      {nowMs >= span.fromMs && nowMs < span.toMs && (
        <span aria-hidden="true" className="absolute inset-y-0 border-l-2 border-spool" style={{ left: left(nowMs) }} />
      )}
    </div>
  );
}
