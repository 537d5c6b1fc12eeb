import { useState } from 'react';
import { layoutSpace } from '../../../core/layout/markSettings.ts';
import { stancesOf } from '../../../core/layout/stances.ts';
import { type Stagger, stepAndRepeat } from '../../../core/layout/stepAndRepeat.ts';
import type { RunDetail } from '../../api/data.ts';
import { ChoiceField, CountField } from '../../ticket/fields.tsx';
import { Button } from '../../ui/Button.tsx';
import { number, sizeText } from '../../ui/Figure.tsx';
import { LengthField } from '../../ui/LengthField.tsx';
import { Row, Section } from '../../ui/Sheet.tsx';
import { type Place, laidSize } from './layoutState.ts';
import type { Bench } from './useBench.ts';

interface StepPanelProps {
  readonly run: RunDetail;
  readonly bench: Bench;
  readonly selected: ReadonlySet<string>;
}

const STAGGERS: readonly { readonly value: Stagger; readonly text: string }[] = [
  { value: 'none', text: 'straight' },
  { value: 'rows', text: 'every second row shifted' },
  { value: 'columns', text: 'every second column shifted' },
];

/** Pieces of one size in rows and columns: the chosen ones, or all of the run. */
export function StepPanel({ run, bench, selected }: StepPanelProps) {
  const [open, setOpen] = useState(false);
  const pieces = run.pieces.filter((piece) => selected.size === 0 || selected.has(piece.pieceId));
  const [first] = pieces;
  if (!bench.editable || !first) return null;
  const equal = pieces.every(
    (piece) =>
      Math.abs(piece.widthMm - first.widthMm) < 1e-3 &&
      Math.abs(piece.heightMm - first.heightMm) < 1e-3 &&
      bench.layout.places.get(piece.pieceId)?.locked !== true,
  );
  const whose = selected.size === 0 ? 'all' : 'the chosen';
  return (
    <Section
      title="Step and repeat"
      aside={
        <button
          type="button"
          aria-expanded={open}
          className="text-tide hover:underline"
          onClick={() => {
            setOpen(!open);
          }}
        >
          {open ? 'Close' : 'Open'}
        </button>
      }
    >
      {!open ? (
        <p className="text-soft">Rows and columns instead of a nest.</p>
      ) : bench.layout.settings.sheetMm != null ? (
        <p className="text-soft">For a roll; on sheets the nest lays them.</p>
      ) : equal ? (
        <StepForm key={first.jobId} bench={bench} pieces={pieces} whose={whose} />
      ) : (
        <p className="text-soft">
          For pieces of one size that are not locked: choose those of one size, {whose} {number(pieces.length)} differ.
        </p>
      )}
    </Section>
  );
}

function StepForm({
  bench,
  pieces,
  whose,
}: {
  readonly bench: Bench;
  readonly pieces: RunDetail['pieces'];
  readonly whose: string;
}) {
  const { settings } = bench.layout;
  const space = layoutSpace(settings);
  const [turned, setTurned] = useState(false);
  const [columns, setColumns] = useState<number | null>(null);
  const [gapX, setGapX] = useState(space.gapMm);
  const [gapY, setGapY] = useState(space.gapMm);
  const [stagger, setStagger] = useState<Stagger>('none');
  const [shift, setShift] = useState<number | null>(null);
  const [first] = pieces;
  if (!first) return null;
  const [only, ...others] = stancesOf(first);
  const angleDeg = others.length > 0 ? (turned ? 90 : 0) : only.angleDeg;
  const piece = laidSize(first, angleDeg);
  const [gapXMm, gapYMm] = [Math.max(gapX, space.gapMm), Math.max(gapY, space.gapMm)];
  const roomMm = bench.usable.widthMm - space.leftMm - space.rightMm;
  const plan = { piece, count: pieces.length, columns, roomMm, gapXMm, gapYMm, stagger, shiftMm: shift };
  const stepped = stepAndRepeat(plan);
  const pitch = stagger === 'rows' ? piece.widthMm + gapXMm : piece.heightMm + gapYMm;
  return (
    <div className="flex flex-col gap-1">
      <p className="text-soft">
        {whose} {number(pieces.length)}, {sizeText(piece.widthMm, piece.heightMm)} mm as they lie
      </p>
      <Row label="Columns">
        <span className="inline-flex items-center gap-2">
          <label className="inline-flex items-center gap-1">
            <input
              type="checkbox"
              checked={columns === null}
              onChange={(event) => {
                setColumns(event.target.checked ? null : (stepped?.columns ?? 1));
              }}
              className="size-4 accent-[var(--tide)]"
            />
            fill the width
          </label>
          {columns !== null && <CountField label="Columns" value={columns} most={10_000} onChange={setColumns} />}
        </span>
      </Row>
      <LengthField label="Gap across" valueMm={gapXMm} leastMm={space.gapMm} mostMm={5000} onChange={setGapX} />
      <LengthField label="Gap along" valueMm={gapYMm} leastMm={space.gapMm} mostMm={5000} onChange={setGapY} />
      <Row label="Rows">
        <ChoiceField
          label="How rows lie"
          value={stagger}
          choices={STAGGERS}
          onChange={(value) => {
            setStagger(STAGGERS.find((each) => each.value === value)?.value ?? 'none');
            setShift(null);
          }}
        />
      </Row>
      {stagger !== 'none' && (
        <LengthField label="Shifted by" valueMm={shift ?? pitch / 2} mostMm={pitch} onChange={setShift} />
      )}
      {others.length > 0 && (
        <label className="flex items-center justify-between py-0.5">
          <span className="text-soft">A quarter turn</span>
          <input
            type="checkbox"
            checked={turned}
            onChange={(event) => {
              setTurned(event.target.checked);
            }}
            className="size-4 accent-[var(--tide)]"
          />
        </label>
      )}
      {stepped ? (
        <>
          <p>
            {number(stepped.columns)} across × {number(stepped.rows)} along
          </p>
          <details className="text-soft">
            <summary className="cursor-pointer">
              Needs <span className="text-ink">{number(space.leadMm + stepped.extentMm + space.trailMm, 1)} mm</span>
            </summary>
            {number(space.leadMm, 1)} + {number(stepped.rows)} × {number(piece.heightMm, 1)} +{' '}
            {number(stepped.rows - 1)} × {number(gapYMm, 1)}
            {stagger === 'columns' && stepped.columns > 1 ? ` + ${number(shift ?? pitch / 2, 1)}` : ''} +{' '}
            {number(space.trailMm, 1)} mm
          </details>
          <Button
            className="mt-1"
            onClick={() => {
              const places = new Map(bench.layout.places);
              pieces.forEach((each, i) => {
                const corner = stepped.corners[i];
                if (!corner) return;
                const place: Place = {
                  xMm: space.leftMm + corner.xMm,
                  yMm: space.leadMm + corner.yMm,
                  angleDeg,
                };
                places.set(each.pieceId, place);
              });
              bench.settle(bench.layout, places);
            }}
          >
            Lay in rows
          </Button>
        </>
      ) : (
        <p className="text-stop">
          Wider than the usable width: {number(piece.widthMm, 1)} mm of {number(roomMm, 1)} mm.
        </p>
      )}
    </div>
  );
}
