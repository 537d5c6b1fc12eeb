import { type SQL, sql } from 'drizzle-orm';
import type { JobsWhich } from '../../contract/api/job.ts';
import { type QueryField, type QueryWord, isIndexed, queryWords } from '../../core/ticket/jobQuery.ts';
import type { Reader } from './open.ts';
import { jobs } from './tables/schema.ts';

/** Columns of the index by what people call them; state and priority change too often to be in it. */
const COLUMNS: Readonly<Partial<Record<QueryField, string>>> = {
  name: 'name',
  customer: 'customer',
  order: 'orderno',
  size: 'size',
  stock: 'stock',
  queue: 'queue',
  preset: 'preset',
  finding: 'finding',
};

export interface JobSearch {
  readonly which: JobsWhich;
  readonly text: string;
  readonly queueId: string | undefined;
  /** Jobs older than this number. */
  readonly beforeSeq: number;
  readonly limit: number;
}

/**
 * Numbers of jobs in which every word of the text is found, the newest first. Words of three letters and more are looked up in
 * the index; shorter ones, and those about state and priority, are compared on the jobs that it gives.
 */
export function searchJobs(db: Reader, { which, text, queueId, beforeSeq, limit }: JobSearch): number[] {
  const words = queryWords(text);
  const match = words.filter(isIndexed).map(phrase).join(' AND ');
  const also = words.filter((word) => !isIndexed(word)).map(compared);
  // The unary plus keeps these from being chosen as the way in: the index is.
  if (which === 'past') also.push(sql`+${jobs.pastSeq} IS NOT NULL`);
  if (which === 'kept') also.push(sql`+${jobs.keptSeq} IS NOT NULL`);
  if (which === 'live') also.push(sql`+${jobs.pastSeq} IS NULL`);
  if (queueId !== undefined) also.push(sql`+${jobs.queueId} = ${queueId}`);
  const rows = db.all<{ seq: number }>(sql`
    SELECT jobs.seq AS seq FROM job_search CROSS JOIN jobs ON jobs.seq = job_search.rowid
    WHERE job_search MATCH ${match} AND job_search.rowid < ${beforeSeq}
    ${sql.join(
      also.map((each) => sql`AND ${each}`),
      sql` `,
    )}
    ORDER BY job_search.rowid DESC LIMIT ${limit}`);
  return rows.map(({ seq }) => seq);
}

function phrase({ field, text }: QueryWord): string {
  const quoted = `"${text.replaceAll('"', '""')}"`;
  const column = field === 'all' ? undefined : COLUMNS[field];
  return column === undefined ? quoted : `${column} : ${quoted}`;
}

/**
 * One word of a search as a condition. Only words too short for the index come here, and those that ask for one field: they
 * narrow what the index has found, and never read the whole table by themselves.
 */
function compared({ field, text }: QueryWord): SQL {
  const like = `%${text.replace(/[%_\\]/g, '\\$&')}%`;
  const has = (what: SQL): SQL => sql`coalesce(${what}, '') LIKE ${like} ESCAPE '\\'`;
  const value = (name: string): SQL => sql`json_extract(${jobs.ticket}, ${`$.values.${name}`})`;
  switch (field) {
    case 'state':
      return has(sql`${jobs.state}`);
    case 'priority':
      return has(value('priority'));
    case 'customer':
      return has(value('customer'));
    case 'order':
      return has(value('orderNo'));
    default:
      return has(
        sql`${jobs.sourceName} || ' ' || coalesce(${value('customer')}, '') || ' ' || coalesce(${value('orderNo')}, '')`,
      );
  }
}
