import { useState } from 'react';

/** A name that is changed where it stands. */
export function NameField({
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
  const [text, setText] = useState(value);
  const [kept, setKept] = useState(value);
  if (kept !== value) {
    setKept(value);
    setText(value);
  }
  const take = (): void => {
    const name = text.trim();
    if (name === '') setText(value);
    else if (name !== value) onChange(name);
  };
  return (
    <input
      aria-label={label}
      value={text}
      maxLength={80}
      onChange={(event) => {
        setText(event.target.value);
      }}
      onBlur={take}
      onKeyDown={(event) => {
        if (event.key === 'Enter') take();
        if (event.key === 'Escape') setText(value);
      }}
      className={`w-full max-w-sm rounded border border-transparent bg-transparent px-1 hover:border-rule focus:border-tide ${heading ? 'text-lg font-semibold' : 'font-medium'}`}
    />
  );
}
