import type { ReactNode } from 'react';
import { FlyOut } from './FlyOut.tsx';

/** A figure that says from what it is reckoned: by a click, a tap or the Enter key, not only under a pointer at rest. */
export function FromWhat({ text, children }: { readonly text: string; readonly children: ReactNode }) {
  return (
    <FlyOut
      title="From what this is reckoned"
      hint={text}
      button={children}
      buttonClass="cursor-help whitespace-nowrap underline decoration-soft decoration-dotted underline-offset-2"
      panelClass="w-64 p-2 text-left font-normal whitespace-normal text-ink"
    >
      {() => text}
    </FlyOut>
  );
}
