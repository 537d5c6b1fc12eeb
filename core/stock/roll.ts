/** Geometry of a wound roll: thickness t includes the liner. Source: L = π(D² − d²) ÷ 4t. All mm. */
export function rollLengthMm(outerDiameterMm: number, coreDiameterMm: number, thicknessMm: number): number {
  return (Math.PI * (outerDiameterMm ** 2 - coreDiameterMm ** 2)) / (4 * thicknessMm);
}

/** Outer diameter of a roll with this length left on it (mm). */
export function rollDiameterMm(lengthMm: number, coreDiameterMm: number, thicknessMm: number): number {
  return Math.sqrt(coreDiameterMm ** 2 + (4 * thicknessMm * Math.max(0, lengthMm)) / Math.PI);
}

/** What changes a spool's length; `mm` is signed: received and corrections add, everything fed takes away. */
export interface LedgerEntry {
  readonly kind: 'received' | 'leader' | 'run' | 'purge' | 'trim' | 'correction' | 'scrapped';
  readonly mm: number;
}

/** A spool's length left is the sum of its ledger, never a number of its own. */
export function lengthLeftMm(ledger: readonly LedgerEntry[]): number {
  return ledger.reduce((sum, entry) => sum + entry.mm, 0);
}
