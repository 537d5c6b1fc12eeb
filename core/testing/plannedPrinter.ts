import type { PlanPrinter, PlanSource, RackSpool } from '../schedule/plan.ts';

const SPOOL = { widthMm: 1600, sheetMm: null, takeUp: null } as const;

/** A source with ten metres of stock `a` in it, unless a test says otherwise. */
export function sourceWith(more: Partial<PlanSource> = {}): PlanSource {
  return { id: 'roll', stockId: 'a', spoolId: 's1', leftMm: 10_000, ...SPOOL, ...more };
}

/** A printer as plans take it: one source, nothing in the way, ten minutes to another stock and two to another mode. */
export function plannedPrinter(id: string, more: Partial<PlanPrinter> = {}): PlanPrinter {
  return {
    id,
    unattended: true,
    changeOver: { stockMin: 10, modeMin: 2 },
    sources: [sourceWith({ spoolId: `${id} in` })],
    inkLeftMl: {},
    lastModeId: 'm',
    stopped: null,
    takeUp: false,
    freeHangMm: null,
    collectsMm: null,
    collectedMm: 0,
    unfit: {},
    cleanMs: 240_000,
    care: [],
    careRules: [],
    ...more,
  };
}

export function onRack(id: string, stockId: string, leftMm: number, widthMm = 1600): RackSpool {
  return { id, stockId, leftMm, widthMm, sheetMm: null, takeUp: null };
}
