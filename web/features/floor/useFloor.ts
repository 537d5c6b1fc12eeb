import { useMemo } from 'react';
import { planPrinter, planRun, rackOf } from '../../../core/schedule/planInput.ts';
import { type Line, type RackSpool, planLine } from '../../../core/schedule/planLine.ts';
import { Attendance, type TimeSpan, attendedSpans } from '../../../core/schedule/shopHours.ts';
import { type Printer, type RunItem, usePrinters, useRuns, useShopSetup, useSpools } from '../../api/data.ts';

const DAY = 86_400_000;

export interface FloorLine {
  readonly printer: Printer;
  /** Runs of the printer, drafts left out, in the order of its line. */
  readonly runs: readonly RunItem[];
  readonly line: Line;
}

export interface Floor {
  readonly lines: readonly FloorLine[];
  readonly attendance: Attendance;
  readonly attended: readonly TimeSpan[];
  readonly rack: readonly RackSpool[];
  readonly error: Error | undefined;
  readonly loading: boolean;
}

/** What every printer does until when, planned anew whenever something changes and as time goes by. */
export function useFloor(nowMs: number): Floor {
  const printers = usePrinters();
  const { data: runs } = useRuns();
  const { data: spools } = useSpools();
  const { data: setup } = useShopSetup();
  const dayMs = Math.floor(nowMs / DAY) * DAY;
  const attended = useMemo(
    () => (setup ? attendedSpans(setup, dayMs - 9 * DAY, dayMs + 30 * DAY) : []),
    [setup, dayMs],
  );
  const attendance = useMemo(() => (setup ? new Attendance(attended) : Attendance.always()), [setup, attended]);
  const rack = useMemo(() => rackOf(spools ?? []), [spools]);
  const byPrinter = useMemo(() => {
    const found = new Map<string, RunItem[]>();
    for (const run of runs ?? []) {
      if (run.state === 'draft') continue;
      const own = found.get(run.printerId);
      if (own) own.push(run);
      else found.set(run.printerId, [run]);
    }
    for (const own of found.values()) own.sort((a, b) => a.position - b.position);
    return found;
  }, [runs]);
  const lines = useMemo(
    () =>
      (printers.data ?? []).map((printer) => {
        const own = byPrinter.get(printer.id) ?? [];
        return { printer, runs: own, line: lineOf(printer, own, rack, attendance, nowMs) };
      }),
    [printers.data, byPrinter, rack, attendance, nowMs],
  );
  return { lines, attendance, attended, rack, error: printers.error, loading: printers.data === undefined };
}

/** The plan of one printer’s line, by the planner that the server uses as well. */
export function lineOf(
  printer: Printer,
  runs: readonly RunItem[],
  rack: readonly RackSpool[],
  attendance: Attendance,
  nowMs: number,
): Line {
  const plan = runs.map((run) => planRun(run, printer.corrections));
  return planLine(plan, planPrinter(printer), rack, attendance, nowMs);
}

/** The gaps between attended spans. */
export function awaySpans(attended: readonly TimeSpan[]): TimeSpan[] {
  return attended.flatMap((span, i) => {
    const before = attended[i - 1];
    return before && before.toMs < span.fromMs ? [{ fromMs: before.toMs, toMs: span.fromMs }] : [];
  });
}
