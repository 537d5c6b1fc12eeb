import type { MessageSetupAnswer, WeekMail } from '../../../../contract/api/messages.ts';
import { Checkbox } from '../../../ui/fields/Checkbox.tsx';
import { Select } from '../../../ui/fields/Select.tsx';
import { TimeInput } from '../../../ui/fields/TimeInput.tsx';

const DAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'] as const;
const AT_FIRST = { weekday: 1, at: '07:00' };

/** Who gets a page of how the last week went, and when. */
export function WeekMailForm({
  week,
  people,
  onChange,
}: {
  readonly week: WeekMail | null;
  readonly people: MessageSetupAnswer['people'];
  readonly onChange: (week: WeekMail | null) => void;
}) {
  const reachable = people.filter(({ mail }) => mail !== null);
  if (reachable.length === 0) return <p className="text-soft">Nobody has a mail address yet: see People.</p>;
  const chosen = week?.personIds ?? [];
  return (
    <>
      <p className="mb-1 text-soft">One page of how the last week went, as PDF: the one that Pace shows.</p>
      {reachable.map(({ id, name, mail }) => (
        <Checkbox
          key={id}
          text={`${name}, ${mail ?? ''}`}
          label={`${name} gets the week by mail`}
          value={chosen.includes(id)}
          className="flex! py-0.5"
          onChange={(on) => {
            const personIds = on ? [...chosen, id] : chosen.filter((each) => each !== id);
            onChange(personIds.length === 0 ? null : { ...(week ?? AT_FIRST), personIds });
          }}
        />
      ))}
      {week && (
        <p className="mt-1 flex items-center gap-2">
          on
          <Select
            label="Day on which the week is sent"
            value={DAYS[week.weekday - 1] ?? 'Monday'}
            choices={DAYS}
            className=""
            onChange={(day) => {
              onChange({ ...week, weekday: DAYS.indexOf(day) + 1 });
            }}
          />
          at
          <TimeInput
            label="Time at which the week is sent"
            value={week.at}
            onChange={(at) => {
              onChange({ ...week, at });
            }}
          />
        </p>
      )}
    </>
  );
}
