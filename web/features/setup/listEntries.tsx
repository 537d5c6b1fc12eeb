import { Plus } from 'lucide-react';
import type { ReactNode } from 'react';

/** The heading of a part of the list. */
export function Heading({ icon, children }: { readonly icon: ReactNode; readonly children: ReactNode }) {
  return (
    <h2 className="mt-3 mb-1 flex items-center gap-2 px-2 font-semibold">
      <span className="text-soft">{icon}</span>
      {children}
    </h2>
  );
}

/** Adds one more to the part above. */
export function AddEntry({
  on,
  onClick,
  children,
}: {
  readonly on: boolean;
  readonly onClick: () => void;
  readonly children: ReactNode;
}) {
  return (
    <button
      type="button"
      data-rove
      aria-current={on ? 'page' : undefined}
      className={`mx-1 inline-flex items-center gap-1 rounded px-1 py-1 ${on ? 'bg-spool text-on-spool' : 'text-tide hover:bg-rule/50'}`}
      onClick={onClick}
    >
      <Plus size={15} aria-hidden="true" /> {children}
    </button>
  );
}

/** One thing that is set up, and a word more on it. */
export function Entry({
  on,
  onClick,
  more,
  children,
}: {
  readonly on: boolean;
  readonly onClick: () => void;
  readonly more: string;
  readonly children: ReactNode;
}) {
  return (
    <button
      type="button"
      data-rove
      aria-current={on ? 'page' : undefined}
      onClick={onClick}
      className={`block w-full rounded-md border px-2 py-1 text-left ${on ? 'border-ink bg-spool text-on-spool' : 'border-transparent hover:bg-rule/40'}`}
    >
      <span className="block truncate font-medium">{children}</span>
      <span className={`dense block truncate ${on ? '' : 'text-soft'}`}>{more}</span>
    </button>
  );
}
