import { useState } from 'react';
import { Row } from '../../ui/Sheet.tsx';

const FIELD = 'h-8 rounded border border-rule bg-card px-2 aria-invalid:border-stop';

/** A figure with its unit, taken on Enter or on leaving; what can't be read is put back. */
export function NumberField({
  label,
  value,
  unit,
  least = 0,
  most = 1e7,
  whole = false,
  narrow = false,
  onChange,
}: {
  readonly label: string;
  readonly value: number;
  readonly unit: string;
  readonly least?: number;
  readonly most?: number;
  readonly whole?: boolean;
  /** In a table, where its column says what it is. */
  readonly narrow?: boolean;
  readonly onChange: (value: number) => void;
}) {
  const [text, setText] = useState<string>();
  const typed = Number((text ?? String(value)).replace(',', '.'));
  const wrong = !Number.isFinite(typed) || typed < least || typed > most || (whole && !Number.isInteger(typed));
  const take = (): void => {
    if (text !== undefined && !wrong && typed !== value) onChange(typed);
    setText(undefined);
  };
  const input = (
    <input
      aria-label={label}
      aria-invalid={wrong}
      inputMode="decimal"
      value={text ?? String(value)}
      title={wrong ? `From ${String(least)} to ${String(most)}${whole ? ', whole' : ''}` : undefined}
      onChange={(event) => {
        setText(event.target.value);
      }}
      onBlur={take}
      onKeyDown={(event) => {
        if (event.key === 'Enter') take();
        if (event.key === 'Escape') setText(undefined);
      }}
      className={`${FIELD} text-right ${narrow ? 'w-16' : 'w-24'}`}
    />
  );
  if (narrow) return input;
  return (
    <Row label={label}>
      {input} <span className="inline-block w-12 text-left text-soft">{unit}</span>
    </Row>
  );
}

export function WordField({
  label,
  value,
  most = 80,
  wide = false,
  onChange,
}: {
  readonly label: string;
  readonly value: string;
  readonly most?: number;
  readonly wide?: boolean;
  readonly onChange: (value: string) => void;
}) {
  const [text, setText] = useState<string>();
  const take = (): void => {
    if (text !== undefined && text.trim() !== '' && text !== value) onChange(text.trim());
    setText(undefined);
  };
  return (
    <input
      aria-label={label}
      value={text ?? value}
      maxLength={most}
      onChange={(event) => {
        setText(event.target.value);
      }}
      onBlur={take}
      onKeyDown={(event) => {
        if (event.key === 'Enter') take();
        if (event.key === 'Escape') setText(undefined);
      }}
      className={`${FIELD} ${wide ? 'w-full' : 'w-44'}`}
    />
  );
}

export function PickField<T extends string>({
  label,
  value,
  choices,
  onChange,
}: {
  readonly label: string;
  readonly value: T;
  readonly choices: readonly T[];
  readonly onChange: (value: T) => void;
}) {
  return (
    <Row label={label}>
      <select
        aria-label={label}
        value={value}
        onChange={(event) => {
          const next = choices.find((each) => each === event.target.value);
          if (next !== undefined) onChange(next);
        }}
        className={`${FIELD} !px-1`}
      >
        {choices.map((choice) => (
          <option key={choice}>{choice}</option>
        ))}
      </select>
    </Row>
  );
}

export function TickField({
  label,
  value,
  onChange,
}: {
  readonly label: string;
  readonly value: boolean;
  readonly onChange: (value: boolean) => void;
}) {
  return (
    <label className="flex items-center justify-between gap-3 py-1">
      <span className="text-soft">{label}</span>
      <input
        type="checkbox"
        checked={value}
        onChange={(event) => {
          onChange(event.target.checked);
        }}
        className="size-4 accent-tide"
      />
    </label>
  );
}
