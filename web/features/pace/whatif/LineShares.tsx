import type { WhatIfView } from '../../../../contract/api/pace/whatIf.ts';
import { durationText } from '../../../../core/units/durationText.ts';
import { counted } from '../../../ui/text/counted.ts';

/** Which printer prints how much of it, as it was and otherwise, at one scale. */
export function LineShares({ lines, was }: { readonly lines: WhatIfView['lines']; readonly was: string }) {
  // Printers that print what they did anyway say nothing of the change.
  const shown = lines.filter(({ wasMs, wouldMs }) => Math.abs(wasMs - wouldMs) >= 1);
  const longest = Math.max(1, ...shown.flatMap(({ wasMs, wouldMs }) => [wasMs, wouldMs]));
  return (
    <section aria-label="Printer by printer" className="mb-4">
      <h2 className="mb-1 font-semibold">Printer by printer</h2>
      <ul className="grid gap-y-2">
        {shown.map(({ name, wasMs, wasRuns, wouldMs, wouldRuns }) => (
          <li key={name} className="grid grid-cols-[7rem_1fr] items-center gap-x-3">
            <span className="truncate">{name}</span>
            <span className="grid grid-cols-[1fr_11rem] items-center gap-x-3">
              {[
                { word: was, ms: wasMs, runs: wasRuns, fill: 'bg-soft/60' },
                { word: 'otherwise', ms: wouldMs, runs: wouldRuns, fill: 'bg-spool' },
              ].map(({ word, ms, runs, fill }) => (
                <span key={word} className="contents">
                  <span
                    className={`h-2.5 rounded-[2px] ${ms > 0 ? `border border-soft ${fill}` : ''}`}
                    style={{ width: `${String((100 * ms) / longest)}%` }}
                  />
                  <span className="dense text-right text-soft">
                    {durationText(ms)}, {counted(runs, 'run')} {word}
                  </span>
                </span>
              ))}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
