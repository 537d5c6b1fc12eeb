import { planPrinter, planRun, rackOf } from '../../core/schedule/planInput.ts';
import { planLine } from '../../core/schedule/planLine.ts';
import { type Shop, transact } from '../shop.ts';
import { readFloor } from './fit.ts';

/** Less than this is no news (ms). */
const SLACK_MS = 60_000;

/** Says on the wire when a run that is queued or printing comes to be late by the plan, and when it is in time again. */
export class DatesAtRisk {
  private readonly late = new Set<string>();

  constructor(private readonly shop: Shop) {}

  look(): void {
    const floor = readFloor(this.shop);
    const rack = rackOf(floor.spools);
    for (const printer of floor.printers) {
      const own = floor.runs.filter((run) => run.printerId === printer.id && run.state !== 'draft');
      const plan = own.map((run) => planRun(run, printer.corrections));
      const line = planLine(plan, planPrinter(printer), rack, floor.attendance, floor.nowMs);
      for (const event of line.events) {
        if (event.kind !== 'run') continue;
        const name = own.find((run) => run.id === event.id)?.name ?? '';
        if (event.lateMs > SLACK_MS && !this.late.has(event.id)) {
          this.late.add(event.id);
          const minutes = Math.round(event.lateMs / 60_000);
          const by = minutes < 120 ? `${String(minutes)} min` : `${(minutes / 60).toFixed(1)} h`;
          this.tell(event.id, 'run.at-risk', `${name} on ${printer.name} will be ${by} late as the line is now`);
        }
        if (event.lateMs === 0 && this.late.delete(event.id)) {
          this.tell(event.id, 'run.in-time', `${name} on ${printer.name} will be in time again`);
        }
      }
    }
  }

  private tell(runId: string, kind: string, text: string): void {
    transact(this.shop, (work) => {
      work.note({ kind, subject: ['run', runId], text });
    });
  }
}
