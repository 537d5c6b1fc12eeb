import { Link } from 'react-router';
import useSWR from 'swr';
import type { BestChanges as Answer } from '../../../../contract/api/pace/whatIf.ts';
import { durationText } from '../../../../core/units/durationText.ts';
import { getJson } from '../../../api/client.ts';
import { moneyText } from '../../../draw/money.ts';
import { counted } from '../../../ui/text/counted.ts';
import { changeWords } from '../../../../core/pace/changeWords.ts';
import { daysLookedAt, whatIfPath } from '../../../pace/whatIfAsk.ts';

/** Asked anew once so much time has gone by (ms). */
const STEP_MS = 3_600_000;

/** The three changes that would have saved most in the last thirty days, each to be tried. */
export function BestChanges({ nowMs }: { readonly nowMs: number }) {
  const { fromMs, toMs } = daysLookedAt('30 days', Math.floor(nowMs / STEP_MS) * STEP_MS);
  const path = `/api/pace/best-changes?fromMs=${String(fromMs)}&toMs=${String(toMs)}`;
  const { data, error } = useSWR<Answer, Error>(path, () => getJson<Answer>(path), {
    revalidateOnFocus: false,
    keepPreviousData: true,
  });
  return (
    <section aria-label="What would save most">
      <h2 className="mb-1 font-semibold">What would save most</h2>
      {!data && <p className="text-soft">{error ? 'It can’t be worked out now.' : 'Working it out …'}</p>}
      {data?.changes.length === 0 && <p className="text-soft">No setting of a stock would save anything.</p>}
      <ul>
        {data?.changes.map(({ printerId, printerName, stockId, stockName, change, runs, ...saved }) => (
          <li key={JSON.stringify([printerId, stockId, change])} className="border-t border-rule py-1 first:border-0">
            <Link to={whatIfPath(change, { printerId, stockId })} className="text-tide underline">
              {stockName} on {printerName}
            </Link>
            : {changeWords(change)} would have saved{' '}
            <span className="font-medium">{moneyText(saved.savedMinor, data.currency)}</span> and{' '}
            {durationText(saved.savedMs)}{' '}
            <span className="text-soft">
              (8 of 10: {durationText(Math.max(0, saved.savedLowMs))} to {durationText(saved.savedHighMs)};{' '}
              {counted(runs, 'run')} of 30 days)
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
