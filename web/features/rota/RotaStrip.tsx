import { TriangleAlert } from 'lucide-react';
import type { RotaItem, RotaView } from '../../../contract/api/care.ts';
import { clockText, timeText } from '../../app/shopTime.ts';
import { CARE_SIGNS, OUTCOMES } from './careSigns.tsx';
import { type RotaSpan, shareOf } from './rotaTime.ts';

interface RotaStripProps {
  readonly printer: RotaView['printers'][number];
  readonly span: RotaSpan;
  readonly attended: RotaView['attended'];
  readonly nowMs: number;
  readonly zone: string;
  readonly chosenId: string | null;
  readonly onChoose: (item: RotaItem) => void;
}

const percent = (share: number): string => `${(share * 100).toFixed(3)}%`;

/** One printer's time, to scale: when people are there, planned runs above, care below them. */
export function RotaStrip({ printer, span, attended, nowMs, zone, chosenId, onChoose }: RotaStripProps) {
  const left = (ms: number): string => percent(shareOf(ms, span));
  const width = (fromMs: number, toMs: number): string => percent(shareOf(toMs, span) - shareOf(fromMs, span));
  return (
    <div
      className="relative h-16 min-w-0 flex-1 overflow-hidden border-l border-rule"
      role="group"
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
      {printer.items.map((item) =>
        item.kind === 'run' ? (
          <button
            key={item.id}
            type="button"
            data-rove
            aria-pressed={item.id === chosenId}
            aria-label={label(item, nowMs, zone)}
            title={label(item, nowMs, zone)}
            onClick={() => {
              onChoose(item);
            }}
            className={`dense @container absolute top-1 h-6 overflow-hidden rounded-[3px] border px-1 text-left whitespace-nowrap aria-pressed:outline-2 aria-pressed:outline-tide ${item.outcome === 'late' ? 'border-wait bg-wait/15 text-ink' : item.outcome === 'failed' ? 'border-stop bg-card text-stop' : item.outcome === 'done' ? 'border-rule bg-rule/50 text-soft' : 'border-ink bg-card text-ink'}`}
            style={{ left: left(item.fromMs), width: width(item.fromMs, item.toMs), minWidth: 4 }}
          >
            <span className="@max-[52px]:hidden">{item.title}</span>
          </button>
        ) : (
          <CareMark
            key={item.id}
            item={item}
            left={left(item.fromMs)}
            label={label(item, nowMs, zone)}
            isChosen={item.id === chosenId}
            onChoose={onChoose}
          />
        ),
      )}
      {nowMs >= span.fromMs && nowMs < span.toMs && (
        <span aria-hidden="true" className="absolute inset-y-0 border-l-2 border-spool" style={{ left: left(nowMs) }} />
      )}
    </div>
  );
}

function CareMark({
  item,
  left,
  label: text,
  isChosen,
  onChoose,
}: {
  readonly item: RotaItem;
  readonly left: string;
  readonly label: string;
  readonly isChosen: boolean;
  readonly onChoose: (item: RotaItem) => void;
}) {
  const Icon = item.kind === 'run' ? undefined : CARE_SIGNS[item.kind].icon;
  return (
    <button
      type="button"
      data-rove
      aria-pressed={isChosen}
      aria-label={text}
      title={text}
      onClick={() => {
        onChoose(item);
      }}
      className={`absolute bottom-1.5 flex size-6 -translate-x-1/2 items-center justify-center rounded-full border aria-pressed:outline-2 aria-pressed:outline-offset-1 aria-pressed:outline-tide ${OUTCOMES[item.outcome].look}`}
      style={{ left }}
    >
      {item.outcome === 'conflict' ? (
        <TriangleAlert size={14} aria-hidden="true" />
      ) : (
        Icon && <Icon size={14} aria-hidden="true" />
      )}
    </button>
  );
}

/** All of an item in a sentence, as a screen reader says it. */
function label(item: RotaItem, nowMs: number, zone: string): string {
  const when = `${clockText(item.fromMs, nowMs, zone)}${item.toMs > item.fromMs + 60_000 ? ` to ${timeText(item.toMs, zone)}` : ''}`;
  const why = item.why === '' ? '' : `: ${item.why}`;
  return `${item.title}, ${when}, ${OUTCOMES[item.outcome].word}${why}`;
}
