import { useState } from 'react';
import type { WhatIfAsk, WhatIfChangeView, WhatIfView } from '../../../../contract/api/pace/whatIf.ts';
import type { StockSettingsChanges } from '../../../../contract/api/setup.ts';
import { sendJson } from '../../../api/client.ts';
import { useNotice } from '../../../app/notice.tsx';
import { May } from '../../../people/May.tsx';
import { Button } from '../../../ui/Button.tsx';
import { counted } from '../../../ui/text/counted.ts';
import { stockPart } from '../../../pace/whatIfAsk.ts';
import { MakeRule } from './MakeRule.tsx';

/** Takes a change into the settings of the stocks that it was tried on: shown first, then in one step that can be undone. */
export function ApplyChange({ ask, groups }: { readonly ask: WhatIfAsk; readonly groups: WhatIfView['groups'] }) {
  const { tell, say } = useNotice();
  const [preview, setPreview] = useState<StockSettingsChanges['changes']>();
  const { change } = ask;
  const set = stockPart(change);
  if (change.toPrinterId !== undefined) return <MakeRule ask={ask} printerId={change.toPrinterId} />;
  if (!set) return <p className="text-soft">{elsewhereText(change)}</p>;
  const send = (isPreview: boolean): void => {
    sendJson<StockSettingsChanges>('POST', '/api/stocks/settings', {
      stockIds: [...new Set(groups.map(({ stockId }) => stockId))],
      printerIds: [...new Set(groups.map(({ printerId }) => printerId))],
      // What was tried on: not each of these stocks is printed on each of these printers.
      pairs: groups.map(({ stockId, printerId }) => ({ stockId, printerId })),
      ...{ set, clear: [], preview: isPreview },
    })
      .then(({ changes }) => {
        setPreview(isPreview ? changes : undefined);
        if (!isPreview) say(`${counted(changes.length, 'setting')} of stocks changed`);
      })
      .catch(tell);
  };
  return (
    <May right="set up">
      {preview === undefined ? (
        <Button
          disabled={groups.length === 0}
          onClick={() => {
            send(true);
          }}
        >
          Apply to these stocks …
        </Button>
      ) : preview.length === 0 ? (
        <p className="text-soft">All of these stocks have these settings already.</p>
      ) : (
        <div>
          <p className="mb-1">
            {counted(preview.length, 'setting')} would change, for all jobs that come from then on:
          </p>
          <ul className="dense mb-2 max-h-40 overflow-y-auto text-soft">
            {preview.map(({ stockId, stockName, printerId, printerName, key, before, after }) => (
              <li key={`${stockId} ${printerId} ${key}`}>
                {stockName} on {printerName}: {wordOf(before)} → <span className="text-ink">{wordOf(after)}</span>
              </li>
            ))}
          </ul>
          <div className="flex gap-1.5">
            <Button
              kind="main"
              onClick={() => {
                send(false);
              }}
            >
              Change {counted(preview.length, 'setting')}
            </Button>
            <Button
              onClick={() => {
                setPreview(undefined);
              }}
            >
              Leave them
            </Button>
          </div>
        </div>
      )}
    </May>
  );
}

/** Where people would change it, if they want to. */
function elsewhereText(change: WhatIfChangeView): string {
  const { collectH, rules, withoutPrinterId, likePrinterId } = change;
  if (collectH !== undefined) return 'How long a queue waits for like jobs is set under Setup, Queues.';
  if (rules) return 'Rules count for queues that route by them: Setup, Queues.';
  if (withoutPrinterId !== undefined || likePrinterId !== undefined)
    return 'Nothing is set by this: it says what a printer is worth to the shop.';
  return 'Passes and direction belong to print modes, gap and nesting to each run: they are not settings of stocks.';
}

function wordOf(value: unknown): string {
  if (value === null || value === undefined) return 'left open';
  if (typeof value === 'boolean') return value ? 'on' : 'off';
  return typeof value === 'number' ? String(value) : typeof value === 'string' ? value : 'set';
}
