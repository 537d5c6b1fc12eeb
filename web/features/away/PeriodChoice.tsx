import type { AwayNow } from '../../../contract/api/away.ts';
import { dayText, useZone } from '../../app/shopTime.ts';
import { DateTimeInput } from '../../ui/fields/DateTimeInput.tsx';
import type { Period } from './useSimulation.ts';

const NAMES = { tonight: 'Tonight', 'the weekend': 'The weekend', 'a week': 'A week' } as const;

/** Which time away: what shop hours suggest, or a time of one's own. */
export function PeriodChoice({
  away,
  period,
  onChoose,
}: {
  readonly away: AwayNow;
  readonly period: Period | undefined;
  readonly onChoose: (params: Readonly<Record<string, string>>) => void;
}) {
  const zone = useZone();
  const chosen = away.suggested.find(({ fromMs, toMs }) => fromMs === period?.fromMs && toMs === period.toMs);
  const own = (from: number | null, to: number | null): void => {
    if (from !== null && to !== null) onChoose({ from: String(from), to: String(to) });
  };
  return (
    <div className="flex flex-wrap items-center gap-2">
      <div className="flex items-center" role="group" aria-label="Time away">
        {away.suggested.map(({ name, fromMs, toMs }) => (
          <button
            key={name}
            type="button"
            aria-pressed={chosen?.name === name}
            title={`${dayText(fromMs, zone)} to ${dayText(toMs, zone)}`}
            onClick={() => {
              onChoose({ for: name });
            }}
            className="h-8 border border-rule bg-card px-3 first:rounded-l-md last:rounded-r-md aria-pressed:border-ink aria-pressed:bg-spool aria-pressed:text-on-spool"
          >
            {NAMES[name]}
          </button>
        ))}
      </div>
      {period && (
        <span className="flex items-center gap-1.5">
          <span className="w-44 max-phone:w-[168px]">
            <DateTimeInput
              label="Away from"
              valueMs={period.fromMs}
              zone={zone}
              onChange={(ms) => {
                own(ms, period.toMs);
              }}
            />
          </span>
          <span className="text-soft">to</span>
          <span className="w-44 max-phone:w-[168px]">
            <DateTimeInput
              label="Away until"
              valueMs={period.toMs}
              zone={zone}
              onChange={(ms) => {
                own(period.fromMs, ms);
              }}
            />
          </span>
        </span>
      )}
    </div>
  );
}
