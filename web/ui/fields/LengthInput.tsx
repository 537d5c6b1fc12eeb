import { ok, refuse, type Result } from '../../../core/result.ts';
import { parseLength } from '../../../core/units/length.ts';
import { acrossFigure, acrossText, fieldText, fieldUnit } from '../text/lengths.ts';
import { FIELD } from './look.ts';
import { useDraft } from './useDraft.ts';
import { WithUnit } from './WithUnit.tsx';

interface LengthInputProps {
  readonly label: string;
  /** Null: none, or mixed. */
  readonly valueMm: number | null;
  /** What an empty field means; without it a length is wanted. */
  readonly empty?: string;
  readonly leastMm?: number;
  readonly mostMm?: number;
  readonly disabled?: boolean;
  /** Room for the unit, where others stand above and below it. */
  readonly unitClass?: string;
  readonly onChange: (mm: number | null) => void;
}

/** A length in any unit, fractions and sums of it: `38 in`, `1,5 cm`, `3*18in+2mm`. Committed on Enter or on leaving. */
export function LengthInput({
  label,
  valueMm,
  empty,
  leastMm = 0,
  mostMm = 1e6,
  disabled = false,
  unitClass,
  onChange,
}: LengthInputProps) {
  const draft = useDraft({
    shown: valueMm === null ? '' : fieldText(valueMm),
    parse: (text) => readLength(text, empty, leastMm, mostMm),
    isKept: (mm) => (mm === null || valueMm === null ? mm === valueMm : Math.abs(mm - valueMm) < 1e-3),
    onCommit: onChange,
  });
  return (
    <WithUnit unit={fieldUnit()} unitClass={unitClass} wrong={draft.wrong}>
      <input
        aria-label={label}
        placeholder={empty}
        disabled={disabled}
        {...draft.input}
        className={`${FIELD} w-20 text-right`}
      />
    </WithUnit>
  );
}

function readLength(
  text: string,
  empty: string | undefined,
  leastMm: number,
  mostMm: number,
): Result<number | null, string> {
  if (text.trim() === '' && empty !== undefined) return ok(null);
  const parsed = parseLength(text, fieldUnit());
  if (!parsed.ok) return refuse('Not a length. Try 120, 38 in, 11 7/8 in or 3*18in+2mm.');
  if (parsed.value < leastMm || parsed.value > mostMm)
    return refuse(`From ${acrossFigure(leastMm).value} to ${acrossText(mostMm)}.`);
  return ok(parsed.value);
}
