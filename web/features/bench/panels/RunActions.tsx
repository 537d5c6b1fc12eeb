import { alongText } from '../../../ui/text/lengths.ts';
import { useState } from 'react';
import { sendJson } from '../../../api/client.ts';
import type { RunDetail } from '../../../api/data.ts';
import { useNotice } from '../../../app/notice.tsx';
import { Button } from '../../../ui/Button.tsx';
import { TakeAs } from './TakeAs.tsx';
import type { Bench } from '../state/useBench.ts';
import { useMay } from '../../../people/May.tsx';

/** Queue, and what else leaves the Bench. Queue waits until the layout that is seen is on the server. */
export function RunActions({
  run,
  bench,
  printerName,
  onLeft,
}: {
  readonly run: RunDetail;
  readonly bench: Bench;
  readonly printerName: string;
  readonly onLeft: () => void;
}) {
  const { tell } = useNotice();
  const may = useMay('coordinate');
  const [busy, setBusy] = useState(false);
  const act = (step: string) => (): void => {
    setBusy(true);
    bench
      .save()
      .then(() => sendJson('POST', `/api/runs/${run.id}/${step}`))
      .then(onLeft)
      .catch(tell)
      .finally(() => {
        setBusy(false);
      });
  };
  const clashes = bench.figures?.clashes.length ?? 0;
  return (
    <div className="flex flex-col gap-2 border-t border-rule px-4 py-3">
      {may && run.state === 'draft' && (
        <Button
          kind="main"
          className="h-10"
          disabled={busy || bench.nest.running || clashes > 0 || bench.marks.onArt > 0 || bench.figures === undefined}
          onClick={act('queue')}
        >
          Queue {run.pair ? 'both sides, ' : ''}
          {alongText(bench.figures?.lengthMm ?? 0)} on {printerName}
        </Button>
      )}
      <div className="flex gap-2">
        <TakeAs run={run} save={bench.save} />
        {may && run.state === 'draft' && (
          <Button className="flex-1" disabled={busy} onClick={act('dissolve')}>
            Dissolve run
          </Button>
        )}
        {may && run.state === 'queued' && (
          <Button className="flex-1" disabled={busy} onClick={act('take-back')}>
            Remove from line
          </Button>
        )}
      </div>
    </div>
  );
}
