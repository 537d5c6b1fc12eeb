import { runTime } from '../../../../core/estimate/runTime.ts';
import { usableWidth } from '../../../../core/layout/usableWidth.ts';
import { PRIORITIES } from '../../../../core/ticket/ticket.ts';
import type { JobItem, Printer, Queue, Stock } from '../../../api/data.ts';
import { isOver, type JobWords } from './filter.ts';

export const SORTS = [
  'arrived',
  'name',
  'size',
  'pieces',
  'due',
  'priority',
  'state',
  'customer',
  'order',
  'stock',
] as const;
export type SortBy = (typeof SORTS)[number];
export interface Sort {
  readonly by: SortBy;
  readonly down: boolean;
}

export const GROUPS = ['none', 'due', 'stock', 'customer', 'printer'] as const;
export type GroupBy = (typeof GROUPS)[number];

export interface Totals {
  readonly jobs: number;
  readonly pieces: number;
  readonly areaM2: number;
  readonly hours: number;
}

export type TableRow =
  | { readonly kind: 'group'; readonly key: string; readonly title: string; readonly totals: Totals }
  | { readonly kind: 'job'; readonly job: JobItem; readonly index: number };

/** Knows printers, stocks and queues, to put jobs into words and hours. */
export interface Shop {
  readonly words: JobWords;
  readonly queues: ReadonlyMap<string, Queue>;
  readonly printers: ReadonlyMap<string, Printer>;
  readonly stocks: ReadonlyMap<string, Stock>;
}

/** The shop as the table of jobs needs it, looked up by id. */
export function shopOf(queues: readonly Queue[], printers: readonly Printer[], stocks: readonly Stock[]): Shop {
  const queueMap = new Map(queues.map((each) => [each.id, each]));
  const printerMap = new Map(printers.map((each) => [each.id, each]));
  const stockMap = new Map(stocks.map((each) => [each.id, each]));
  return {
    queues: queueMap,
    printers: printerMap,
    stocks: stockMap,
    words: {
      queue: (id) => queueMap.get(id)?.name ?? '',
      stock: (id) => stockMap.get(id)?.name ?? '',
      printerOf: (queueId) => printerMap.get(queueMap.get(queueId)?.printerId ?? '')?.name ?? '',
    },
  };
}

/** Pieces of a job in whatever state: panels, separations and backs are pieces of their own. */
export function pieceTotal({ pieces: { owed, placed, printing, printed, spoiled } }: JobItem): number {
  return owed + placed + printing + printed + spoiled;
}

/** What a job is sorted by. Jobs without a date, a customer or an order number come last. */
function sortKey(job: JobItem, by: SortBy, words: JobWords): string | number {
  switch (by) {
    case 'arrived':
      return job.seq;
    case 'name':
      return job.sourceName.toLowerCase();
    case 'size':
      return (job.widthMm ?? 0) * (job.heightMm ?? 0);
    case 'pieces':
      return pieceTotal(job);
    case 'due':
      return job.dueMs ?? Number.MAX_SAFE_INTEGER;
    case 'priority':
      return PRIORITIES.indexOf(job.priority);
    case 'state':
      return job.state;
    case 'customer':
      return (job.customer ?? '\uffff').toLowerCase();
    case 'order':
      return (job.orderNo ?? '\uffff').toLowerCase();
    case 'stock':
      return words.stock(job.stockId).toLowerCase();
  }
}

/** Stable: jobs that are equal in what is sorted by stay in the order of their arrival, the newest first. */
export function sortJobs(jobs: readonly JobItem[], { by, down }: Sort, words: JobWords): JobItem[] {
  const keyed = jobs.map((job) => ({ job, key: sortKey(job, by, words) }));
  const sign = down ? -1 : 1;
  keyed.sort((a, b) => (a.key < b.key ? -sign : a.key > b.key ? sign : b.job.seq - a.job.seq));
  return keyed.map(({ job }) => job);
}

