import type { ReactNode } from 'react';

/** A button that is only a sign; its label is said and shown when the pointer rests on it. */
export function IconButton({
  label,
  onClick,
  disabled = false,
  className = '',
  children,
}: {
  readonly label: string;
  readonly onClick: () => void;
  readonly disabled?: boolean;
  readonly className?: string;
  readonly children: ReactNode;
}) {
  return (
    <button
      type="button"
      aria-label={label}
      title={label}
      disabled={disabled}
      onClick={onClick}
      className={`rounded p-1 text-soft hover:bg-rule/50 hover:text-ink disabled:opacity-30 ${className}`}
    >
      {children}
    </button>
  );
}
