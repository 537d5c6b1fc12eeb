import type { WhatIfChangeView } from '../../../../contract/api/pace/whatIf.ts';
import { whatIfPath } from '../../../pace/whatIfAsk.ts';
import { MonthFigure } from '../MonthFigure.tsx';
import type { RunKey } from './RunSettings.tsx';

/** What a setting would have come to in the last thirty days, before it is changed for many stocks. */
export function SettingMonth({
  stockIds,
  printerIds,
  setting,
  value,
}: {
  readonly stockIds: string[];
  readonly printerIds: string[];
  readonly setting: RunKey;
  readonly value: string;
}) {
  const change = changeOf(setting, value);
  return change ? <MonthFigure ask={{ stockIds, printerIds, change }} path={whatIfPath(change, {})} /> : null;
}

function changeOf(setting: RunKey, value: string): WhatIfChangeView | undefined {
  if (setting === 'dryOut' && value !== '') return { dryOut: value === 'on' };
  if (setting === 'span' && (value === 'whole bed' || value === 'media' || value === 'artwork')) return { span: value };
  if (setting === 'cutOff' && (value === 'none' || value === 'full' || value === 'perforated'))
    return { cutOff: value };
  return undefined;
}
