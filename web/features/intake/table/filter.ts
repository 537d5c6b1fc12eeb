import { QUERY_FIELDS, type QueryField, queryWords } from '../../../../core/ticket/jobQuery.ts';
import type { JobItem } from '../../../api/data.ts';

/** 'waiting' leaves out what is printed, cancelled or in a run. The last three are of all work that isn't over. */
export const SHOWS = ['waiting', 'in runs', 'printed', 'all', 'late', 'due today', 'waits for me'] as const;

export interface JobFilter {
  readonly text: string;
  readonly show: (typeof SHOWS)[number];
  readonly queueId: string | null;
}

export const NO_FILTER: JobFilter = { text: '', show: 'waiting', queueId: null };

const STATES: Record<'waiting' | 'in runs' | 'printed', ReadonlySet<string>> = {
  waiting: new Set(['arriving', 'arrived', 'checked', 'ready', 'blocked']),
  'in runs': new Set(['placed', 'printing']),
  printed: new Set(['printed', 'shelved', 'dropped', 'cancelled']),
};

/** Nothing more is to be done for it. */
export const isOver = (job: JobItem): boolean => STATES.printed.has(job.state);

/** What dates are judged by. */
export interface Today {
  readonly nowMs: number;
  readonly dayEndMs: number;
  /** Jobs whose runs will be late as the lines are now. */
  readonly lateIds: ReadonlySet<string>;
}

/** Whether a job stands in a list of jobs. */
export function belongs(job: JobItem, show: JobFilter['show'], { nowMs, dayEndMs, lateIds }: Today): boolean {
  const over = isOver(job);
  switch (show) {
    case 'all':
      return true;
    case 'late':
      return !over && (lateIds.has(job.id) || (job.dueMs !== null && job.dueMs < nowMs));
    case 'due today':
      return !over && job.dueMs !== null && job.dueMs <= dayEndMs;
    case 'waits for me':
      // Nothing goes on by itself: something is to be mended, or pieces are to be laid out.
      return (
        job.state === 'blocked' || (!over && job.state !== 'arriving' && job.state !== 'arrived' && job.pieces.owed > 0)
      );
    case 'waiting':
      // A job in a run that still owes pieces is waiting too.
      return STATES.waiting.has(job.state) || (job.pieces.owed > 0 && !over);
    default:
      return STATES[show].has(job.state);
  }
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
export function filterJobs(jobs: readonly JobItem[], filter: JobFilter, words: JobWords, today: Today): JobItem[] {
  const wanted = queryWords(filter.text);
  return jobs.filter((job) => {
    if (!belongs(job, filter.show, today) || (filter.queueId !== null && job.queueId !== filter.queueId)) return false;
    if (wanted.length === 0) return true;
    const own = textsOf(job, words);
    return wanted.every(({ field, text }) => own[field].includes(text));
  });
}
