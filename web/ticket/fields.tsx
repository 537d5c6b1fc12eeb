import { TZDate, tz } from '@date-fns/tz';
import { format } from 'date-fns';
import { Undo2 } from 'lucide-react';
import { useState, type ReactNode } from 'react';
import type { TicketKey } from '../../core/ticket/ticket.ts';
import { parseLength } from '../../core/units/length.ts';
import type { TicketModel } from './model.ts';

/** A ticket value with where it came from, and the way back where it was set here. */
export function TicketRow({
  label,
  name,
  model,
  children,
}: {
  readonly label: string;
  readonly name: TicketKey;
  readonly model: TicketModel;
  readonly children: ReactNode;
}) {
  const { text, strong, back } = model.standing(name);
  return (
    <div className="grid min-h-8 grid-cols-[92px_minmax(0,1fr)_auto] items-center gap-2 py-0.5">
      <span className="text-soft">{label}</span>
      <span className="min-w-0">{children}</span>
      <span className="flex items-center gap-1">
        <span
          className={`dense ${strong ? 'font-semibold text-ink' : 'text-soft'}`}
          title={text === '' ? undefined : `This value comes from: ${text}`}
        >
          {text}
        </span>
        {back !== undefined && (
          <button
            type="button"
            aria-label={`Put ${label.toLowerCase()} back`}
            title={`Put back. Otherwise: ${back}`}
            onClick={() => {
              model.putBack([name]);
            }}
            className="rounded p-0.5 text-tide hover:bg-rule/60"
          >
            <Undo2 size={14} aria-hidden="true" />
          </button>
        )}
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
  placeholder,
  most = 200,
  onChange,
}: {
  readonly label: string;
  readonly value: string;
  readonly placeholder?: string;
  readonly most?: number;
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
      maxLength={most}
      placeholder={placeholder}
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
  /** Undefined: mixed. */
  readonly value: number | undefined;
  readonly most: number;
  readonly onChange: (value: number) => void;
}) {
  const [text, setText] = useDraft(value === undefined ? '' : String(value));
  const count = Number(text);
  const untouched = value === undefined && text === '';
  const fine = untouched || (/^\d+$/.test(text.trim()) && count >= 1 && count <= most);
  const take = (): void => {
    if (fine && !untouched && count !== value) onChange(count);
  };
  return (
    <>
      <input
        aria-label={label}
        inputMode="numeric"
        placeholder={value === undefined ? 'mixed' : undefined}
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
  wide = false,
  onChange,
}: {
  readonly label: string;
  /** Undefined: mixed. */
  readonly value: string | undefined;
  readonly choices: readonly Choice[];
  /** For choices that are whole sentences. */
  readonly wide?: boolean;
  readonly onChange: (value: string) => void;
}) {
  return (
    <select
      aria-label={label}
      value={value ?? ''}
      onChange={(event) => {
        onChange(event.target.value);
      }}
      className={`${FIELD} w-full px-1 ${wide ? 'max-w-72' : 'max-w-52'}`}
    >
      {value === undefined && (
        <option value="" disabled>
          mixed
        </option>
      )}
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
  /** Undefined: mixed. */
  readonly value: boolean | undefined;
  readonly onChange: (value: boolean) => void;
}) {
  return (
    <label className="inline-flex items-center gap-2">
      <input
        type="checkbox"
        ref={(box) => {
          if (box) box.indeterminate = value === undefined;
        }}
        checked={value ?? false}
        onChange={(event) => {
          onChange(event.target.checked);
        }}
        className="size-4 accent-[var(--tide)]"
      />{' '}
      {text}
    </label>
  );
}

/** A length in any unit, fractions and sums of it: `38 in`, `3*18in+2mm`. Empty means none where that is allowed. */
export function MmField({
  label,
  value,
  empty,
  least = 0,
  most = 1e6,
  onChange,
}: {
  readonly label: string;
  readonly value: number | null;
  /** What an empty field means; without it a length is wanted. */
  readonly empty?: string;
  readonly least?: number;
  readonly most?: number;
  readonly onChange: (mm: number | null) => void;
}) {
  const shown = value === null ? '' : String(Math.round(value * 1000) / 1000);
  const [text, setText] = useDraft(shown);
  const [wrong, setWrong] = useState<string>();
  const take = (): void => {
    if (text.trim() === shown) {
      setWrong(undefined);
      return;
    }
    if (text.trim() === '' && empty !== undefined) {
      setWrong(undefined);
      onChange(null);
      return;
    }
    const parsed = parseLength(text, 'mm');
    if (!parsed.ok) setWrong('Not a length. Try 120, 38 in, 11 7/8 in or 3*18in+2mm.');
    else if (parsed.value < least || parsed.value > most)
      setWrong(`From ${String(least)} to ${most.toLocaleString('en-GB')} mm.`);
    else {
      setWrong(undefined);
      onChange(parsed.value);
    }
  };
  return (
    <span className="inline-block">
      <span className="inline-flex items-baseline gap-1">
        <input
          aria-label={label}
          value={text}
          placeholder={empty}
          aria-invalid={wrong !== undefined}
          onChange={(event) => {
            setText(event.target.value);
          }}
          onBlur={take}
          onKeyDown={(event) => {
            if (event.key === 'Enter') take();
          }}
          className={`${FIELD} w-20 text-right`}
        />
        <span className="text-soft">mm</span>
      </span>
      {wrong !== undefined && <span className="block text-xs text-stop">{wrong}</span>}
    </span>
  );
}
