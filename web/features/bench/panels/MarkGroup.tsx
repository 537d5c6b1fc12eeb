import type { ReactNode } from 'react';
import type { Bench } from '../state/useBench.ts';

/** One kind of mark: on or off, and what it is like while it is on. */
export function MarkGroup({
  title,
  on,
  onSwitch,
  bench,
  children,
}: {
  readonly title: string;
  readonly on: boolean;
  readonly onSwitch: (on: boolean) => void;
  readonly bench: Bench;
  readonly children: ReactNode;
}) {
  return (
    <fieldset disabled={!bench.editable} className="mb-1">
      <label className="flex items-center justify-between py-0.5">
        <span className={on ? 'font-medium' : 'text-soft'}>{title}</span>
        <input
          type="checkbox"
          checked={on}
          onChange={(event) => {
            onSwitch(event.target.checked);
          }}
          className="size-4 accent-[var(--tide)]"
        />
      </label>
      {on && <div className="mb-2 flex flex-col gap-1 border-l-2 border-rule pl-3">{children}</div>}
    </fieldset>
  );
}
