import { NARROWER_MM } from '../flow/startCheck.ts';
import { assignSpool } from '../stock/assignSpools.ts';
import { type SpoolLike, choosableSpool } from './choosableSpool.ts';
import { type ChoosableSpool, type SpoolTerms, useOf } from './spoolProblem.ts';

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
  stock: {
    readonly pricePerM2Minor: number;
    readonly usableMm: number;
    readonly partDiscount: number;
    /** Left out: nothing is fed when it is loaded. */
    readonly leaderMm?: number;
  },
  loadMinor: SpoolTerms['loadMinor'],
): OffcutOffer | null {
  const terms: SpoolTerms = {
    usableMm: stock.usableMm,
    partDiscount: stock.partDiscount,
    leaderMm: stock.leaderMm ?? 0,
    loadMinor,
  };
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
