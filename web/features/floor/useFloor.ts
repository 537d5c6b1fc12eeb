import { useMemo } from 'react';
import type { Line } from '../../../core/schedule/plan.ts';
import { planFloor } from '../../../core/schedule/planFloor.ts';
import { snapshotOf } from '../../../core/schedule/planInput.ts';
import { Attendance, type TimeSpan, attendedSpans } from '../../../core/schedule/shopHours.ts';
import { useAwayNow } from '../../api/away.ts';
import {
  type Printer,
  type RunItem,
  type SpoolView,
  usePrinters,
  useRuns,
  useShopSetup,
  useSpools,
} from '../../api/data.ts';

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
  /** The time away that is armed. */
  readonly away: TimeSpan | null;
  readonly spools: readonly SpoolView[];
  readonly error: Error | undefined;
  readonly loading: boolean;
}

/** What every printer does until when, planned anew whenever something changes and as time goes by. */
export function useFloor(nowMs: number): Floor {
  const printers = usePrinters();
  const { data: runs } = useRuns();
  const { data: spools } = useSpools();
  const { data: setup } = useShopSetup();
  const { data: awayNow } = useAwayNow();
  const away = awayNow?.armed ?? null;
  const dayMs = Math.floor(nowMs / DAY) * DAY;
  const attended = useMemo(
    () => (setup ? attendedSpans(setup, dayMs - 9 * DAY, dayMs + 46 * DAY) : []),
    [setup, dayMs],
  );
  const attendance = useMemo(() => (setup ? new Attendance(attended) : Attendance.always()), [setup, attended]);
  const inLine = useMemo(() => {
    const found = (runs ?? []).filter(({ state }) => state !== 'draft');
    return found.sort((a, b) => a.position - b.position);
  }, [runs]);
  const planned = useMemo(
    () => planFloor({ ...snapshotOf(printers.data ?? [], inLine, spools ?? [], attendance, nowMs), away }).lines,
    [printers.data, inLine, spools, attendance, away, nowMs],
  );
  const lines = useMemo(
    () =>
      (printers.data ?? []).flatMap((printer) => {
        const line = planned.get(printer.id);
        return line ? [{ printer, runs: inLine.filter(({ printerId }) => printerId === printer.id), line }] : [];
      }),
    [printers.data, inLine, planned],
  );
  return {
    lines,
    attendance,
    attended,
    away,
    spools: spools ?? NO_SPOOLS,
    error: printers.error,
    loading: printers.data === undefined,
  };
}

const NO_SPOOLS: readonly SpoolView[] = [];

/** The plan of the floor with the runs of one printer in another order, by the planner that the server uses as well. */
export function planWithOrder(
  floor: Floor,
  printerId: string,
  ids: readonly string[],
  nowMs: number,
): Line | undefined {
  const rank = new Map(ids.map((id, i) => [id, i]));
  const runs = floor.lines.flatMap((line) =>
    line.printer.id === printerId
      ? [...line.runs].sort((a, b) => (rank.get(a.id) ?? -1) - (rank.get(b.id) ?? -1))
      : line.runs,
  );
  const printers = floor.lines.map(({ printer }) => printer);
  const snapshot = snapshotOf(printers, runs, floor.spools, floor.attendance, nowMs);
  return planFloor({ ...snapshot, away: floor.away }).lines.get(printerId);
}

/** The gaps between attended spans. */
export function awaySpans(attended: readonly TimeSpan[]): TimeSpan[] {
  return attended.flatMap((span, i) => {
    const before = attended[i - 1];
    return before && before.toMs < span.fromMs ? [{ fromMs: before.toMs, toMs: span.fromMs }] : [];
  });
}
