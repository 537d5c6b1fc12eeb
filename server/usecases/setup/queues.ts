import { type Actor } from '../../../core/events/actor.ts';
import { eq, max, sql } from 'drizzle-orm';
import type { QueueChange } from '../../../contract/api/ticket.ts';
import { makeTicket } from '../../../core/ticket/ticket.ts';
import { queues } from '../../db/tables/schema.ts';
import { stocks } from '../../db/tables/floorTables.ts';
import { Refused, type Shop, type Work, newId, transact } from '../../shop.ts';
import { TicketService } from '../ticket/ticketService.ts';
import { mmText } from '../../../core/units/lengthText.ts';

/** Changes what a queue gives to jobs from now on. Tickets of jobs that are here are their own and stay as they are. */
export function changeQueue(shop: Shop, id: string, change: QueueChange, actor: Actor): void {
  transact(shop, (work) => {
    const { queue, printer } = new TicketService(work.tx).queue(id);
    const settings = change.settings ?? queue.settings;
    const { modeId, stockId } = makeTicket({
      printer: printer.config.defaults,
      queue: { ...queue.settings, ...settings },
    }).values;
    if (!printer.config.modes.some((mode) => mode.id === modeId)) {
      throw new Refused(422, 'no-such-mode', `${printer.name} has no print mode ${modeId}.`);
    }
    const stock = work.tx.select().from(stocks).where(eq(stocks.id, stockId)).get();
    if (!stock) throw new Refused(422, 'no-such-stock', `There is no stock ${stockId}.`);
    if (stock.widthMm > printer.config.widestMediaMm) {
      throw new Refused(
        422,
        'too-wide',
        `${stock.name} is ${mmText(stock.widthMm)} wide; ${printer.name} takes ${mmText(printer.config.widestMediaMm)}.`,
      );
    }
    const next = {
      name: change.name === undefined ? queue.name : freeName(work, change.name, id),
      // A queue always says which mode and stock: nobody below it does.
      settings: { ...settings, modeId, stockId },
      gapMm: change.gapMm ?? queue.gapMm,
      arrivalRule: change.arrivalRule ?? queue.arrivalRule,
      goAfterMin: change.goAfterMin ?? queue.goAfterMin,
      checks: change.checks ?? queue.checks,
      routing: change.routing ?? queue.routing,
      forPool: change.forPool ?? queue.forPool,
    };
    work.tx.update(queues).set(next).where(eq(queues.id, id)).run();
    work.touch({ type: 'queue', id });
    const { name, settings: old, gapMm, arrivalRule, goAfterMin, checks, routing, forPool } = queue;
    work.note({
      kind: 'queue.changed',
      subject: ['queue', id],
      actor,
      data: { queue: next.name },
      undo: {
        label: 'Undo',
        method: 'PATCH',
        path: `/api/queues/${id}`,
        body: { name, settings: old, gapMm, arrivalRule, goAfterMin, checks, routing, forPool },
      },
    });
  });
}

/** A copy of a queue, without hot folders: it may then differ in one thing. */
export function copyQueue(shop: Shop, id: string, wanted: string, actor: Actor): string {
  return transact(shop, (work) => {
    const { queue } = new TicketService(work.tx).queue(id);
    const name = freeName(work, wanted, undefined);
    const last = work.tx
      .select({ position: max(queues.position) })
      .from(queues)
      .get();
    const copy = { ...queue, id: newId('queue'), name, position: (last?.position ?? 0) + 1 };
    work.tx.insert(queues).values(copy).run();
    work.touch({ type: 'queue', id: copy.id });
    work.note({
      kind: 'queue.copied',
      subject: ['queue', copy.id],
      actor,
      data: { queue: name, from: queue.name },
    });
    return copy.id;
  });
}

function freeName({ tx }: Work, wanted: string, own: string | undefined): string {
  const name = wanted.trim();
  const taken = tx
    .select({ id: queues.id })
    .from(queues)
    .where(sql`lower(${queues.name}) = ${name.toLowerCase()}`)
    .get();
  if (taken && taken.id !== own) {
    throw new Refused(409, 'name-taken', `A queue of that name exists: ${name}.`, undefined, 'Choose another name.');
  }
  return name;
}
