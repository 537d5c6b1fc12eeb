import { number } from '../text/number.ts';
import { ok, refuse, type Result } from '../../../core/result.ts';
import { FIELD } from './look.ts';
import { useDraft } from './useDraft.ts';
import { WithUnit } from './WithUnit.tsx';

/** More than anybody means: no limit is said then. */
const ANY = 1e7;

/** A number with its bounds. What lies outside of them stays in the field with its error. */
interface NumberInputProps {
  readonly label: string;
  /** Undefined: mixed. */
  readonly value: number | undefined;
  readonly least?: number;
  readonly most?: number;
  readonly whole?: boolean;
  /** Digits behind the point that are always shown. */
  readonly digits?: number;
  /** Shown while nothing is typed. */
  readonly placeholder?: string;
  readonly unit?: string;
  /** Room for the unit, where others stand above and below it. */
  readonly unitClass?: string;
  /** Committed at every letter, not only on Enter and on leaving. */
  readonly atOnce?: boolean;
  readonly className?: string;
  readonly onChange: (value: number) => void;
}

/** A figure, committed on Enter or on leaving. A comma counts as a point. */
export function NumberInput({
  label,
  value,
  least = 0,
  most = ANY,
  whole = false,
  digits,
  placeholder = 'mixed',
  unit,
  unitClass,
  atOnce = false,
  className = 'w-20',
  onChange,
}: NumberInputProps) {
  const draft = useDraft({
    shown: value === undefined ? '' : digits === undefined ? String(value) : value.toFixed(digits),
    parse: (text) => readNumber(text, least, most, whole),
    isKept: (next) => next === value,
    live: true,
    atOnce,
    onCommit: onChange,
  });
  return (
    <WithUnit unit={unit} unitClass={unitClass} wrong={draft.wrong}>
      <input
        aria-label={label}
        inputMode={whole ? 'numeric' : 'decimal'}
        placeholder={value === undefined ? placeholder : undefined}
        {...draft.input}
        className={`${FIELD} text-right ${className}`}
      />
    </WithUnit>
  );
}

function readNumber(text: string, least: number, most: number, whole: boolean): Result<number, string> {
  const typed = text.trim() === '' ? NaN : Number(text.replace(',', '.'));
  if (Number.isFinite(typed) && typed >= least && typed <= most && (!whole || Number.isInteger(typed)))
    return ok(typed);
  const what = whole ? 'A whole number' : 'A number';
  const [from, to] = [number(least, 0, 3), number(most, 0, 3)];
  return refuse(most === ANY ? `${what}, ${from} or more.` : `${what} from ${from} to ${to}.`);
}
