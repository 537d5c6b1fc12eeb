import { acrossText, sizeText } from '../../../ui/text/lengths.ts';
import { number } from '../../../ui/text/number.ts';
import { useDeferredValue, useMemo, useState } from 'react';
import type { LayoutSettings } from '../../../../contract/api/run.ts';
import {
  type CutRefusal,
  type Segment,
  type SegmentPiece,
  type SegmentRows,
  type SegmentRule,
  SEGMENT_ROWS,
  cutSegments,
} from '../../../../core/layout/arrange/cutSegments.ts';
import { turnedSize } from '../../../../core/geometry/turn.ts';
import { layoutSpace } from '../../../../core/layout/marks/markSettings.ts';
import type { SegmentRoom } from '../../../../core/layout/arrange/segments.ts';
import type { Place } from '../state/layoutState.ts';
import { segmentRoom } from '../../../../core/layout/arrange/segmentRoom.ts';
import type { Result } from '../../../../core/result.ts';
import { sendJson } from '../../../api/client.ts';
import { type Printer, type RunDetail } from '../../../api/data.ts';
import { useNotice } from '../../../app/notice.tsx';
import { Button } from '../../../ui/Button.tsx';
import { Row, Section } from '../../../ui/Sheet.tsx';
import { SegmentDrawing } from '../media/SegmentDrawing.tsx';
import type { Bench } from '../state/useBench.ts';
import { NumberInput } from '../../../ui/fields/NumberInput.tsx';
import { Select } from '../../../ui/fields/Select.tsx';
import { FieldGroup, useFieldGroup } from '../../../ui/fields/FieldGroup.tsx';
import { LengthRow } from '../../../ui/fields/LengthRow.tsx';
import { May } from '../../../people/May.tsx';

interface SegmentsPanelProps {
  readonly run: RunDetail;
  readonly bench: Bench;
  readonly printer: Printer;
  readonly onLeft: () => void;
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
        <May right="coordinate">
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
        </May>
      </Section>
    );
  }
  return <CutPanel run={run} bench={bench} printer={printer} busy={busy} onCut={act} />;
}

interface CutPanelProps extends Omit<SegmentsPanelProps, 'onLeft'> {
  readonly busy: boolean;
  readonly onCut: (path: string, body: unknown) => void;
}

