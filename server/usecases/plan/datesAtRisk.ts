import type { EventData, EventKind } from '../../../core/events/eventData.ts';
import { PROGRAM } from '../../../core/events/actor.ts';
import { and, eq } from 'drizzle-orm';
import type { JobAtRisk } from '../../../contract/api/fit.ts';
import type { RunItem } from '../../../contract/api/floor.ts';
import { jobs, pieces } from '../../db/tables/schema.ts';
import { type Shop, transact } from '../../shop.ts';
import { readFloor } from './fit.ts';
import { plannedWithPurges } from '../care/plannedLines.ts';

/** Less than this is no news (ms). */
const SLACK_MS = 60_000;

interface LateRun {
  readonly run: RunItem;
  readonly printerName: string;
  readonly endMs: number;
  readonly lateMs: number;
}

/** Every run that is not over yet, with its end by the plan and how late that is. */
function plannedEnds(shop: Shop): LateRun[] {
  const floor = readFloor(shop);
  const { lines } = plannedWithPurges(shop, floor).plan;
  const open = new Map(floor.runs.filter(({ endedMs }) => endedMs === null).map((run) => [run.id, run]));
  return floor.printers.flatMap((printer) => {
    const events = lines.get(printer.id)?.events ?? [];
    return events.flatMap((event) => {
      const run = event.kind === 'run' ? open.get(event.id) : undefined;
      if (!run || event.kind !== 'run') return [];
      return [{ run, printerName: printer.name, endMs: event.toMs, lateMs: event.lateMs }];
    });
  });
}

/** Jobs in live runs that will not make their own dates as the lines are now. */
export function jobsAtRisk(shop: Shop): JobAtRisk[] {
  return plannedEnds(shop).flatMap(({ run, printerName, endMs, lateMs }) => {
    if (lateMs <= SLACK_MS) return [];
    const rows = shop.db
      .selectDistinct({ jobId: jobs.id, ticket: jobs.ticket })
      .from(pieces)
      .innerJoin(jobs, eq(jobs.id, pieces.jobId))
      .where(and(eq(pieces.runId, run.id), eq(pieces.state, 'placed')))
      .all();
    return rows.flatMap(({ jobId, ticket: { values } }) => {
      const late = values.dueMs === null ? 0 : endMs - values.dueMs;
      return late > SLACK_MS
        ? [{ jobId, runName: run.name, printerName, endMs: Math.round(endMs), lateMs: Math.round(late) }]
        : [];
    });
  });
}

/** Says on the wire when a run that is queued or printing comes to be late by the plan, and when it is in time again. */
export class DatesAtRisk {
  private readonly late = new Set<string>();

  constructor(private readonly shop: Shop) {}

  look(): void {
    for (const { run, printerName, lateMs } of plannedEnds(this.shop)) {
      if (lateMs > SLACK_MS && !this.late.has(run.id)) {
        this.late.add(run.id);
        this.tell(run.id, 'run.at-risk', { run: run.number, printer: printerName, lateMs });
      }
      if (lateMs === 0 && this.late.delete(run.id)) {
        this.tell(run.id, 'run.in-time', { run: run.number, printer: printerName });
      }
    }
  }

  private tell<K extends EventKind>(runId: string, kind: K, data: EventData[K]): void {
    transact(this.shop, (work) => {
      work.note({ kind, subject: ['run', runId], actor: PROGRAM, data });
    });
  }
}
