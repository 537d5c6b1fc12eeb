import { useState } from 'react';

/** What a mark says, as a pattern of words; taken on Enter or on leaving. */
export function PatternInput({
  label,
  value,
  words,
  onChange,
}: {
  readonly label: string;
  readonly value: string;
  /** The words that it may use. */
  readonly words: string;
  readonly onChange: (pattern: string) => void;
}) {
  const [text, setText] = useState(value);
  const [kept, setKept] = useState(value);
  if (kept !== value) {
    setKept(value);
    setText(value);
  }
  const take = (): void => {
    if (text.trim() === '') setText(value);
    else if (text !== value) onChange(text);
  };
  return (
    <label className="block">
      <span className="text-soft">{label}</span>
      <input
        value={text}
        maxLength={80}
        title={`Words: ${words}`}
        onChange={(event) => {
          setText(event.target.value);
        }}
        onBlur={take}
        onKeyDown={(event) => {
          if (event.key === 'Enter') take();
          if (event.key === 'Escape') setText(value);
        }}
        className="mt-0.5 h-7 w-full rounded border border-rule bg-card px-2"
      />
      <span className="dense block text-soft">{words}</span>
    </label>
  );
}
