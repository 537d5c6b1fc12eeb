import type { CarriageSpan, CutOff } from '../machine/constants.ts';

/** Where a value came from, weakest first: a later one wins. */
export const ORIGINS = ['printer', 'stock', 'queue', 'preset', 'file name', 'ticket file', 'set here'] as const;
export type Origin = (typeof ORIGINS)[number];

/** All settings of one job. Null: not known. */
export interface TicketValues {
  readonly copies: number;
  readonly quarterTurn: boolean;
  readonly modeId: string;
  readonly stockId: string;
  readonly span: CarriageSpan;
  readonly dryOut: boolean;
  readonly cutOff: CutOff;
  readonly customer: string | null;
  readonly orderNo: string | null;
  readonly dueMs: number | null;
}

export type TicketKey = keyof TicketValues;

/** A ticket is a copy: stamped from the queue when the job arrives, then the job's own. */
export interface Ticket {
  readonly values: TicketValues;
  readonly origins: Readonly<Record<TicketKey, Origin>>;
}

/** Run-wide values must be equal for all jobs of a run. */
export const RUN_WIDE: readonly TicketKey[] = ['stockId', 'modeId', 'span', 'dryOut', 'cutOff'];

/** The ticket of a job that arrives in a queue with these settings. */
export function stampTicket(queue: TicketValues): Ticket {
  const origins = Object.fromEntries(Object.keys(queue).map((key) => [key, 'queue'])) as Record<TicketKey, Origin>;
  return { values: { ...queue }, origins };
}

/**
 * Sets values by hand; their origin becomes *set here*, or the one given for a value that is put back. Values that don't
 * change keep their origin.
 */
export function setHere(
  ticket: Ticket,
  changes: Partial<TicketValues>,
  putBack: Readonly<Partial<Record<TicketKey, Origin>>> = {},
): Ticket {
  const origins: Record<TicketKey, Origin> = { ...ticket.origins };
  for (const [key, value] of Object.entries(changes)) {
    const name = key as TicketKey;
    if (ticket.values[name] !== value) origins[name] = putBack[name] ?? 'set here';
  }
  return { values: { ...ticket.values, ...changes }, origins };
}

/**
 * A job moves to another queue: values from printer, stock and queue are taken anew, the others stay.
 */
export function moveToQueue(ticket: Ticket, queue: TicketValues): Ticket {
  const fresh = stampTicket(queue);
  const values: Record<string, unknown> = { ...fresh.values };
  const origins: Record<TicketKey, Origin> = { ...fresh.origins };
  for (const [key, origin] of Object.entries(ticket.origins)) {
    const name = key as TicketKey;
    // Stock and mode belong to the printer of the queue: another printer's are no use here.
    if (['printer', 'stock', 'queue'].includes(origin) || name === 'modeId' || name === 'stockId') continue;
    values[name] = ticket.values[name];
    origins[name] = origin;
  }
  return { values: values as unknown as TicketValues, origins };
}

/** The first run-wide value in which two tickets differ. */
export function runWideDifference(a: TicketValues, b: TicketValues): TicketKey | undefined {
  return RUN_WIDE.find((key) => a[key] !== b[key]);
}
