import { FieldError } from './FieldError.tsx';
import { FIELD } from './look.ts';
import { useDraft } from './useDraft.ts';

/** One line of text. */
interface TextInputProps {
  readonly label: string;
  readonly value: string;
  readonly placeholder?: string;
  readonly title?: string;
  /** Letters at most. */
  readonly most?: number;
  /** What an empty field says is wrong; left out: it may be empty. */
  readonly wanted?: string;
  /** Committed at every letter, not only on Enter and on leaving. */
  readonly atOnce?: boolean;
  readonly className?: string;
  readonly onChange: (value: string) => void;
}

/** A line of text, committed on Enter or on leaving, without spaces around it. */
export function TextInput({
  label,
  value,
  placeholder,
  title,
  most = 200,
  wanted,
  atOnce = false,
  className = 'w-full',
  onChange,
}: TextInputProps) {
  const draft = useDraft({
    shown: value,
    parse: (text) =>
      text.trim() === '' && wanted !== undefined ? { ok: false, reason: wanted } : { ok: true, value: text.trim() },
    isKept: (text) => text === value,
    atOnce,
    onCommit: onChange,
  });
  return (
    <>
      <input
        aria-label={label}
        maxLength={most}
        placeholder={placeholder}
        title={title}
        {...draft.input}
        className={`${FIELD} ${className}`}
      />
      <FieldError text={draft.wrong} />
    </>
  );
}
