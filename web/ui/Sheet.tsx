import { X } from 'lucide-react';
import { type ReactNode, useRef } from 'react';
import { useSheetFocus } from './useSheetFocus.ts';

/** What was chosen, at the right, as one scrolling sheet with headings. */
export function Sheet({
  title,
  under,
  onClose,
  children,
  wide = false,
}: {
  readonly title: string;
  readonly under?: ReactNode;
  readonly onClose: () => void;
  readonly children: ReactNode;
  readonly wide?: boolean;
}) {
  const panel = useRef<HTMLElement>(null);
  useSheetFocus(panel, title, onClose);
  return (
    <aside
      ref={panel}
      aria-label={title}
      tabIndex={-1}
      className={`flex h-full shrink-0 flex-col border-l border-rule bg-card outline-none max-phone:absolute max-phone:inset-0 max-phone:z-20 max-phone:w-full max-phone:border-l-0 ${wide ? 'w-[400px]' : 'w-[340px]'}`}
    >
      <header className="flex items-start gap-3 border-b border-rule px-4 py-3">
        <div className="min-w-0 flex-1">
          <h2 className="text-base font-semibold break-words">{title}</h2>
          {under}
        </div>
        <button
          type="button"
          onClick={onClose}
          aria-label="Close"
          className="rounded p-1 text-soft hover:bg-rule/50 hover:text-ink"
        >
          <X size={18} />
        </button>
      </header>
      <div className="min-h-0 flex-1 overflow-y-auto px-4 py-3">{children}</div>
    </aside>
  );
}

/** A part of a sheet under its heading. */
export function Section({
  title,
  children,
  aside,
}: {
  readonly title: string;
  readonly children: ReactNode;
  readonly aside?: ReactNode;
}) {
  return (
    <section className="mb-4 border-b border-rule pb-4 last:border-0">
      <div className="mb-2 flex items-baseline justify-between">
        <h3 className="font-semibold">{title}</h3>
        {aside}
      </div>
      {children}
    </section>
  );
}

/** A label at the left and what belongs to it at the right. */
export function Row({ label, children }: { readonly label: string; readonly children: ReactNode }) {
  return (
    <div className="flex items-baseline justify-between gap-3 py-0.5">
      <span data-term className="shrink-0 text-soft">
        {label}
      </span>
      <span className="min-w-0 text-right">{children}</span>
    </div>
  );
}
