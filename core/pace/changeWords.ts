import type { WhatIfChange } from './whatIf.ts';

/** Settings that would be otherwise, the layout's among them. */
interface ChangedSettings extends WhatIfChange {
  readonly gapMm?: number;
  readonly order?: string;
}

/** A change in words. */
export function changeWords(change: ChangedSettings): string {
  const { span, dryOut, dryMin, cutOff, passes, oneDirectional, gapMm, order } = change;
  return [
    span === undefined
      ? ''
      : span === 'whole bed'
        ? 'the carriage over the whole bed'
        : `the carriage over the ${span} only`,
    dryOut === undefined ? '' : dryOut ? 'with dry-out feed' : 'without dry-out feed',
    dryMin === undefined ? '' : dryMin === 0 ? 'without drying time' : `${String(dryMin)} min of drying`,
    cutOff === undefined
      ? ''
      : cutOff === 'none'
        ? 'not cut off'
        : `cut off ${cutOff === 'full' ? 'in full' : 'perforated'}`,
    passes === undefined ? '' : `${String(passes)} passes`,
    oneDirectional === undefined ? '' : oneDirectional ? 'in one direction' : 'in both directions',
    gapMm === undefined ? '' : `${String(gapMm)} mm between pieces`,
    order === undefined ? '' : order === 'free' ? 'nested freely' : `pieces ${order}`,
  ]
    .filter((text) => text !== '')
    .join(', ');
}
