import type { TicketPart } from '../../core/ticket/ticket.ts';
import { Refused, type Shop } from '../shop.ts';
import { rowContext } from '../usecases/arrival/rowContext.ts';
import { readTicketFile } from './readTicketFile.ts';
import { problemText } from './ticketBoard.ts';

/**
 * What the ticket of one job says, as JSON.
 * @throws Refused with the reason where it can't be read, is of several jobs, or says something that there is none of
 */
export function oneTicket(shop: Shop, queueId: string, json: string): TicketPart {
  const read = readTicketFile('ticket.json', Buffer.from(json), rowContext(shop, queueId), shop.limits);
  if (!read.ok) throw new Refused(422, 'ticket', read.reason);
  const [row] = read.rows;
  if (!row || read.rows.length > 1) throw new Refused(422, 'ticket', 'The ticket has to be that of one job.');
  if (row.problems.length > 0) throw new Refused(422, 'ticket', problemText(row));
  return row.values;
}
