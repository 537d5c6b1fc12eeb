import type { PlanPrinter, PlanRun, RackSpool } from './planLine.ts';

interface RunLike extends Omit<PlanRun, 'msLeft' | 'saidAtMs' | 'fedMm'> {
  readonly progress: { readonly msLeft: number; readonly atMs: number; readonly fedMm: number } | null;
}

interface PrinterLike {
  readonly config: {
    readonly unattended: boolean;
    readonly changeOver: PlanPrinter['changeOver'];
    readonly sources: readonly { readonly id: string }[];
  };
  readonly spools: readonly (SpoolLike & { readonly sourceId: string | null })[];
  readonly inkLeftMl: Readonly<Record<string, number>>;
  readonly lastModeId: string | null;
  readonly corrections: Readonly<Record<string, { readonly factor: number }>>;
}

interface SpoolLike {
  readonly id: string;
  readonly stockId: string;
  readonly leftMm: number;
}

/** A run as plans take it: its estimate corrected by what the printer's runs in that mode really took. */
export function planRun(run: RunLike, corrections: PrinterLike['corrections']): PlanRun {
  return {
    ...run,
    estimateMs: run.estimateMs * (corrections[run.modeId]?.factor ?? 1),
    msLeft: run.progress?.msLeft ?? null,
    saidAtMs: run.progress?.atMs ?? null,
    fedMm: run.progress?.fedMm ?? 0,
  };
}

/** A printer as plans take it: what is loaded in each source, what ink is left, and what it was set to last. */
export function planPrinter(printer: PrinterLike): PlanPrinter {
  const { config, spools, inkLeftMl, lastModeId } = printer;
  return {
    unattended: config.unattended,
    changeOver: config.changeOver,
    sources: config.sources.map(({ id }) => {
      const spool = spools.find(({ sourceId }) => sourceId === id);
      return { id, stockId: spool?.stockId ?? null, spoolId: spool?.id ?? null, leftMm: spool?.leftMm ?? 0 };
    }),
    inkLeftMl,
    lastModeId,
  };
}

/** What stands on the rack. */
export function rackOf(spools: readonly (SpoolLike & { readonly printerId: string | null })[]): RackSpool[] {
  return spools
    .filter(({ printerId, leftMm }) => printerId === null && leftMm > 0)
    .map(({ id, stockId, leftMm }) => ({ id, stockId, leftMm }));
}
