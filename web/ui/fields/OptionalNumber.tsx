import { ok, refuse } from '../../../core/result.ts';
import { number } from '../text/number.ts';
import { FIELD } from './look.ts';
import { useDraft } from './useDraft.ts';
import { WithUnit } from './WithUnit.tsx';

/** A figure that may be left out: an empty field says what holds then. A comma counts as a point. */
export function OptionalNumber({
  label,
  value,
  least,
  most,
  unit,
  empty,
  className = 'w-28',
  onChange,
}: {
  readonly label: string;
  /** Null: none; undefined: mixed. */
  readonly value: number | null | undefined;
  readonly least: number;
  readonly most: number;
  /** Left out: a plain number. */
  readonly unit?: string;
  /** What an empty field means. */
  readonly empty: string;
  readonly className?: string;
  readonly onChange: (value: number | null) => void;
}) {
  const draft = useDraft<number | null>({
    shown: value == null ? '' : String(value),
    parse: (text) => {
      const typed = Number(text.trim().replace(',', '.'));
      if (text.trim() === '') return ok(null);
      if (Number.isFinite(typed) && typed >= least && typed <= most) return ok(typed);
      return refuse(`A number from ${number(least, 0, 3)} to ${number(most, 0, 3)}, or nothing.`);
    },
    isKept: (next) => next === value,
    live: true,
    onCommit: onChange,
  });
  return (
    <WithUnit unit={unit} unitClass="w-6" wrong={draft.wrong}>
      <input
        aria-label={label}
        inputMode="decimal"
        placeholder={value === undefined ? 'mixed' : empty}
        {...draft.input}
        className={`${FIELD} ${className} text-right`}
      />
    </WithUnit>
  );
}
