import { FIELD } from './look.ts';

export interface Choice<T extends string = string> {
  readonly value: T;
  readonly text: string;
}

interface SelectProps<T extends string> {
  readonly label: string;
  /** Undefined: mixed. */
  readonly value: T | undefined;
  /** Words that say themselves may stand for a choice. */
  readonly choices: readonly (T | Choice<T>)[];
  /** What stands there while nothing is chosen. */
  readonly unchosen?: string;
  readonly disabled?: boolean;
  readonly title?: string | undefined;
  readonly className?: string;
  readonly onChange: (value: T) => void;
}

/** One of a few values; only what is among the choices can come out of it. */
export function Select<T extends string>({
  label,
  value,
  choices,
  unchosen = 'mixed',
  disabled = false,
  title,
  className = 'w-full max-w-52',
  onChange,
}: SelectProps<T>) {
  const all = choices.map((choice) => (typeof choice === 'string' ? { value: choice, text: choice } : choice));
  return (
    <select
      aria-label={label}
      title={title}
      disabled={disabled}
      value={value ?? ''}
      onChange={(event) => {
        const next = all.find((choice) => choice.value === event.target.value);
        if (next) onChange(next.value);
      }}
      className={`${FIELD} px-1! ${className}`}
    >
      {value === undefined && (
        <option value="" disabled>
          {unchosen}
        </option>
      )}
      {all.map((choice) => (
        <option key={choice.value} value={choice.value}>
          {choice.text}
        </option>
      ))}
    </select>
  );
}
