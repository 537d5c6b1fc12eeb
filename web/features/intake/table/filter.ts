import { QUERY_FIELDS, type QueryField, queryWords } from '../../../../core/ticket/jobQuery.ts';
import type { JobItem } from '../../../api/data.ts';

export interface JobFilter {
  readonly text: string;
  /** 'waiting' leaves out what is printed, cancelled or in a run. */
  readonly show: 'waiting' | 'in runs' | 'printed' | 'all';
  readonly queueId: string | null;
}

export const NO_FILTER: JobFilter = { text: '', show: 'waiting', queueId: null };

const SHOWS: Record<Exclude<JobFilter['show'], 'all'>, ReadonlySet<string>> = {
  waiting: new Set(['arriving', 'arrived', 'checked', 'ready', 'blocked']),
  'in runs': new Set(['placed', 'printing']),
  printed: new Set(['printed', 'shelved', 'dropped', 'cancelled']),
};

/** Whether a job stands in a list of jobs by its state. */
export function belongs(job: JobItem, show: JobFilter['show']): boolean {
  // A job in a run that still owes pieces is waiting too.
  return (
    show === 'all' ||
    SHOWS[show].has(job.state) ||
    (show === 'waiting' && job.pieces.owed > 0 && !SHOWS.printed.has(job.state))
  );
}

/** Whether this looks at jobs of the past, which the server searches. */
export function isOfPast(show: JobFilter['show']): boolean {
  return show === 'printed' || show === 'all';
}

/** What people call the things that jobs only name by id. */
export interface JobWords {
  readonly queue: (id: string) => string;
  readonly stock: (id: string) => string;
  readonly printerOf: (queueId: string) => string;
}

type Texts = Readonly<Record<QueryField, string>> & { readonly all: string };
/** By the words they are put in, too: a queue that is renamed is found by its new name. */
const texts = new WeakMap<JobWords, WeakMap<JobItem, Texts>>();

/** What a job is found by, put together once for each version of it. */
function textsOf(job: JobItem, words: JobWords): Texts {
  const own = texts.get(words) ?? new WeakMap<JobItem, Texts>();
  texts.set(words, own);
  const known = own.get(job);
  if (known) return known;
  const [w, h] = [job.widthMm, job.heightMm].map((mm) => (mm === null ? '' : String(Math.round(mm * 10) / 10)));
  const fields: Record<QueryField, string> = {
    name: job.sourceName,
    customer: job.customer ?? '',
    order: job.orderNo ?? '',
    size: `${w ?? ''}x${h ?? ''}`,
    stock: words.stock(job.stockId),
    finding: job.findings.map((finding) => `${finding.code} ${finding.severity} ${finding.text}`).join(' '),
    state: job.state,
    queue: words.queue(job.queueId),
    preset: job.presetName ?? '',
    priority: job.priority,
  };
  for (const field of QUERY_FIELDS) fields[field] = fields[field].toLowerCase();
  // Every job has a priority; only what is out of the ordinary is worth finding by a bare word.
  const all = QUERY_FIELDS.filter((field) => field !== 'priority' || job.priority !== 'normal')
    .map((field) => fields[field])
    .join(' ');
  const made = { ...fields, all };
  own.set(job, made);
  return made;
}

/** Puts together what jobs are found by; for quiet moments, so that the first keystroke need not. */
export function readyTexts(jobs: readonly JobItem[], words: JobWords): void {
  for (const job of jobs) textsOf(job, words);
}

/**
 * Every word must be found somewhere in a job: name, customer, order, size, stock, finding, state, queue, preset. A word
 * such as `customer:marram` is looked for in that alone.
 */
export function filterJobs(jobs: readonly JobItem[], filter: JobFilter, words: JobWords): JobItem[] {
  const wanted = queryWords(filter.text);
  return jobs.filter((job) => {
    if (!belongs(job, filter.show) || (filter.queueId !== null && job.queueId !== filter.queueId)) return false;
    if (wanted.length === 0) return true;
    const own = textsOf(job, words);
    return wanted.every(({ field, text }) => own[field].includes(text));
  });
}
