import { CalendarClock } from 'lucide-react';
import type { Printer } from '../api/data.ts';

/** What a printer's timers bring next; undefined: none is set. Care of a timer that is yet to come is known by timer and instant. */
export function nextTimed({ care }: Pick<Printer, 'care'>): Printer['care'][number] | undefined {
  return care.find(({ timerId }) => timerId !== null);
}

/** Stands behind the name of a printer that does something by itself. */
export function TimerSign({ printer }: { readonly printer: Pick<Printer, 'care'> }) {
  const next = nextTimed(printer);
  if (!next) return null;
  return (
    <span title={`By itself: ${next.title}`} className="ml-1.5 inline-block align-baseline text-soft">
      <CalendarClock size={14} className="inline" aria-hidden="true" />
      <span className="sr-only">has timers</span>
    </span>
  );
}
