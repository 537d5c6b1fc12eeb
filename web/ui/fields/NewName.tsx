import { useState } from 'react';
import { Button } from '../Button.tsx';
import { FIELD } from './look.ts';

/**
 * The name of something new, and the button that makes it. Enter does the same, Escape gives it up. The name stays until
 * whoever asked for it puts this away: one that is refused can be mended.
 */
export function NewName({
  label,
  placeholder = label,
  first = '',
  most = 80,
  action,
  main = true,
  focus = true,
  onName,
  onCancel,
}: {
  readonly label: string;
  readonly placeholder?: string;
  /** What is proposed. */
  readonly first?: string;
  readonly most?: number;
  /** What the button says. */
  readonly action: string;
  readonly main?: boolean;
  readonly focus?: boolean;
  readonly onName: (name: string) => void;
  readonly onCancel?: () => void;
}) {
  const [text, setText] = useState(first);
  const name = text.trim();
  const take = (): void => {
    if (name !== '') onName(name);
  };
  return (
    <span className="flex min-w-0 gap-1">
      <input
        autoFocus={focus}
        aria-label={label}
        placeholder={placeholder}
        value={text}
        maxLength={most}
        onChange={(event) => {
          setText(event.target.value);
        }}
        onKeyDown={(event) => {
          if (event.key === 'Enter') take();
          if (event.key !== 'Escape' || !onCancel) return;
          // What it stands in stays open.
          event.preventDefault();
          onCancel();
        }}
        className={`${FIELD} min-w-0 flex-1`}
      />
      <Button kind={main ? 'main' : 'plain'} disabled={name === ''} onClick={take}>
        {action}
      </Button>
    </span>
  );
}
