import { ArrowLeft } from 'lucide-react';
import { useContext, useState } from 'react';
import { Link } from 'react-router';
import useSWR from 'swr';
import type { WhatIfAsk, WhatIfView } from '../../../../contract/api/pace/whatIf.ts';
import { errorText, sendJson } from '../../../api/client.ts';
import { usePrinters, useQueues, useRules, useRun, useStocks } from '../../../api/data.ts';
import { ShopTimeContext, shopNow } from '../../../app/shopTime.ts';
import { Button } from '../../../ui/Button.tsx';
import { Select } from '../../../ui/fields/Select.tsx';
import { useAddress } from '../../../ui/useAddress.ts';
import { ChoiceBar } from '../../../ui/time/ChoiceBar.tsx';
import { ApplyChange } from './ApplyChange.tsx';
import { BestChanges } from './BestChanges.tsx';
import { ChangeFields } from './ChangeFields.tsx';
import { PurgeFigures } from './PurgeFigures.tsx';
import { WhatIfFigures } from './WhatIfFigures.tsx';
import { LOOKED_AT, changeIn, daysLookedAt } from '../../../pace/whatIfAsk.ts';

/** What would be with other settings: of days that lie behind, or of what waits. */
export function WhatIfPage() {
  const time = useContext(ShopTimeContext);
  return time ? <WhatIfAt now={() => shopNow(time)} /> : null;
}

function WhatIfAt({ now }: { readonly now: () => number }) {
  // Figures stay as they are while one looks at them: time goes on with the next question.
  const [askedMs, setAskedMs] = useState(() => Math.floor(now()));
  const [params, setAddress] = useAddress();
  const { data: printers = [] } = usePrinters();
  const { data: stocks = [] } = useStocks();
  const { data: queues = [] } = useQueues();
  const set = (change: Readonly<Record<string, string>>): void => {
    setAskedMs(Math.floor(now()));
    setAddress(change);
  };
  const looked = LOOKED_AT.find((each) => each === params.get('of')) ?? '30 days';
  const { data: rules } = useRules();
  const change = changeIn(params, rules);
  const [printerId, stockId, queueId] = [
    params.get('printer') ?? '',
    params.get('stock') ?? '',
    params.get('queue') ?? '',
  ];
  const runId = params.get('run') ?? '';
  const { data: run } = useRun(runId === '' ? null : runId);
  const ask: WhatIfAsk | undefined = change && {
    ...daysLookedAt(looked, askedMs),
    ...(printerId === '' ? {} : { printerIds: [printerId] }),
    ...(stockId === '' ? {} : { stockIds: [stockId] }),
    ...(queueId === '' ? {} : { queueId }),
    ...(runId === '' ? {} : { runIds: [runId] }),
    change,
  };
  const { data, error, isLoading } = useSWR<WhatIfView, Error>(
    ask ? ['what if', JSON.stringify(ask)] : null,
    () => sendJson<WhatIfView>('POST', '/api/pace/what-if', ask),
    { revalidateOnFocus: false, shouldRetryOnError: false },
  );
  const all = (text: string) => ({ value: '', text });
  const named = (rows: readonly { readonly id: string; readonly name: string }[]) =>
    rows.map(({ id, name }) => ({ value: id, text: name }));
  return (
    <div className="flex h-full min-h-0 max-phone:block max-phone:overflow-y-auto">
      <section className="w-72 shrink-0 overflow-y-auto border-r border-rule px-5 py-3 max-phone:w-auto max-phone:border-0">
        <Link to="/pace" className="mb-2 inline-flex items-center gap-1 text-tide underline">
          <ArrowLeft size={16} aria-hidden="true" /> Pace
        </Link>
        <h1 className="mb-2 text-lg font-semibold">What if</h1>
        {runId !== '' && (
          <p className="mb-2 flex items-center justify-between gap-2">
            Only {run?.name ?? 'one run'}
            <Button
              kind="quiet"
              onClick={() => {
                set({ run: '' });
              }}
            >
              All runs
            </Button>
          </p>
        )}
        <div className="mb-4 grid gap-1.5">
          <Select
            label="Printer"
            value={printerId}
            choices={[all('all printers'), ...named(printers)]}
            className="w-full"
            onChange={(value) => {
              set({ printer: value });
            }}
          />
          <Select
            label="Stock"
            value={stockId}
            choices={[all('all stocks'), ...named(stocks)]}
            className="w-full"
            onChange={(value) => {
              set({ stock: value });
            }}
          />
          <Select
            label="Queue"
            value={queueId}
            choices={[all('all queues'), ...named(queues)]}
            className="w-full"
            onChange={(value) => {
              set({ queue: value });
            }}
          />
        </div>
        <ChangeFields params={params} printers={printers} onChange={set} />
      </section>
      <section className="min-w-0 flex-1 overflow-y-auto px-5 py-3" aria-live="polite" aria-busy={isLoading}>
        <div className="mb-3 flex flex-wrap items-center gap-x-3 gap-y-2">
          <ChoiceBar
            label="What is looked at"
            choices={LOOKED_AT}
            chosen={looked}
            onChoose={(next) => {
              set({ of: next === '30 days' ? '' : next });
            }}
          />
        </div>
        {!ask && (
          <p className="mb-4 text-soft">
            Choose what would be otherwise: what was printed is worked out anew with it, run by run, by the model that
            estimates and plans go by. Nothing is changed by asking.
          </p>
        )}
        {ask && isLoading && <p className="mb-4 text-soft">Working it out …</p>}
        {ask && error && <p className="mb-4 text-stop">{errorText(error)}</p>}
        {ask && data && !error && (
          <>
            {data.care ? (
              <PurgeFigures care={data.care} currency={data.currency} looked={looked} />
            ) : (
              <WhatIfFigures answer={data} looked={looked}>
                <ApplyChange key={JSON.stringify(ask)} ask={ask} groups={data.groups} />
              </WhatIfFigures>
            )}
            <div className="h-5" />
          </>
        )}
        <BestChanges nowMs={askedMs} />
      </section>
    </div>
  );
}
