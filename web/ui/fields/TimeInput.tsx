import { ok, refuse } from '../../../core/result.ts';
import { FIELD } from './look.ts';
import { useDraft } from './useDraft.ts';

/** A time of day, `07:30`. */
export function TimeInput({
  label,
  value,
  onChange,
}: {
  readonly label: string;
  readonly value: string;
  readonly onChange: (value: string) => void;
}) {
  const draft = useDraft({
    shown: value,
    parse: (text) => (text === '' ? refuse('Not a time.') : ok(text)),
    isKept: (text) => text === value,
    onCommit: onChange,
  });
  return <input type="time" aria-label={label} {...draft.input} className={FIELD} />;
}
