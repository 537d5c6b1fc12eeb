import type { FinishRange } from '../../../../core/schedule/finishRanges.ts';
import { clockText, useZone } from '../../../app/shopTime.ts';
import { FromWhat } from '../../../ui/FromWhat.tsx';

/**
 * When a run will likely be finished: from when to when. Ranges come later than the rest of a sheet: a dash keeps their place, so that
 * nothing below moves away under a pointer.
 */
export function FinishText({
  finish,
  nowMs,
}: {
  /** Undefined: not drawn yet, or nobody can tell. */
  readonly finish: FinishRange | undefined;
  readonly nowMs: number | undefined;
}) {
  const zone = useZone();
  if (!finish || nowMs === undefined) return <>–</>;
  const [low, high] = [clockText(finish.lowMs, nowMs, zone), clockText(finish.highMs, nowMs, zone)];
  return (
    <FromWhat text="Eight of ten finishes lie in this range, as this shop’s runs went against their estimates. Faults are not counted: they are in the odds of the away plan.">
      {low === high ? low : `${low} to ${high}`}
    </FromWhat>
  );
}
