import type { ReactNode } from 'react';

/** What a view says in place of itself where it can't be shown. */
export function PageError({ children }: { readonly children: ReactNode }) {
  return (
    <p className="p-8 text-stop" role="alert">
      {children}
    </p>
  );
}
