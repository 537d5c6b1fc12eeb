import { and, eq } from 'drizzle-orm';
import Papa from 'papaparse';
import { Type } from 'typebox';
import type { ROW_FIELDS } from '../../../core/ticket/ticketRow.ts';
import { TicketFile } from '../../../contract/api/ticketRow.ts';
import { jobs, queues } from '../../db/tables/schema.ts';
import { printers, stocks } from '../../db/tables/floorTables.ts';
import { writeJdf } from '../../ingest/jdf.ts';
import { Refused, type Shop } from '../../shop.ts';
import { type Route, route } from '../route.ts';

type Row = Record<(typeof ROW_FIELDS)[number], string>;

/** Tickets out, in the forms in which they come in: what is exported here can be dropped beside its file elsewhere. */
export function ticketRoutes(shop: Shop): Route[] {
  return [
    route({
      method: 'get',
      path: '/api/ticket-schema',
      needs: 'see',
      summary: 'JSON Schema of tickets beside files',
      handle: () => TicketFile,
    }),
    route({
      method: 'get',
      path: '/api/jobs/:id/ticket',
      needs: 'see',
      summary: 'A job ticket as JDF, JSON or CSV',
      query: Type.Object({ format: Type.Enum(['jdf', 'json', 'csv'], { default: 'json' }) }),
      produces: 'application/octet-stream',
      handle: ({ params, query, res }) => {
        const job = shop.db
          .select()
          .from(jobs)
          .where(eq(jobs.id, params.id ?? ''))
          .get();
        if (!job) throw new Refused(404, 'no-such-job', `There is no job ${params.id ?? ''}.`);
        const stem = job.sourceName.replace(/\.[^.]+$/, '');
        const row = rowOf(shop, job);
        res.attachment(`${stem}.${query.format}`);
        if (query.format === 'json') res.type('application/json').send(JSON.stringify(said(row), null, 2));
        else if (query.format === 'csv') res.type('text/csv').send(Papa.unparse([said(row)]));
        else {
          const { id, sourceName, ticket } = job;
          const { widthMm, heightMm } = sizeOf(job);
          const jdf = writeJdf({ id, sourceName, widthMm, heightMm, stockName: row.stock, values: ticket.values });
          res.type('application/xml').send(jdf);
        }
      },
    }),
  ];
}

function sizeOf(job: typeof jobs.$inferSelect): { widthMm: number; heightMm: number } {
  const { size, turn } = job.ticket.values;
  if (size.kind === 'exact' && size.widthMm !== null && size.heightMm !== null) {
    return { widthMm: size.widthMm, heightMm: size.heightMm };
  }
  // Width and height of a ticket are those of the artwork upright; the job's own are as it lies.
  const [w, h] = [job.widthMm ?? 0, job.heightMm ?? 0];
  return turn === 90 || turn === 270 ? { widthMm: h, heightMm: w } : { widthMm: w, heightMm: h };
}

/** A ticket as one row of a table, in the words in which such rows are read when they come in. */
function rowOf(shop: Shop, job: typeof jobs.$inferSelect): Row {
  const { values } = job.ticket;
  const stock = shop.db.select().from(stocks).where(eq(stocks.id, values.stockId)).get();
  const printer = shop.db
    .select({ config: printers.config })
    .from(queues)
    .innerJoin(printers, eq(printers.id, queues.printerId))
    .where(and(eq(queues.id, job.queueId)))
    .get();
  const mode = printer?.config.modes.find((each) => each.id === values.modeId);
  const { widthMm, heightMm } = sizeOf(job);
  const sized = values.size.kind !== 'as it came' && values.size.kind !== 'percent';
  return {
    file: job.sourceName,
    copies: String(values.copies),
    width: sized ? `${String(widthMm)} mm` : '',
    height: sized ? `${String(heightMm)} mm` : '',
    scale: values.size.kind === 'percent' && values.size.x === values.size.y ? `${String(values.size.x)}%` : '',
    turn: values.turn === 0 ? '' : String(values.turn),
    mirror: values.mirror ? 'yes' : '',
    bleed: values.bleedMm === null ? '' : `${String(values.bleedMm)} mm`,
    stock: stock?.name ?? values.stockId,
    mode: mode?.name ?? values.modeId,
    customer: values.customer ?? '',
    order: values.orderNo ?? '',
    due: values.dueMs === null ? '' : new Date(values.dueMs).toISOString(),
    priority: values.priority,
    notes: values.notes ?? '',
  };
}

/** Without the fields that say nothing. */
function said(row: Row): Partial<Row> {
  return Object.fromEntries(Object.entries(row).filter(([, value]) => value !== ''));
}
