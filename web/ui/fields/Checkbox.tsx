interface CheckboxProps {
  /** The name that a screen reader says, where the text does not stand beside it. */
  readonly label?: string;
  /** Stands beside the box; a click on it counts, too. */
  readonly text?: React.ReactNode;
  /** Undefined: mixed. */
  readonly value: boolean | undefined;
  readonly disabled?: boolean;
  readonly className?: string;
  readonly onChange: (value: boolean) => void;
}

/** Yes or no. */
export function Checkbox({ label, text, value, disabled = false, className = '', onChange }: CheckboxProps) {
  const box = (
    <input
      type="checkbox"
      aria-label={label}
      ref={(element) => {
        if (element) element.indeterminate = value === undefined;
      }}
      disabled={disabled}
      checked={value ?? false}
      onChange={(event) => {
        onChange(event.target.checked);
      }}
      className={`size-4 shrink-0 accent-tide ${text === undefined ? className : ''}`}
    />
  );
  if (text === undefined) return box;
  return (
    <label className={`inline-flex items-center gap-2 ${className}`}>
      {box} {text}
    </label>
  );
}
