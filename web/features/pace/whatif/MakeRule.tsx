import type { WhatIfAsk } from '../../../../contract/api/pace/whatIf.ts';
import type { RuleList } from '../../../../contract/api/shop.ts';
import type { RuleCondition } from '../../../../core/routing/rules.ts';
import { sendJson } from '../../../api/client.ts';
import { usePrinters, useQueues, useRules, useStocks } from '../../../api/data.ts';
import { useNotice } from '../../../app/notice.tsx';
import { May } from '../../../people/May.tsx';
import { Button } from '../../../ui/Button.tsx';

/** Makes a routing rule of what was tried: jobs of a stock or a queue go to one printer. */
export function MakeRule({ ask, printerId }: { readonly ask: WhatIfAsk; readonly printerId: string }) {
  const { data: rules } = useRules();
  const { data: printers = [] } = usePrinters();
  const { data: stocks = [] } = useStocks();
  const { data: queues = [] } = useQueues();
  const { tell, say } = useNotice();
  const printer = printers.find(({ id }) => id === printerId)?.name ?? '';
  const stock = stocks.find(({ id }) => id === ask.stockIds?.[0])?.name;
  const queue = queues.find(({ id }) => id === ask.queueId)?.name;
  const when: RuleCondition[] = [
    ...(stock === undefined ? [] : [{ about: 'stock' as const, is: 'is' as const, text: stock }]),
    ...(queue === undefined ? [] : [{ about: 'queue' as const, is: 'is' as const, text: queue }]),
  ];
  const { printerIds } = ask;
  if (when.length === 0 || printerIds !== undefined || !rules) {
    return (
      <p className="text-soft">Choose a stock or a queue, and no printer, and a routing rule can be made of it.</p>
    );
  }
  const name = `${[stock, queue].filter((each) => each !== undefined).join(', ')} to ${printer}`.slice(0, 80);
  const make = (): void => {
    const id = `rule-${printerId}-${String(Math.round(performance.now()))}`;
    const list: RuleList = [{ id, name, when, printerIds: [printerId], on: true }, ...rules];
    sendJson('PUT', '/api/rules', list)
      .then(() => {
        say(`${name}: the first of the rules from now on`);
      })
      .catch(tell);
  };
  return (
    <May right="set up">
      <Button onClick={make}>Make it a routing rule</Button>
      <p className="mt-1 text-soft">
        {name}: it goes before the others, and counts for queues that route by the rules, when a job arrives.
      </p>
    </May>
  );
}
