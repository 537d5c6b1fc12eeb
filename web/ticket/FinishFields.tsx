import type { KeepRule } from '../../core/ticket/ticket.ts';
import { ChoiceField, CountField } from './fields.tsx';

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
      <ChoiceField
        label="After printing"
        value={value?.kind}
        choices={KEEPS}
        wide
        onChange={(text) => {
          const kind = KEEPS.find((each) => each.value === text)?.value;
          if (kind === 'days') onChange({ kind, days: 30 });
          else if (kind) onChange({ kind });
        }}
      />
      {value?.kind === 'days' && (
        <>
          <CountField
            label="Days kept"
            value={value.days}
            most={3650}
            onChange={(days) => {
              onChange({ kind: 'days', days });
            }}
          />
          <span className="text-soft">days</span>
        </>
      )}
    </span>
  );
}

/** An amount in the shop's currency, typed with or without decimals. */
export function MoneyField({
  label,
  minor,
  onChange,
}: {
  readonly label: string;
  readonly minor: number | undefined;
  readonly onChange: (minor: number) => void;
}) {
  return (
    <input
      key={minor}
      aria-label={label}
      defaultValue={minor === undefined ? '' : (minor / 100).toFixed(2)}
      placeholder={minor === undefined ? 'mixed' : ''}
      inputMode="decimal"
      onBlur={(event) => {
        const typed = Number(event.target.value.replace(',', '.'));
        if (event.target.value.trim() !== '' && Number.isFinite(typed) && typed >= 0) onChange(Math.round(typed * 100));
        else event.target.value = minor === undefined ? '' : (minor / 100).toFixed(2);
      }}
      onKeyDown={(event) => {
        if (event.key === 'Enter') event.currentTarget.blur();
      }}
      className="h-8 w-28 rounded border border-rule bg-card px-2 text-right tabular-nums"
    />
  );
}
