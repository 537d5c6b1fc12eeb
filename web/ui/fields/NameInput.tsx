import { ok, refuse } from '../../../core/result.ts';
import { FieldError } from './FieldError.tsx';
import { useDraft } from './useDraft.ts';

/** A name that is changed where it stands. */
export function NameInput({
  label,
  value,
  heading = true,
  onChange,
}: {
  readonly label: string;
  readonly value: string;
  /** The name of the whole page, or of one row of a list. */
  readonly heading?: boolean;
  readonly onChange: (name: string) => void;
}) {
  const draft = useDraft({
    shown: value,
    parse: (text) => (text.trim() === '' ? refuse('It needs a name.') : ok(text.trim())),
    isKept: (name) => name === value,
    onCommit: onChange,
  });
  return (
    <>
      <input
        aria-label={label}
        maxLength={80}
        {...draft.input}
        className={`w-full max-w-sm rounded border border-transparent bg-transparent px-1 hover:border-rule focus:border-tide ${heading ? 'text-lg font-semibold' : 'font-medium'}`}
      />
      <FieldError text={draft.wrong} />
    </>
  );
}