/** What the pieces that a job still owes come to. */
export function totalsOf(jobs: readonly JobItem[], shop: Shop): Totals {
  let pieces = 0;
  let areaMm2 = 0;
  // Like jobs are timed as one length: two halves of a roll take as long as the whole.
  const lengths = new Map<string, { job: JobItem; areaMm2: number }>();
  for (const job of jobs) {
    const owed = isOver(job) ? 0 : job.pieces.owed + job.pieces.placed + job.pieces.printing;
    const area = owed * (job.widthMm ?? 0) * (job.heightMm ?? 0);
    pieces += owed;
    areaMm2 += area;
    const key = `${job.queueId}/${job.stockId}/${job.modeId}`;
    const like = lengths.get(key);
    if (like) like.areaMm2 += area;
    else lengths.set(key, { job, areaMm2: area });
  }
  const ms = [...lengths.values()].reduce((sum, each) => sum + timeOf(each.job, each.areaMm2, shop), 0);
  return { jobs: jobs.length, pieces, areaM2: areaMm2 / 1e6, hours: ms / 3_600_000 };
}

/** Time of an area laid without waste across the usable width, by the printer's constants: an estimate before any nest. */
function timeOf(job: JobItem, areaMm2: number, shop: Shop): number {
  const printer = shop.printers.get(shop.queues.get(job.queueId)?.printerId ?? '');
  const stock = shop.stocks.get(job.stockId);
  const mode = printer?.config.modes.find((each) => each.id === job.modeId);
  if (!printer || !stock || !mode || areaMm2 === 0) return 0;
  const { leftMm, rightMm } = printer.config.mediaMarginMm;
  const { usableWidthMm } = usableWidth(printer.config, stock.widthMm, leftMm, rightMm);
  const lengthMm = areaMm2 / usableWidthMm;
  const whole = { xMm: 0, yMm: 0, widthMm: usableWidthMm, heightMm: lengthMm };
  return runTime(
    { lengthMm, mediaWidthMm: stock.widthMm, mode, span: 'media', dryOut: false, cutOff: 'none', pieces: [whole] },
    printer.config.machine,
  ).totalMs;
}

/** Name of the group of a job; jobs without a value have one of their own. */
function groupOf(job: JobItem, by: GroupBy, shop: Shop, dayOf: (ms: number) => string): string {
  switch (by) {
    case 'none':
      return '';
    case 'due':
      return job.dueMs === null ? 'no due date' : dayOf(job.dueMs);
    case 'stock':
      return shop.words.stock(job.stockId) || 'unknown stock';
    case 'customer':
      return job.customer ?? 'no customer';
    case 'printer':
      return shop.words.printerOf(job.queueId) || 'no printer';
  }
}

/** Rows of the table: groups in the order in which their first job comes, each with its totals. */
export function tableRows(
  jobs: readonly JobItem[],
  by: GroupBy,
  shop: Shop,
  dayOf: (ms: number) => string,
): { readonly rows: TableRow[]; readonly ordered: JobItem[] } {
  if (by === 'none') {
    return { rows: jobs.map((job, index) => ({ kind: 'job', job, index })), ordered: [...jobs] };
  }
  const groups = new Map<string, JobItem[]>();
  const source = by === 'due' ? sortJobs(jobs, { by: 'due', down: false }, shop.words) : jobs;
  for (const job of source) {
    const title = groupOf(job, by, shop, dayOf);
    const list = groups.get(title);
    if (list) list.push(job);
    else groups.set(title, [job]);
  }
  const rows: TableRow[] = [];
  const ordered: JobItem[] = [];
  for (const [title, list] of groups) {
    rows.push({ kind: 'group', key: title, title, totals: totalsOf(list, shop) });
    for (const job of list) {
      rows.push({ kind: 'job', job, index: ordered.length });
      ordered.push(job);
    }
  }
  return { rows, ordered };
}
