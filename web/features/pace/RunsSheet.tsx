import { Link } from 'react-router';
import { durationText } from '../../../core/units/durationText.ts';
import { errorText } from '../../api/client.ts';
import { clockText, useShopNow, useZone } from '../../app/shopTime.ts';
import { moneyText } from '../../draw/money.ts';
import { Button } from '../../ui/Button.tsx';
import { Sheet } from '../../ui/Sheet.tsx';
import { number } from '../../ui/text/number.ts';
import type { Period } from './periods.ts';
import { type PaceFilter, usePaceRuns } from './usePace.ts';

/** The runs that a figure is made of, the latest first. */
export function RunsSheet({
  title,
  period,
  filter,
  onClose,
}: {
  readonly title: string;
  readonly period: Period;
  readonly filter: PaceFilter;
  readonly onClose: () => void;
}) {
  const { data: pages = [], error, isLoading, isValidating, setSize } = usePaceRuns(period, filter);
  const runs = pages.flatMap((page) => page.runs);
  const currency = pages[0]?.currency ?? '';
  const now = useShopNow(60_000) ?? 0;
  const zone = useZone();
  return (
    <Sheet
      title={title}
      under={<p className="text-soft">Runs that ended in this time, the latest first</p>}
      onClose={onClose}
      wide
    >
      {error && <p className="text-stop">{errorText(error)}</p>}
      {isLoading && <p className="text-soft">Reading …</p>}
      {!isLoading && !error && runs.length === 0 && <p className="text-soft">No run ended in this time.</p>}
      <ul aria-label="Runs behind it">
        {runs.map((run) => (
          <li key={`${run.runId} ${String(run.endedMs)}`} className="border-b border-rule py-1.5">
            <span className="flex items-baseline justify-between gap-2">
              <Link to={`/story/run/${run.runId}`} className="font-medium hover:underline">
                {run.name}
              </Link>
              <span className={run.outcome === 'printed' ? 'text-soft' : 'text-stop'}>{run.outcome}</span>
            </span>
            <span className="dense block text-soft">
              {clockText(run.endedMs, now, zone)}, {run.printerName}, {run.stockName}
            </span>
            <span className="dense flex flex-wrap gap-x-3">
              <span>
                {durationText(run.runMs)}
                {run.estimateMs > 0 && <span className="text-soft"> of {durationText(run.estimateMs)} estimated</span>}
              </span>
              <span>
                {number(run.goodM2, 2)} <span className="text-soft">of {number(run.fedM2, 2)} m² good</span>
              </span>
              <span>{number(run.inkMl, 1)} ml</span>
              <span>{moneyText(run.costMinor, currency)}</span>
            </span>
          </li>
        ))}
      </ul>
      {pages.at(-1)?.before != null && (
        <Button className="mt-2 w-full" disabled={isValidating} onClick={() => void setSize((size) => size + 1)}>
          Older ones
        </Button>
      )}
    </Sheet>
  );
}
