import { fitsFor, fitWork, readFloor } from '../plan/fit.ts';
import { PROGRAM } from '../../../core/events/actor.ts';
import { and, eq, gte, inArray, or } from 'drizzle-orm';
import type { DryRun } from '../../../contract/api/shop.ts';
import { sideMargins, usableWidth } from '../../../core/layout/usableWidth.ts';
import { type RoutedJob, type Rule, type RuleAnswer, routeByRules } from '../../../core/routing/rules.ts';
import { acceptsForm } from '../../../core/stock/form.ts';
import { jobs, pieces, queues } from '../../db/tables/schema.ts';
import { type Shop, transact } from '../../shop.ts';
import { changeJobs } from '../ticket/changeJobs.ts';
import { type Floor, queueFor } from '../plan/plannedFloor.ts';
import { ruleRows } from '../plan/rules.ts';

type JobRow = typeof jobs.$inferSelect;

const DAY_MS = 86_400_000;
const LOOK_BACK_DAYS = 30;
const CURRENT = ['checked', 'ready', 'blocked'] as const;
/** Between so many jobs others get their turn. */
const AT_ONCE = 50;

/** A job as rules look at it. */
export function routedJob(floor: Floor, job: JobRow, owed: number): RoutedJob {
  const { values, preset } = job.ticket;
  return {
    stock: floor.stocks[values.stockId]?.name ?? '',
    widthMm: job.widthMm ?? 0,
    lengthMm: job.heightMm ?? 0,
    pieces: owed,
    customer: values.customer ?? '',
    queue: floor.queues.find((queue) => queue.id === job.queueId)?.name ?? '',
    preset: preset?.name ?? '',
    name: job.sourceName,
    dueH: values.dueMs === null ? null : (values.dueMs - floor.nowMs) / 3_600_000,
    format: job.format ?? '',
  };
}

/** Whether a printer could take a job at all: by width, kind of source and length, without laying it out. */
function couldTake(floor: Floor, job: JobRow, printerId: string): boolean {
  const printer = floor.printers.find((each) => each.id === printerId);
  const stock = floor.stocks[job.ticket.values.stockId];
  if (!printer || !stock || printer.state === 'faulted') return false;
  if (!floor.queues.some((queue) => queue.printerId === printerId)) return false;
  const { config } = printer;
  if (!acceptsForm(config.sources, stock.form)) return false;
  if (stock.suits !== null && (stock.suits[printerId]?.length ?? 0) === 0) return false;
  if (stock.form !== 'garment' && stock.widthMm > config.widestMediaMm) return false;
  const { leftMm, rightMm } = sideMargins(config, job.ticket.values.edgeToEdge, stock.widthMm);
  const { usableWidthMm } = usableWidth(config, stock.widthMm, leftMm, rightMm);
  const [w, h] = [job.widthMm ?? 0, job.heightMm ?? 0];
  const across = job.ticket.values.quarterTurn ? Math.min(w, h) : w;
  return across <= usableWidthMm + 1e-6 && Math.max(w, h) <= config.longestMm + 1e-6;
}

/** What rules say to a job: the first that it meets and one of whose printers could take it. */
export function ruledPrinter(floor: Floor, rules: readonly Rule[], job: JobRow, owed: number): RuleAnswer | undefined {
  return routeByRules(routedJob(floor, job, owed), rules, (printerId) => couldTake(floor, job, printerId));
}

