import type { KeepRule } from '../../core/ticket/ticket.ts';
import { NumberInput } from '../ui/fields/NumberInput.tsx';
import { Select } from '../ui/fields/Select.tsx';

const KEEPS = [
  { value: 'job and data', text: 'keep job and rendered data' },
  { value: 'job only', text: 'keep the job' },
  { value: 'days', text: 'drop after some days' },
  { value: 'drop', text: 'drop at once' },
] as const;

/** What becomes of a job once all of it is printed. */
export function KeepField({
  value,
  onChange,
}: {
  readonly value: KeepRule | undefined;
  readonly onChange: (rule: KeepRule) => void;
}) {
  return (
    <span className="flex items-center gap-2">
      <Select
        label="After printing"
        value={value?.kind}
        choices={KEEPS}
        className="w-full max-w-72"
        onChange={(kind) => {
          onChange(kind === 'days' ? { kind, days: 30 } : { kind });
        }}
      />
      {value?.kind === 'days' && (
        <NumberInput
          label="Days kept"
          value={value.days}
          whole
          least={1}
          most={3650}
          unit="days"
          onChange={(days) => {
            onChange({ kind: 'days', days });
          }}
        />
      )}
    </span>
  );
}
