import { useMemo, useState } from 'react';
import {
  type SegmentPlan,
  type SegmentRefusal,
  groupsBySize,
  planSegment,
} from '../../../../core/layout/arrange/segments.ts';
import { layoutSpace } from '../../../../core/layout/marks/markSettings.ts';
import { segmentRoom } from '../../../../core/layout/arrange/segmentRoom.ts';
import { neededExtentMm, runsForOrder } from '../../../../core/layout/arrange/stepAndRepeat.ts';
import type { Turning } from '../../../../core/layout/orientations.ts';
import type { Result } from '../../../../core/result.ts';
import { sendJson } from '../../../api/client.ts';
import { type Printer, type RunDetail } from '../../../api/data.ts';
import { useNotice } from '../../../app/notice.tsx';
import { Button } from '../../../ui/Button.tsx';
import { number, sizeText } from '../../../ui/Figure.tsx';
import { Row, Section } from '../../../ui/Sheet.tsx';
import { SegmentDrawing } from '../media/SegmentDrawing.tsx';
import type { Bench } from '../state/useBench.ts';
import { LengthRow } from '../../../ui/fields/LengthRow.tsx';

interface SegmentsPanelProps {
  readonly run: RunDetail;
  readonly bench: Bench;
  readonly printer: Printer;
  readonly onLeft: () => void;
}

interface SizePlan extends Turning {
  readonly count: number;
  readonly plan: Result<SegmentPlan, SegmentRefusal>;
}

/** A long order in runs that never hang to the floor; the segments of one order are queued or put together in one go. */
export function SegmentsPanel({ run, bench, printer, onLeft }: SegmentsPanelProps) {
  const { tell } = useNotice();
  const [busy, setBusy] = useState(false);
  const act = (path: string, body?: unknown): void => {
    setBusy(true);
    bench
      .save()
      .then(() => sendJson('POST', path, body))
      .then(onLeft)
      .catch(tell)
      .finally(() => {
        setBusy(false);
      });
  };
  if (run.series) {
    const { id, no, of } = run.series;
    return (
      <Section title="Segments">
        <p className="mb-2">
          Segment {no} of {of}. They follow each other without a person.
        </p>
        <div className="flex gap-2">
          <Button
            className="flex-1"
            disabled={busy}
            onClick={() => {
              act(`/api/series/${id}/queue`);
            }}
          >
            Queue all
          </Button>
          <Button
            className="flex-1"
            disabled={busy}
            onClick={() => {
              act(`/api/series/${id}/join`);
            }}
          >
            Put together
          </Button>
        </div>
      </Section>
    );
  }
  return <CutPanel run={run} bench={bench} printer={printer} busy={busy} onCut={act} />;
}

interface CutPanelProps extends Omit<SegmentsPanelProps, 'onLeft'> {
  readonly busy: boolean;
  readonly onCut: (path: string, body: unknown) => void;
}

/** How the run would be cut at the length that is set, drawn before it is done. */
function CutPanel({ run, bench, printer, busy, onCut }: CutPanelProps) {
  const { freeHangMm, machine } = printer.config;
  const [own, setOwn] = useState<number>();
  const mostMm = own ?? freeHangMm ?? undefined;
  const { settings } = bench.layout;
  const groups = useMemo(() => {
    if (mostMm === undefined) return [];
    const room = segmentRoom(bench.usable.widthMm, mostMm, layoutSpace(settings), machine.trailerMm);
    return groupsBySize(run.pieces, settings.quarterTurns).map(({ pieces, ...size }) => ({
      ...size,
      count: pieces.length,
      plan: planSegment(size, room),
    }));
  }, [run, settings, mostMm, machine.trailerMm, bench.usable.widthMm]);
  if (mostMm === undefined)
    return (
      <Section title="Segments">
        <button
          type="button"
          className="text-tide hover:underline"
          onClick={() => {
            setOwn(1000);
          }}
        >
          Cut into shorter runs
        </button>
      </Section>
    );
  const total = groups.reduce(
    (sum, { plan, count }) => sum + (plan.ok ? runsForOrder(count, plan.value.perRun).runs : 0),
    0,
  );
  const possible = groups.length > 0 && groups.every(({ plan }) => plan.ok) && total > 1;
  const cut = (queue: boolean): void => {
    onCut(`/api/runs/${run.id}/segments`, { mostMm, queue });
  };
  return (
    <Section title="Segments">
      <LengthRow label="No longer than" valueMm={mostMm} leastMm={10} mostMm={1e6} onChange={setOwn} />
      <Row label="Of that for pieces">
        {number(Math.max(0, segmentRoom(0, mostMm, layoutSpace(settings), machine.trailerMm).lengthMm), 1)}{' '}
        <span className="text-soft">mm</span>
      </Row>
      {groups.map((group) => (
        <GroupPlan
          key={`${String(group.widthMm)}×${String(group.heightMm)} ${String(group.quarterTurn)} ${group.grain ?? ''}`}
          group={group}
          bench={bench}
          run={run}
        />
      ))}
      {possible && (
        <div className="mt-2 flex gap-2">
          <Button
            className="flex-1"
            disabled={busy}
            onClick={() => {
              cut(false);
            }}
          >
            Cut into {total}
          </Button>
          <Button
            className="flex-1"
            disabled={busy}
            onClick={() => {
              cut(true);
            }}
          >
            Cut and queue {total}
          </Button>
        </div>
      )}
      {total === 1 && <p className="text-soft">It fits in one run.</p>}
    </Section>
  );
}

function GroupPlan({
  group,
  bench,
  run,
}: {
  readonly group: SizePlan;
  readonly bench: Bench;
  readonly run: RunDetail;
}) {
  const { plan, count, widthMm, heightMm } = group;
  const name = `${number(count)} of ${sizeText(widthMm, heightMm)}`;
  if (!plan.ok) {
    const { code, leastMm, roomMm } = plan.reason;
    return (
      <p className="mt-1 text-stop">
        {name}: {code === 'too-wide' ? 'wider than the usable width' : 'longer than a segment may be'},{' '}
        {number(leastMm, 1)} mm of {number(roomMm, 1)} mm.
      </p>
    );
  }
  const { columns, rows, turned, perRun } = plan.value;
  const { runs, last } = runsForOrder(count, perRun);
  const { leadMm, trailMm, leftMm, gapXMm, gapYMm } = layoutSpace(bench.layout.settings);
  const rowsUsed = Math.min(rows, Math.ceil(count / columns));
  const lengthMm = neededExtentMm(rowsUsed, turned ? widthMm : heightMm, gapYMm, leadMm, trailMm);
  return (
    <div className="mt-2">
      <p>
        {name} mm → {number(runs)} {runs === 1 ? 'run' : 'runs'} of up to {number(perRun)}
        {runs > 1 && last < perRun ? `; the last one of ${number(last)}` : ''}
      </p>
      <p className="text-soft">
        {columns} across × {rows} along{turned ? ', turned' : ''}; {number(lengthMm, 1)} mm
      </p>
      <SegmentDrawing
        mediaWidthMm={run.mediaWidthMm}
        fromMm={bench.usable.fromMm + leftMm}
        lengthMm={lengthMm}
        leadMm={leadMm}
        gapXMm={gapXMm}
        gapYMm={gapYMm}
        piece={turned ? { widthMm: heightMm, heightMm: widthMm } : { widthMm, heightMm }}
        columns={columns}
        count={Math.min(count, perRun)}
      />
    </div>
  );
}
