import type { ComponentProps } from 'react';

type Kind = 'main' | 'plain' | 'quiet' | 'danger';

const LOOKS: Record<Kind, string> = {
  main: 'bg-tide text-on-tide hover:brightness-110 border-transparent',
  plain: 'bg-card text-ink border-rule hover:border-soft',
  quiet: 'bg-transparent text-tide border-transparent hover:bg-rule/50',
  danger: 'bg-card text-stop border-rule hover:border-stop',
};

/** A button. One of a view is `main`; what can’t be taken back is `danger`. */
export function Button({
  kind = 'plain',
  className = '',
  ...rest
}: { readonly kind?: Kind } & ComponentProps<'button'>) {
  return (
    <button
      type="button"
      className={`inline-flex h-8 items-center justify-center gap-1.5 rounded-md border px-3 font-medium whitespace-nowrap disabled:opacity-50 ${LOOKS[kind]} ${className}`}
      {...rest}
    />
  );
}
