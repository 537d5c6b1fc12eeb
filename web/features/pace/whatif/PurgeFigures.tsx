import { Link } from 'react-router';
import type { WhatIfView } from '../../../../contract/api/pace/whatIf.ts';
import { durationText } from '../../../../core/units/durationText.ts';
import { moneyText } from '../../../draw/money.ts';
import { counted } from '../../../ui/text/counted.ts';
import { number } from '../../../ui/text/number.ts';
import { type LookedAt, perMonth } from '../../../pace/whatIfAsk.ts';
import { FigureLine, FigureTable, signed } from './FigureTable.tsx';

const ml = (value: number): string => `${number(value, 1)} ml`;
const m2 = (value: number): string => `${number(value, 2)} m²`;

const nozzles = (value: number): string => number(value, value < 100 ? 1 : 0);

/** Purges by another rhythm, beside those that were printed, and what each lets clog. */
export function PurgeFigures({
  care: { timers, was, would },
  currency,
  looked,
}: {
  readonly care: NonNullable<WhatIfView['care']>;
  readonly currency: string;
  readonly looked: LookedAt;
}) {
  if (timers === 0) {
    return (
      <p className="text-soft">
        No timer of a purge is set for what was chosen.{' '}
        <Link to="/rota" className="text-tide underline">
          Set one on the Rota
        </Link>
      </p>
    );
  }
  // A printer that was looked after in another way is no printer that was left alone.
  const isKnown = was.purges > 0;
  const money = (minor: number): string => moneyText(minor, currency);
  const saved = was.costMinor - would.costMinor;
  const month = perMonth(looked, saved);
  return (
    <>
      <p className="mb-3 text-soft">
        Purges of {counted(timers, 'timer')}, each skipped where work exercised its channels. The rest of the figures
        does not change with them.
      </p>
      {!isKnown && (
        <p className="mb-3 text-wait">
          None of them was printed in this time: what nozzles clogged without them, nobody knows.
        </p>
      )}
      <div className="mb-4 flex flex-wrap items-start gap-x-8 gap-y-3">
        <FigureTable label="Purges, beside what was" was="as it was">
          <FigureLine name="Purges printed" was={number(was.purges)} would={number(would.purges, 0, 1)}>
            {signed(was.purges - would.purges, (value) => number(value, 0, 1), 0.05)}
          </FigureLine>
          <FigureLine name="Printers’ time" was={durationText(was.careMs)} would={durationText(would.careMs)}>
            {signed(was.careMs - would.careMs, durationText, 500)}
          </FigureLine>
          <FigureLine name="Media" was={m2(was.fedM2)} would={m2(would.fedM2)}>
            {signed(was.fedM2 - would.fedM2, m2, 0.005)}
          </FigureLine>
          <FigureLine name="Ink" was={ml(was.inkMl)} would={ml(would.inkMl)}>
            {signed(was.inkMl - would.inkMl, ml, 0.05)}
          </FigureLine>
          <FigureLine name="Money" was={money(was.costMinor)} would={money(would.costMinor)}>
            {signed(saved, money, 0.5)}
            {month !== undefined && saved !== 0 && (
              <span className="dense block text-soft">{signed(month, money, 0.5)} in thirty days</span>
            )}
          </FigureLine>
          <FigureLine name="Nozzles that clog" was={isKnown ? nozzles(was.clogs) : '–'} would={nozzles(would.clogs)}>
            {isKnown && (
              <span className={was.clogs - would.clogs < -0.05 ? 'font-medium text-stop' : ''}>
                {signed(was.clogs - would.clogs, nozzles, 0.05)}
              </span>
            )}
          </FigureLine>
        </FigureTable>
        <p className="max-w-xs flex-1 text-soft">
          Nozzles are those to be expected to clog in the idle spells that work and purges left, as the checks of each
          channel have told so far. The rhythm of a timer is changed on the{' '}
          <Link to="/rota" className="text-tide underline">
            Rota
          </Link>
          .
        </p>
      </div>
    </>
  );
}
