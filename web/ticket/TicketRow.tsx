import { Undo2 } from 'lucide-react';
import type { ReactNode } from 'react';
import type { TicketKey } from '../../core/ticket/ticket.ts';
import type { TicketModel } from './model.ts';

/** A ticket value with where it came from, and the way back where it was set here. */
export function TicketRow({
  label,
  name,
  model,
  children,
}: {
  readonly label: string;
  readonly name: TicketKey;
  readonly model: TicketModel;
  readonly children: ReactNode;
}) {
  const { text, strong, back } = model.standing(name);
  return (
    <div className="grid min-h-8 grid-cols-[92px_minmax(0,1fr)_auto] items-center gap-2 py-0.5">
      <span data-term className="text-soft">
        {label}
      </span>
      <span className="min-w-0">{children}</span>
      <span className="flex items-center gap-1">
        <span
          className={`dense ${strong ? 'font-semibold text-ink' : 'text-soft'}`}
          title={text === '' ? undefined : `This value comes from: ${text}`}
        >
          {text}
        </span>
        {back !== undefined && (
          <button
            type="button"
            aria-label={`Put ${label.toLowerCase()} back`}
            title={`Put back. Otherwise: ${back}`}
            onClick={() => {
              model.putBack([name]);
            }}
            className="rounded p-0.5 text-tide hover:bg-rule/60"
          >
            <Undo2 size={14} aria-hidden="true" />
          </button>
        )}
      </span>
    </div>
  );
}
