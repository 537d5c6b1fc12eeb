import { Plus } from 'lucide-react';
import type { ReactNode } from 'react';

/** Adds one more to what stands above or beside it. Without `onClick` it sends the form that it stands in. */
export function AddButton({ onClick, children }: { readonly onClick?: () => void; readonly children: ReactNode }) {
  return (
    <button
      type={onClick ? 'button' : 'submit'}
      onClick={onClick}
      className="inline-flex items-center gap-1 rounded px-1 py-1 whitespace-nowrap text-tide hover:bg-rule/50"
    >
      <Plus size={15} aria-hidden="true" /> {children}
    </button>
  );
}
