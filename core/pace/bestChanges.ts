import type { CarriageConstants } from '../machine/constants.ts';
import { type WhatIfAnswer, type WhatIfChange, type WhatIfRun, whatIf } from './whatIf.ts';

/** A change on a printer and a stock, and what it would have saved. */
export interface BestChange {
  readonly printerId: string;
  readonly stockId: string;
  readonly change: WhatIfChange;
  readonly runs: number;
  readonly savedMs: number;
  readonly savedLowMs: number;
  readonly savedHighMs: number;
  readonly savedMinor: number;
}

/** What may be tried without asking whether a print would still be good in the ink that it gets: no dot is fired otherwise. */
const TRIED: readonly WhatIfChange[] = [{ span: 'artwork' }, { span: 'media' }, { dryOut: false }, { dryMin: 0 }];

/**
 * The changes of one setting on a printer and a stock that would have saved most money, the best first; of each printer, stock and
 * setting only the best value. What would save nothing is not among them.
 */
export function bestChanges(
  runs: readonly WhatIfRun[],
  machines: Readonly<Record<string, CarriageConstants>>,
  most: number,
): BestChange[] {
  const pairs = new Map<string, WhatIfRun[]>();
  for (const run of runs) {
    if (!run.timed) continue;
    const key = JSON.stringify([run.printerId, run.stockId]);
    const own = pairs.get(key);
    if (own) own.push(run);
    else pairs.set(key, [run]);
  }
  const found = [...pairs.values()].flatMap((own) => {
    const bySetting = new Map<string, BestChange>();
    for (const change of TRIED) {
      const tried = changeOf(own, change, whatIf(own, machines, change));
      const setting = Object.keys(change).join();
      const known = bySetting.get(setting);
      if (tried && tried.savedMinor > (known?.savedMinor ?? 0)) bySetting.set(setting, tried);
    }
    return [...bySetting.values()];
  });
  return found.sort((a, b) => b.savedMinor - a.savedMinor).slice(0, most);
}

function changeOf(own: readonly WhatIfRun[], change: WhatIfChange, answer: WhatIfAnswer): BestChange | undefined {
  const [first] = own;
  if (!first) return undefined;
  return {
    printerId: first.printerId,
    stockId: first.stockId,
    change,
    runs: answer.rows.filter(({ wasMs, wouldMs }) => wasMs !== wouldMs).length,
    savedMs: answer.was.runMs - answer.would.runMs,
    savedLowMs: answer.savedLowMs,
    savedHighMs: answer.savedHighMs,
    savedMinor: answer.was.costMinor - answer.would.costMinor,
  };
}
