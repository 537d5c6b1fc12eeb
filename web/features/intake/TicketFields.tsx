import { TZDate } from '@date-fns/tz';
import { format } from 'date-fns';
import { tz } from '@date-fns/tz';
import { useState, type ReactNode } from 'react';

/** A ticket value with where it came from. */
export function TicketRow({
  label,
  origin,
  children,
}: {
  readonly label: string;
  readonly origin?: string;
  readonly children: ReactNode;
}) {
  return (
    <div className="grid min-h-8 grid-cols-[96px_1fr_auto] items-center gap-2 py-0.5">
      <span className="text-soft">{label}</span>
      <span className="min-w-0">{children}</span>
      <span
        className={`dense ${origin === 'set here' ? 'font-semibold text-ink' : 'text-soft'}`}
        title={origin === undefined ? undefined : `This value comes from: ${origin}`}
      >
        {origin}
      </span>
    </div>
  );
}

/** What is being typed; starts anew whenever the kept value changes. */
function useDraft(value: string): [string, (text: string) => void] {
  const [text, setText] = useState(value);
  const [kept, setKept] = useState(value);
  if (kept !== value) {
    setKept(value);
    setText(value);
  }
  return [text, setText];
}

const FIELD = 'h-7 rounded border border-rule bg-card px-2 aria-invalid:border-stop';

export function TextField({
  label,
  value,
  onChange,
}: {
  readonly label: string;
  readonly value: string;
  readonly onChange: (value: string) => void;
}) {
  const [text, setText] = useDraft(value);
  const take = (): void => {
    if (text.trim() !== value) onChange(text.trim());
  };
  return (
    <input
      aria-label={label}
      value={text}
      maxLength={200}
      onChange={(event) => {
        setText(event.target.value);
      }}
      onBlur={take}
      onKeyDown={(event) => {
        if (event.key === 'Enter') take();
      }}
      className={`${FIELD} w-full`}
    />
  );
}

export function CountField({
  label,
  value,
  most,
  onChange,
}: {
  readonly label: string;
  readonly value: number;
  readonly most: number;
  readonly onChange: (value: number) => void;
}) {
  const [text, setText] = useDraft(String(value));
  const count = Number(text);
  const fine = /^\d+$/.test(text.trim()) && count >= 1 && count <= most;
  const take = (): void => {
    if (fine && count !== value) onChange(count);
  };
  return (
    <>
      <input
        aria-label={label}
        inputMode="numeric"
        value={text}
        aria-invalid={!fine}
        onChange={(event) => {
          setText(event.target.value);
        }}
        onBlur={take}
        onKeyDown={(event) => {
          if (event.key === 'Enter') take();
        }}
        className={`${FIELD} w-20 text-right`}
      />
      {!fine && (
        <span className="block text-xs text-stop">A whole number from 1 to {most.toLocaleString('en-GB')}.</span>
      )}
    </>
  );
}

/** Date and time in the shop's zone, whatever zone this computer is in. */
export function DueField({
  valueMs,
  zone,
  onChange,
}: {
  readonly valueMs: number | null;
  readonly zone: string;
  readonly onChange: (ms: number | null) => void;
}) {
  const shown = valueMs === null ? '' : format(valueMs, "yyyy-MM-dd'T'HH:mm", { in: tz(zone) });
  const [text, setText] = useDraft(shown);
  const take = (): void => {
    if (text === shown) return;
    if (text === '') onChange(null);
    const parts = /^(\d{4})-(\d\d)-(\d\d)T(\d\d):(\d\d)/.exec(text);
    if (parts)
      onChange(
        new TZDate(
          Number(parts[1]),
          Number(parts[2]) - 1,
          Number(parts[3]),
          Number(parts[4]),
          Number(parts[5]),
          zone,
        ).getTime(),
      );
  };
  return (
    <input
      type="datetime-local"
      aria-label="Due"
      value={text}
      onChange={(event) => {
        setText(event.target.value);
      }}
      onBlur={take}
      onKeyDown={(event) => {
        if (event.key === 'Enter') take();
      }}
      className={`${FIELD} w-full`}
    />
  );
}

export interface Choice {
  readonly value: string;
  readonly text: string;
}

/** One of a few values. */
export function ChoiceField({
  label,
  value,
  choices,
  onChange,
}: {
  readonly label: string;
  readonly value: string;
  readonly choices: readonly Choice[];
  readonly onChange: (value: string) => void;
}) {
  return (
    <select
      aria-label={label}
      value={value}
      onChange={(event) => {
        onChange(event.target.value);
      }}
      className={`${FIELD} max-w-48 px-1`}
    >
      {choices.map((choice) => (
        <option key={choice.value} value={choice.value}>
          {choice.text}
        </option>
      ))}
    </select>
  );
}

/** Yes or no. */
export function YesField({
  text,
  value,
  onChange,
}: {
  readonly text: string;
  readonly value: boolean;
  readonly onChange: (value: boolean) => void;
}) {
  return (
    <label className="inline-flex items-center gap-2">
      <input
        type="checkbox"
        checked={value}
        onChange={(event) => {
          onChange(event.target.checked);
        }}
        className="size-4 accent-[var(--tide)]"
      />{' '}
      {text}
    </label>
  );
}
