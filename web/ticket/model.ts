import type { JobChange, TicketPartView, TicketView } from '../../contract/api/ticket.ts';
import {
  type Origin,
  PLAIN_TICKET,
  type TicketKey,
  TICKET_KEYS,
  inheritedValue,
  sameValue,
} from '../../core/ticket/ticket.ts';
import { valueText, type Names } from './valueText.ts';

/** Where a value stands, as the form shows it beside the value. */
export interface Standing {
  readonly text: string;
  readonly strong: boolean;
  /** What it would be if it were put back; undefined where there is nothing to put back. */
  readonly back: string | undefined;
}

/** A ticket as the form sees it: of one job, of many, or what a preset or a queue says. */
export interface TicketModel {
  readonly values: TicketPartView;
  readonly mixed: ReadonlySet<TicketKey>;
  readonly standing: (key: TicketKey) => Standing;
  readonly change: (part: TicketPartView) => void;
  readonly putBack: (keys: readonly TicketKey[]) => void;
}

/** Where a value comes from. What nobody has said counts as the printer's, and is shown as the default that it is. */
function originText({ layers }: TicketView, key: TicketKey, origin: Origin): string {
  return origin === 'printer' && layers.printer?.[key] === undefined ? 'default' : origin;
}

/** The ticket of one job, each value with its origin. */
export function oneTicket(ticket: TicketView, names: Names, onChange: (change: JobChange) => void): TicketModel {
  return {
    values: ticket.values,
    mixed: new Set(),
    standing: (key) => {
      const origin = ticket.origins[key];
      const set = origin === 'set here';
      const else_ = set ? inheritedValue(ticket, key) : undefined;
      return {
        text: originText(ticket, key, origin),
        strong: set,
        back: else_ && `${valueText(key, else_.value, names)}, from ${originText(ticket, key, else_.origin)}`,
      };
    },
    change: onChange,
    putBack: (keys) => {
      onChange({ putBack: [...keys] });
    },
  };
}

/** Many tickets at once: a value shows where all agree, else it is mixed. */
export function manyTickets(tickets: readonly TicketView[], onChange: (change: JobChange) => void): TicketModel {
  const [first, ...rest] = tickets;
  const mixed = new Set(
    TICKET_KEYS.filter((key) => rest.some((each) => !sameValue(each.values[key], first?.values[key]))),
  );
  const values = Object.fromEntries(
    TICKET_KEYS.filter((key) => !mixed.has(key)).map((key) => [key, first?.values[key]]),
  ) as TicketPartView;
  return {
    values,
    mixed,
    standing: (key) => {
      const set = tickets.filter((ticket) => ticket.origins[key] === 'set here').length;
      const text = mixed.has(key) ? 'mixed' : first ? originText(first, key, first.origins[key]) : '';
      return { text, strong: mixed.has(key), back: set > 0 ? `${String(set)} of them are set here` : undefined };
    },
    change: onChange,
    putBack: (keys) => {
      onChange({ putBack: [...keys] });
    },
  };
}

/** What a preset or a queue says: a value that it doesn't name is left to others. */
export function partModel(
  part: TicketPartView,
  keep: readonly TicketKey[],
  onChange: (part: TicketPartView) => void,
): TicketModel {
  return {
    values: { ...(PLAIN_TICKET as TicketPartView), ...part },
    mixed: new Set(),
    standing: (key) => {
      const said = key in part;
      return {
        text: said ? 'named' : 'left open',
        strong: said,
        back: said && !keep.includes(key) ? 'left open' : undefined,
      };
    },
    change: (change) => {
      onChange({ ...part, ...change });
    },
    putBack: (keys) => {
      onChange(Object.fromEntries(Object.entries(part).filter(([key]) => !keys.includes(key as TicketKey))));
    },
  };
}
