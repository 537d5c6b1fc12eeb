import { useContext, useState } from 'react';
import { Link } from 'react-router';
import useSWR from 'swr';
import type { WhatIfAsk, WhatIfChangeView, WhatIfView } from '../../../../contract/api/pace/whatIf.ts';
import { durationText } from '../../../../core/units/durationText.ts';
import { errorText, sendJson } from '../../../api/client.ts';
import { ShopTimeContext, shopNow } from '../../../app/shopTime.ts';
import { moneyText } from '../../../draw/money.ts';
import { counted } from '../../../ui/text/counted.ts';
import { daysLookedAt, whatIfPath } from '../../../pace/whatIfAsk.ts';
import type { RunKey } from './RunSettings.tsx';

/** What a setting would have come to in the last thirty days, before it is changed for many stocks: the figure of the what-if. */
export function MonthFigure({
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
  const time = useContext(ShopTimeContext);
  const [nowMs] = useState(() => (time ? Math.floor(shopNow(time)) : undefined));
  const change = changeOf(setting, value);
  const ask: WhatIfAsk | undefined =
    change && nowMs !== undefined ? { ...daysLookedAt('30 days', nowMs), stockIds, printerIds, change } : undefined;
  const { data, error } = useSWR<WhatIfView, Error>(
    ask ? ['what if', JSON.stringify(ask)] : null,
    () => sendJson<WhatIfView>('POST', '/api/pace/what-if', ask),
    { revalidateOnFocus: false, shouldRetryOnError: false },
  );
  if (!change) return null;
  if (error)
    return <p className="mb-2 text-wait">What it comes to in a month can’t be worked out: {errorText(error)}</p>;
  if (!data) return <p className="mb-2 text-soft">Working out what it comes to in a month …</p>;
  const savedMinor = data.was.costMinor - data.would.costMinor;
  const less = savedMinor >= 0;
  return (
    <p className="mb-2">
      In the last 30 days it would have {less ? 'saved' : 'cost'}{' '}
      <span className={`font-medium ${less ? 'text-go' : 'text-stop'}`}>
        {moneyText(Math.abs(savedMinor), data.currency)}
      </span>{' '}
      and {less ? '' : 'taken '}
      <span className="font-medium">{durationText(Math.abs(data.savedMs))}</span>
      {less ? '' : ' more'} on the printers, in {counted(data.runs, 'run')}.{' '}
      <Link to={whatIfPath(change, {})} className="text-tide underline">
        Look at it run by run
      </Link>
    </p>
  );
}

function changeOf(setting: RunKey, value: string): WhatIfChangeView | undefined {
  if (setting === 'dryOut' && value !== '') return { dryOut: value === 'on' };
  if (setting === 'span' && (value === 'whole bed' || value === 'media' || value === 'artwork')) return { span: value };
  if (setting === 'cutOff' && (value === 'none' || value === 'full' || value === 'perforated'))
    return { cutOff: value };
  return undefined;
}
