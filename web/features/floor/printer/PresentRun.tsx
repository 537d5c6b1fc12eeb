import { Figure } from '../../../ui/Figure.tsx';
import { acrossFigure, acrossText } from '../../../ui/text/lengths.ts';
import { Link } from 'react-router';
import { sendJson } from '../../../api/client.ts';
import type { RunItem } from '../../../api/data.ts';
import { useNotice } from '../../../app/notice.tsx';
import { durationText } from '../../../../core/units/durationText.ts';
import { clockText, useShopNow, useZone } from '../../../app/shopTime.ts';
import { StateWord } from '../../../draw/StateShape.tsx';
import { Button } from '../../../ui/Button.tsx';
import { HoldButton } from '../../../ui/HoldButton.tsx';
import { Row } from '../../../ui/Sheet.tsx';
import type { FinishRange } from '../../../../core/schedule/finishRanges.ts';
import { FinishText } from './FinishText.tsx';
import { May } from '../../../people/May.tsx';

/** The run on the printer, and a person's words to it. */
export function PresentRun({ run, finish }: { readonly run: RunItem; readonly finish: FinishRange | undefined }) {
  const { tell } = useNotice();
  const now = useShopNow(500);
  const zone = useZone();
  const act = (step: string) => () => {
    sendJson('POST', `/api/runs/${run.id}/${step}`).catch(tell);
  };
  const progress = run.progress;
  const left = progress
    ? Math.max(0, progress.msLeft - (run.state === 'printing' && now !== undefined ? now - progress.atMs : 0))
    : run.estimateMs;
  const atStop = progress?.phase === 'stop';
  return (
    <>
      <Link to={`/bench/${run.id}`} className="font-medium hover:underline">
        {run.name}
      </Link>
      <Row label="State">
        <StateWord state={run.state}>
          {run.state}
          {run.reason === null ? '' : `: ${run.reason}`}
        </StateWord>
      </Row>
      <Row label="Printed">
        <Figure value={acrossFigure(run.reachedMm ?? 0).value} unit={`of ${acrossText(run.lengthMm)}`} />
      </Row>
      <Row label="Time left">
        {durationText(left)}
        {now === undefined || run.state !== 'printing' ? '' : `, until ${clockText(now + left, now, zone)}`}
      </Row>
      <Row label="Likely done">
        <FinishText finish={finish} nowMs={now} />
      </Row>
      <Row label="Pieces">
        {run.pieceCount} of {run.jobCount} {run.jobCount === 1 ? 'job' : 'jobs'}
      </Row>
      <May right="operate">
        <div className="mt-2 flex gap-2">
          {run.state === 'paused' ? (
            <Button kind="main" onClick={act('resume')}>
              {atStop ? 'Next piece is loaded' : 'Go on'}
            </Button>
          ) : (
            <Button onClick={act('pause')}>Pause</Button>
          )}
          <HoldButton text="Cancel the run" onHeld={act('cancel')} />
        </div>
      </May>
    </>
  );
}
