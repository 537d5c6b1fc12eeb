import { NARROWER_MM } from '../flow/startCheck.ts';
import { assignSpool } from '../stock/assignSpools.ts';
import { type ChoosableSpool, type SpoolTerms, useOf } from './spoolProblem.ts';

/** A spool as views have it, and what it is worth by its stock. */
interface SpoolLike {
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

/** An offcut that a run fits on, and what is saved by that. */
export interface OffcutOffer {
  readonly spoolId: string;
  readonly label: string;
  /** On it once the run is printed. */
  readonly leftMm: number;
  readonly savedMinor: number;
}

/**
 * The offcut of the rack on which a run is printed best, beside what it would be printed on without it: the spool in the printer that is
 * long enough, else the shortest of the rack that is.
 * @param spools of the run's stock
 * @returns null: no offcut is wide and long enough, or none saves anything
 */
export function offcutOffer(
  spools: readonly SpoolLike[],
  run: { readonly printerId: string; readonly leastWidthMm: number; readonly needMm: number },
  stock: { readonly pricePerM2Minor: number; readonly usableMm: number; readonly partDiscount: number },
  loadMinor: SpoolTerms['loadMinor'],
): OffcutOffer | null {
  const terms: SpoolTerms = { usableMm: stock.usableMm, partDiscount: stock.partDiscount, leaderMm: 0, loadMinor };
  const { printerId, needMm } = run;
  const least = Math.max(0, run.leastWidthMm - NARROWER_MM);
  const able = spools.map((spool) => ({ spool, of: choosableSpool(spool, stock.pricePerM2Minor) }));
  const loss = (of: ChoosableSpool): number | undefined => useOf(of, needMm, [printerId], terms)?.lossMinor;
  const inPrinter = able.filter(({ spool }) => spool.printerId === printerId).map(({ of }) => of);
  const onRack = able.filter(({ spool }) => spool.printerId === null);
  const enough = (list: readonly ChoosableSpool[]): ChoosableSpool | undefined => {
    const best = assignSpool(list, least, needMm);
    return best && best.leftMm >= needMm ? best : undefined;
  };
  const without =
    enough(inPrinter) ?? enough(onRack.filter(({ spool }) => spool.kind !== 'offcut').map(({ of }) => of));
  const before = without && loss(without);
  if (needMm <= 0 || before === undefined) return null;
  let best: OffcutOffer | null = null;
  for (const { spool, of } of onRack) {
    if (spool.kind !== 'offcut' || of.widthMm < least) continue;
    const own = loss(of);
    if (own === undefined) continue;
    const savedMinor = Math.round(before - own);
    if (savedMinor > 0 && (!best || savedMinor > best.savedMinor)) {
      best = { spoolId: spool.id, label: spool.label, leftMm: of.leftMm - needMm, savedMinor };
    }
  }
  return best;
}
