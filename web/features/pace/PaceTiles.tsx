import { ArrowDown, ArrowUp } from 'lucide-react';
import type { PaceAnswer } from '../../../contract/api/pace/pace.ts';
import { changeText, partsText, valueText } from './values.ts';

/** The figures that a manager asks for first. */
const FIRST = ['use', 'area-run', 'good', 'waste', 'quality', 'cost-area', 'late', 'bias'] as const;

/** Figures of the period beside those of the one before; one is chosen to be drawn. */
export function PaceTiles({
  now,
  before,
  chosen,
  onChoose,
}: {
  readonly now: PaceAnswer;
  readonly before: PaceAnswer | undefined;
  readonly chosen: string;
  readonly onChoose: (measure: string) => void;
}) {
  const shown = now.measures.filter(({ id }) => (FIRST as readonly string[]).includes(id) || id === chosen);
  return (
    <ul className="grid grid-cols-[repeat(auto-fill,minmax(136px,1fr))] gap-2" aria-label="Figures">
      {shown.map((measure) => {
        const own = now.total[measure.id];
        const change = changeText(measure, own?.value, before?.total[measure.id]?.value);
        const good =
          change?.up === null || change === null || measure.moreIsBetter === null
            ? null
            : change.up === measure.moreIsBetter;
        return (
          <li key={measure.id}>
            <button
              type="button"
              aria-pressed={measure.id === chosen}
              aria-label={measure.name}
              aria-describedby={`pace-${measure.id}`}
              title={own ? `${measure.words} ${partsText(measure, own)}` : measure.words}
              onClick={() => {
                onChoose(measure.id);
              }}
              className="flex h-full w-full flex-col items-stretch rounded-md border border-rule bg-card px-2.5 py-1.5 text-left hover:border-soft aria-pressed:border-ink aria-pressed:bg-spool/10"
            >
              <span className="block truncate text-soft">{measure.name}</span>
              <span id={`pace-${measure.id}`} className="block text-lg font-semibold whitespace-nowrap">
                {valueText(measure, own?.value, now.currency)}
              </span>
              <span
                className={`dense flex min-h-4 items-center gap-0.5 ${good === null ? 'text-soft' : good ? 'text-go' : 'text-stop'}`}
              >
                {change && change.up !== null && (
                  <>
                    {change.up ? (
                      <ArrowUp size={12} aria-label="up by" />
                    ) : (
                      <ArrowDown size={12} aria-label="down by" />
                    )}
                  </>
                )}
                {change?.text ?? ''}
              </span>
            </button>
          </li>
        );
      })}
    </ul>
  );
}
