import { useContext, useState } from 'react';
import { Link } from 'react-router';
import useSWR from 'swr';
import type { WhatIfAsk, WhatIfView } from '../../../contract/api/pace/whatIf.ts';
import { durationText } from '../../../core/units/durationText.ts';
import { errorText, sendJson } from '../../api/client.ts';
import { ShopTimeContext, shopNow } from '../../app/shopTime.ts';
import { moneyText } from '../../draw/money.ts';
import { counted } from '../../ui/text/counted.ts';
import { daysLookedAt } from '../../pace/whatIfAsk.ts';

/** What a change would have come to in the last thirty days, before it is made: the figure of the what-if. */
export function MonthFigure({
  ask: asked,
  path,
}: {
  readonly ask: Pick<WhatIfAsk, 'stockIds' | 'printerIds' | 'change'>;
  /** Where it is looked at run by run. */
  readonly path?: string | undefined;
}) {
  const time = useContext(ShopTimeContext);
  const [nowMs] = useState(() => (time ? Math.floor(shopNow(time)) : undefined));
  const ask: WhatIfAsk | undefined = nowMs === undefined ? undefined : { ...daysLookedAt('30 days', nowMs), ...asked };
  const { data, error } = useSWR<WhatIfView, Error>(
    ask ? ['what if', JSON.stringify(ask)] : null,
    () => sendJson<WhatIfView>('POST', '/api/pace/what-if', ask),
    { revalidateOnFocus: false, shouldRetryOnError: false },
  );
  if (error)
    return <p className="mb-2 text-wait">What it comes to in a month can’t be worked out: {errorText(error)}</p>;
  if (!data) return <p className="mb-2 text-soft">Working out what it comes to in a month …</p>;
  if (data.changed === 0) {
    return (
      <p className="mb-2 text-soft">In the last 30 days it would have changed nothing: {counted(data.runs, 'run')}.</p>
    );
  }
  const savedMinor = data.was.costMinor - data.would.costMinor;
  const [isCheaper, isFaster] = [savedMinor >= 0, data.savedMs >= 0];
  const late = data.was.lateJobs - data.would.lateJobs;
  return (
    <p className="mb-2">
      In the last 30 days it would have {isCheaper ? 'saved' : 'cost'}{' '}
      <span className={`font-medium ${isCheaper ? 'text-go' : 'text-stop'}`}>
        {moneyText(Math.abs(savedMinor), data.currency)}
      </span>
      {isCheaper ? '' : ' more'} and {isFaster ? 'saved' : 'taken'}{' '}
      <span className="font-medium">{durationText(Math.abs(data.savedMs))}</span>
      {isFaster ? '' : ' more'} on the printers, in {counted(data.runs, 'run')}
      {late !== 0 && `; ${counted(Math.abs(late), 'job')} ${late > 0 ? 'fewer' : 'more'} would have been late`}.{' '}
      {path !== undefined && (
        <Link to={path} className="text-tide underline">
          Look at it run by run
        </Link>
      )}
    </p>
  );
}
