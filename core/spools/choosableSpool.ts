import type { ChoosableSpool } from './spoolProblem.ts';

/** A spool as views have it, and what it is worth by its stock. */
export interface SpoolLike {
  readonly id: string;
  readonly label: string;
  readonly stockId: string;
  readonly lot: string;
  readonly kind: 'roll' | 'pack' | 'offcut';
  readonly widthMm: number;
  readonly leftMm: number;
  readonly takenMm: number;
  readonly receivedMm: number;
  readonly printerId: string | null;
}

/** Never used: it still has all that it came with. */
export function isUnopened({ kind, leftMm, receivedMm }: Pick<SpoolLike, 'kind' | 'leftMm' | 'receivedMm'>): boolean {
  return kind !== 'offcut' && leftMm >= receivedMm - 0.5;
}

/** A spool as choices are made of it: what the run on the printer still takes is gone from it. */
export function choosableSpool(spool: SpoolLike, pricePerM2Minor: number): ChoosableSpool {
  const { id, stockId, lot, widthMm, leftMm, takenMm, printerId } = spool;
  return {
    ...{ id, stockId, lot, widthMm, printerId },
    leftMm: Math.max(0, leftMm - takenMm),
    isUnopened: isUnopened(spool),
    minorPerMm: (widthMm * pricePerM2Minor) / 1e6,
  };
}

/** What loading a spool costs on a printer: its minutes at the printer's rate (minor units). */
export function loadMinorOf(printer: {
  readonly changeOver: { readonly stockMin: number };
  readonly ratePerHourMinor: number;
}): number {
  return (printer.changeOver.stockMin / 60) * printer.ratePerHourMinor;
}
