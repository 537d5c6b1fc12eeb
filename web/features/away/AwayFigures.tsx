import type { AwaySimulation } from '../../../contract/api/away.ts';
import { moneyText } from '../../draw/money.ts';
import { alongFigure } from '../../ui/text/lengths.ts';
import { counted } from '../../ui/text/counted.ts';
import { number } from '../../ui/text/number.ts';
import { BigFigure } from './BigFigure.tsx';

/** What a time away brings, in the figures that matter, and how sure it is. */
export function AwayFigures({
  simulation: { figures, odds, events, currency },
  onOpen,
}: {
  readonly simulation: AwaySimulation;
  readonly onOpen: () => void;
}) {
  const metres = alongFigure(figures.metres * 1000, 1);
  const runs = events.filter(({ kind }) => kind === 'run').length;
  const care = figures.careDone + figures.careLost;
  return (
    <dl className="flex flex-wrap gap-x-8 gap-y-3 px-5 pb-4 max-phone:gap-x-5 max-phone:px-3">
      <BigFigure
        label="chance that all of it is printed"
        under={odds.all ? `± ${number(odds.all.error * 200, 1)} in ${number(odds.nights)} nights` : ''}
      >
        {odds.all ? (
          <button
            type="button"
            onClick={onOpen}
            title="From what this is reckoned"
            className="underline decoration-soft decoration-dotted underline-offset-4"
          >
            {number(odds.all.chance * 100)}
            <span className="text-soft"> %</span>
          </button>
        ) : (
          <span className="text-soft">–</span>
        )}
      </BigFigure>
      <BigFigure
        label="runs by themselves"
        under={figures.lateRuns > 0 ? `${counted(figures.lateRuns, 'run')} late` : ''}
        stop
      >
        {figures.runs}
        <span className="text-soft"> of {runs}</span>
      </BigFigure>
      <BigFigure label="pieces">{number(figures.pieces)}</BigFigure>
      <BigFigure label="printed">
        {metres.value}
        <span className="text-soft"> {metres.unit}</span>
      </BigFigure>
      <BigFigure
        label="worth"
        under={
          odds.worth && figures.runs > 0
            ? `${moneyText(odds.worth.lowMinor, currency)} to ${moneyText(odds.worth.highMinor, currency)}, nine nights of ten`
            : ''
        }
      >
        {moneyText(figures.worthMinor, currency)}
      </BigFigure>
      {care > 0 && (
        <BigFigure
          label="care of heads"
          under={figures.careLost > 0 ? `${String(figures.careLost)} can’t be done` : ''}
          stop
        >
          {figures.careDone}
          <span className="text-soft"> of {care}</span>
        </BigFigure>
      )}
    </dl>
  );
}