/** What the rules given would do with what waits and with what came in the last 30 days; nothing is moved. */
export async function dryRun(shop: Shop, rules: readonly Rule[]): Promise<DryRun> {
  const floor = readFloor(shop);
  const rows = shop.db
    .select()
    .from(jobs)
    .where(or(inArray(jobs.state, [...CURRENT]), gte(jobs.arrivedMs, floor.nowMs - LOOK_BACK_DAYS * DAY_MS)))
    .all()
    .filter(({ state }) => !['arriving', 'arrived'].includes(state));
  const owed = outstandingCounts(
    shop,
    rows.map(({ id }) => id),
  );
  const answer: DryRun = { jobs: [], byRule: Object.fromEntries(rules.map(({ id }) => [id, { jobs: 0, moved: 0 }])) };
  for (const [i, job] of rows.entries()) {
    if (i % AT_ONCE === AT_ONCE - 1) await new Promise((done) => setImmediate(done));
    const found = ruledPrinter(floor, rules, job, owed.get(job.id) ?? 0);
    const from = floor.queues.find((queue) => queue.id === job.queueId)?.printerId;
    const name = (id: string | undefined): string => floor.printers.find((printer) => printer.id === id)?.name ?? '';
    const count = found && answer.byRule[found.rule.id];
    if (count) {
      count.jobs += 1;
      if (found.printerId !== from) count.moved += 1;
    }
    answer.jobs.push({
      jobId: job.id,
      sourceName: job.sourceName,
      printerName: name(from),
      ruleName: found?.rule.name ?? null,
      toPrinterName: found ? name(found.printerId) : null,
      passedOver: (found?.passedOver ?? []).map(name),
      current: (CURRENT as readonly string[]).includes(job.state),
    });
  }
  return answer;
}

function outstandingCounts(shop: Shop, jobIds: readonly string[]): Map<string, number> {
  const counts = new Map<string, number>();
  for (let from = 0; from < jobIds.length; from += 500) {
    const rows = shop.db
      .select({ jobId: pieces.jobId })
      .from(pieces)
      .where(inArray(pieces.jobId, jobIds.slice(from, from + 500)))
      .all();
    for (const { jobId } of rows) counts.set(jobId, (counts.get(jobId) ?? 0) + 1);
  }
  return counts;
}

/**
 * Sends jobs that have just arrived where their queue's routing says: by the rules, or to the first of the fit list. What no
 * rule meets, and what no printer can take, stays.
 */
export async function routeArrived(
  shop: Shop,
  jobIds: readonly string[],
  signal: AbortSignal,
  progress: (share: number) => void,
): Promise<void> {
  const rows = shop.db
    .select({ job: jobs, queue: queues })
    .from(jobs)
    .innerJoin(queues, eq(queues.id, jobs.queueId))
    .where(and(inArray(jobs.id, [...jobIds]), inArray(jobs.state, ['checked', 'ready'])))
    .all();
  const routed = rows.filter(({ queue }) => queue.routing !== 'stays');
  if (routed.length === 0) return;
  const floor = readFloor(shop);
  const rules = ruleRows(shop.db);
  for (const [i, { job, queue }] of routed.entries()) {
    signal.throwIfAborted();
    progress(i / routed.length);
    const owed = fitWork(shop.db, [job.id]);
    const [fits = []] = await fitsFor(shop, floor, [{ work: owed }], { priority: 'the shop waits', signal });
    let to: { readonly printerId: string; readonly modeId: string | undefined; readonly why: string } | undefined;
    if (queue.routing === 'rules') {
      const found = ruledPrinter(floor, rules, job, owed.pieces.length);
      const fit = found && fits.find((each) => each.printerId === found.printerId);
      const modeId = fit?.can === true ? fit.modeId : undefined;
      to = found && { printerId: found.printerId, modeId, why: `by the rule ${found.rule.name}` };
    } else {
      const [first] = fits;
      to = first?.can === true ? { printerId: first.printerId, modeId: first.modeId, why: first.why } : undefined;
    }
    if (!to || to.printerId === queue.printerId) continue;
    const queueId = queueFor(floor, to.printerId, job.ticket.values.stockId);
    if (queueId === undefined) continue;
    const { stockId } = job.ticket.values;
    await changeJobs(
      shop,
      [job.id],
      { queueId, stockId, ...(to.modeId === undefined ? {} : { modeId: to.modeId }) },
      PROGRAM,
    );
    const { why } = to;
    const name = floor.printers.find((printer) => printer.id === to.printerId)?.name ?? '';
    transact(shop, (work) => {
      work.note({
        kind: 'job.routed',
        subject: ['job', job.id],
        actor: PROGRAM,
        data: { file: job.sourceName, printer: name, why },
      });
    });
  }
}
