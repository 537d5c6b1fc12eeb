import type { DayHours as DayOpen } from '../../../core/schedule/shopHours.ts';
import { Checkbox } from '../../ui/fields/Checkbox.tsx';
import { NumberInput } from '../../ui/fields/NumberInput.tsx';
import { TimeInput } from '../../ui/fields/TimeInput.tsx';

const DAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'] as const;

/** From when to when on each day of the week; a day without hours is closed. */
export function DayHours({
  days,
  closed,
  counted = false,
  onChange,
}: {
  readonly days: readonly DayOpen[];
  /** What stands at a day without hours. */
  readonly closed: string;
  /** How many people are there is asked for, too. */
  readonly counted?: boolean;
  readonly onChange: (days: DayOpen[]) => void;
}) {
  return DAYS.map((name, i) => {
    const weekday = i + 1;
    const open = days.find((day) => day.weekday === weekday);
    const set = (hours: { from: string; to: string; people?: number } | null): void => {
      const others = days.filter((day) => day.weekday !== weekday);
      const next = hours ? [...others, { weekday, ...hours }] : others;
      onChange(next.sort((a, b) => a.weekday - b.weekday));
    };
    return (
      <div key={name} className="flex items-center gap-3 py-0.5">
        <Checkbox
          text={name}
          value={open !== undefined}
          className="w-36"
          onChange={(on) => {
            set(on ? { from: '07:30', to: '18:00' } : null);
          }}
        />
        {open ? (
          <>
            <TimeInput
              label={`${name} from`}
              value={open.from}
              onChange={(from) => {
                set({ ...open, from });
              }}
            />
            <span className="text-soft">to</span>
            <TimeInput
              label={`${name} to`}
              value={open.to}
              onChange={(to) => {
                set({ ...open, to });
              }}
            />
            {counted && (
              <NumberInput
                label={`People on ${name}`}
                value={open.people ?? 1}
                unit={open.people === undefined || open.people === 1 ? 'person' : 'people'}
                least={1}
                most={200}
                whole
                className="w-16"
                onChange={(people) => {
                  set({ ...open, people });
                }}
              />
            )}
          </>
        ) : (
          <span className="text-soft">{closed}</span>
        )}
      </div>
    );
  });
}