/** How the run would be cut, drawn before it is done: anew or along its rows, by length and by number of pieces. */
function CutPanel({ run, bench, printer, busy, onCut }: CutPanelProps) {
  const { freeHangMm, machine } = printer.config;
  const [own, setOwn] = useState<number>();
  const [mostPieces, setMostPieces] = useState<number | null>(null);
  const [chosen, setChosen] = useState<SegmentRows>();
  const fields = useFieldGroup();
  const mostMm = own ?? freeHangMm ?? undefined;
  const { settings, places } = bench.layout;
  const widthMm = bench.usable.widthMm;
  // A drag moves pieces many times a second; how they would be cut may come a little later.
  const laid = useDeferredValue(places);
  const room = useMemo(
    () => (mostMm === undefined ? undefined : segmentRoom(widthMm, mostMm, layoutSpace(settings), machine.trailerMm)),
    [widthMm, mostMm, settings, machine.trailerMm],
  );
  const anew = useMemo(
    () => room && cut(run.pieces, NO_PLACES, { rows: 'anew', mostPieces }, settings, room),
    [run.pieces, mostPieces, settings, room],
  );
  const asLaid = useMemo(
    () => room && cut(run.pieces, laid, { rows: 'as laid', mostPieces }, settings, room),
    [run.pieces, laid, mostPieces, settings, room],
  );
  if (mostMm === undefined || !room || !anew || !asLaid)
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
  // Rows that somebody laid stay, as long as that takes no more segments.
  const keeps = asLaid.ok && (!anew.ok || asLaid.value.length <= anew.value.length);
  const rows = chosen ?? (keeps ? 'as laid' : 'anew');
  const answer = rows === 'anew' ? anew : asLaid;
  const total = answer.ok ? answer.value.length : 0;
  const order = (queue: boolean): void => {
    onCut(`/api/runs/${run.id}/segments`, { mostMm, rows, ...(mostPieces === null ? {} : { mostPieces }), queue });
  };
  return (
    <Section title="Segments">
      <FieldGroup report={fields.report}>
        <LengthRow label="No longer than" valueMm={mostMm} leastMm={10} mostMm={1e6} onChange={setOwn} />
        <Row label="Of that for pieces">
          {number(Math.max(0, room.lengthMm), 1)} <span className="text-soft">mm</span>
        </Row>
        <Row label="Pieces in each">
          <NumberInput
            label="Pieces in each"
            value={mostPieces ?? undefined}
            placeholder="all that fit"
            whole
            most={50_000}
            className="w-24"
            onChange={(pieces) => {
              setMostPieces(pieces === 0 ? null : pieces);
            }}
          />
        </Row>
      </FieldGroup>
      <Row label="Rows">
        <Select label="Rows" value={rows} choices={SEGMENT_ROWS} onChange={setChosen} />
      </Row>
      {answer.ok ? (
        <CutPlan segments={answer.value} bench={bench} run={run} />
      ) : (
        <p className="mt-1 text-stop" role="status">
          {refusedText(answer.reason)}
        </p>
      )}
      {total > 1 && (
        <div className="mt-2 flex gap-2">
          <Button
            className="flex-1"
            disabled={busy || fields.anyWrong}
            onClick={() => {
              order(false);
            }}
          >
            Cut into {total}
          </Button>
          <Button
            className="flex-1"
            disabled={busy || fields.anyWrong}
            onClick={() => {
              order(true);
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

type CutPiece = RunDetail['pieces'][number] & SegmentPiece;
type CutAnswer = Result<Segment<CutPiece>[], CutRefusal<CutPiece>>;

const NO_PLACES: ReadonlyMap<string, Place> = new Map();

function cut(
  pieces: RunDetail['pieces'],
  places: ReadonlyMap<string, Place>,
  rule: SegmentRule,
  settings: LayoutSettings,
  room: SegmentRoom,
): CutAnswer {
  const laid = pieces.map((piece) => ({ ...piece, laid: places.get(piece.pieceId) ?? null }));
  return cutSegments(laid, rule, settings.quarterTurns, room, layoutSpace(settings));
}

function refusedText(reason: CutRefusal<CutPiece>): string {
  if (reason.code === 'not-laid') {
    return `${number(reason.count)} ${reason.count === 1 ? 'piece has' : 'pieces have'} no place yet. Nest the run, or lay the rows anew.`;
  }
  const { code, leastMm, roomMm, piece } = reason;
  const what = code === 'too-wide' ? 'is wider than the usable width' : 'or its row is longer than a segment may be';
  return `${piece.sourceName} ${what}: ${acrossText(leastMm, 1)} of ${acrossText(roomMm, 1)}.`;
}

/** What the segments would be, the first one of each kind drawn to scale. */
function CutPlan({
  segments,
  bench,
  run,
}: {
  readonly segments: readonly Segment<CutPiece>[];
  readonly bench: Bench;
  readonly run: RunDetail;
}) {
  const { leadMm, trailMm } = layoutSpace(bench.layout.settings);
  return (
    <>
      {kindsOf(segments).map(({ first, last, count }) => {
        const lengthMm = leadMm + first.extentMm + trailMm;
        const [piece] = first.pieces;
        const less = count > 1 && last.pieces.length < first.pieces.length;
        return (
          <div key={piece?.pieceId} className="mt-2">
            <p>
              {number(count)} {count === 1 ? 'run' : 'runs'} of up to {number(first.pieces.length)}
              {piece ? ` of ${sizeText(piece.widthMm, piece.heightMm)}` : ''}
              {less ? `; the last one of ${number(last.pieces.length)}` : ''}
            </p>
            <p className="text-soft">
              {rowsText(first)}; {acrossText(lengthMm, 1)} each
              {less ? `, the last one ${acrossText(leadMm + last.extentMm + trailMm, 1)}` : ''}
            </p>
            <SegmentDrawing
              mediaWidthMm={run.mediaWidthMm}
              fromMm={bench.usable.fromMm}
              lengthMm={lengthMm}
              rects={first.places.map((place, i) => {
                const { widthMm = 0, heightMm = 0 } = first.pieces[i] ?? {};
                return { ...place, ...turnedSize(widthMm, heightMm, place.angleDeg) };
              })}
            />
          </div>
        );
      })}
    </>
  );
}

function rowsText({ places }: Segment<CutPiece>): string {
  const rows = new Set(places.map(({ yMm }) => yMm.toFixed(3)));
  const [first] = rows;
  const across = places.filter(({ yMm }) => yMm.toFixed(3) === first).length;
  const turned = places.every(({ angleDeg }) => angleDeg % 180 !== 0);
  return `${number(across)} across × ${number(rows.size)} along${turned ? ', turned' : ''}`;
}

/** Segments that follow one another and begin with the same size, as one line of the plan. */
function kindsOf(segments: readonly Segment<CutPiece>[]): {
  readonly first: Segment<CutPiece>;
  readonly last: Segment<CutPiece>;
  readonly count: number;
}[] {
  const kinds: { first: Segment<CutPiece>; last: Segment<CutPiece>; count: number }[] = [];
  const sizeOf = ({ pieces: [piece] }: Segment<CutPiece>): string =>
    piece ? `${piece.widthMm.toFixed(3)}×${piece.heightMm.toFixed(3)}` : '';
  for (const segment of segments) {
    const kind = kinds.at(-1);
    if (kind && sizeOf(kind.first) === sizeOf(segment)) {
      kind.count += 1;
      kind.last = segment;
    } else kinds.push({ first: segment, last: segment, count: 1 });
  }
  return kinds;
}
