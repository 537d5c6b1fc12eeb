import { useState } from 'react';
import { turnedSize, wrapDeg } from '../../../../core/geometry/turn.ts';
import { layoutSpace } from '../../../../core/layout/marks/markSettings.ts';
import { orientationsOf } from '../../../../core/layout/orientations.ts';
import {
  type RowTurn,
  type Stagger,
  type StepPlan,
  type Stepped,
  stepAndRepeat,
} from '../../../../core/layout/arrange/stepAndRepeat.ts';
import { sendJson } from '../../../api/client.ts';
import type { RunDetail } from '../../../api/data.ts';
import { useNotice } from '../../../app/notice.tsx';
import { type Place, laidSize } from './layoutState.ts';
import type { Bench } from './useBench.ts';

/** What is chosen for rows and columns; null is filled in from what is there. */
export interface StepChoice {
  readonly turned: boolean;
  readonly columns: number | null;
  readonly gapXMm: number;
  readonly gapYMm: number;
  readonly stagger: Stagger;
  readonly shiftMm: number | null;
  readonly everySecond: RowTurn;
  /** From the first to the last edge; null: as long as what is here needs. */
  readonly lengthMm: number | null;
}

/** Step and repeat: what is chosen, and what would come of it. Panel and drawing read the same one. */
export interface Step {
  readonly open: boolean;
  readonly setOpen: (open: boolean) => void;
  /** The chosen pieces, or all. */
  readonly pieces: RunDetail['pieces'];
  readonly whose: 'all' | 'the chosen';
  /** Why these can't be laid in rows. */
  readonly trouble: string | undefined;
  readonly choice: StepChoice;
  readonly choose: (change: Partial<StepChoice>) => void;
  /** Both ways to lie are open. */
  readonly canTurn: boolean;
  /** As it lies in the first row. */
  readonly piece: { readonly widthMm: number; readonly heightMm: number };
  readonly space: ReturnType<typeof layoutSpace>;
  readonly roomMm: number;
  readonly stepped: Stepped | undefined;
  /** Copies may be added and given back: they are all of one job. */
  readonly canFill: boolean;
  readonly apply: () => void;
}

const FIRST: Omit<StepChoice, 'gapXMm' | 'gapYMm'> = {
  turned: false,
  columns: null,
  stagger: 'none',
  shiftMm: null,
  everySecond: 'none',
  lengthMm: null,
};

/** Step and repeat while it is being set up: shown on the media before it is laid. */
export function useStep(
  run: RunDetail,
  bench: Bench,
  selected: ReadonlySet<string>,
  onSaved: (run: RunDetail) => void,
): Step | undefined {
  const { tell } = useNotice();
  const [open, setOpen] = useState(false);
  const space = layoutSpace(bench.layout.settings);
  const [chosen, setChosen] = useState<StepChoice>({ ...FIRST, gapXMm: space.gapXMm, gapYMm: space.gapYMm });
  const pieces = run.pieces.filter((piece) => selected.size === 0 || selected.has(piece.pieceId));
  const [first] = pieces;
  if (!bench.editable || !first) return undefined;
  const whose = selected.size === 0 ? 'all' : 'the chosen';
  const trouble = troubleOf(bench, pieces, first, whose);
  const [only, ...others] = orientationsOf(first);
  const canTurn = others.length > 0;
  const angleDeg = canTurn ? (chosen.turned ? 90 : 0) : only.angleDeg;
  const piece = laidSize(first, angleDeg);
  const ofJob = run.pieces.filter(({ jobId }) => jobId === first.jobId);
  const canFill = pieces.length === ofJob.length && pieces.every(({ jobId }) => jobId === first.jobId);
  // Marks may need more than the gap that was set.
  const choice: StepChoice = {
    ...chosen,
    gapXMm: Math.max(chosen.gapXMm, space.gapXMm),
    gapYMm: Math.max(chosen.gapYMm, space.gapYMm),
    everySecond: chosen.everySecond === 'quarter' && !canTurn ? 'none' : chosen.everySecond,
    lengthMm: canFill ? chosen.lengthMm : null,
  };
  const roomMm = bench.usable.widthMm - space.leftMm - space.rightMm;
  const plan: StepPlan = { piece, roomMm, ...choice, count: choice.lengthMm === null ? pieces.length : null };
  const stepped = open && trouble === undefined ? stepAndRepeat(plan) : undefined;
  const lay = (rows: Stepped, of: RunDetail['pieces'], all: RunDetail['pieces']): void => {
    const here = new Set(all.map(({ pieceId }) => pieceId));
    const places = new Map([...bench.layout.places].filter(([key]) => here.has(key)));
    of.forEach((each, i) => {
      const corner = rows.corners[i];
      if (corner) places.set(each.pieceId, placeOf(corner, space, angleDeg));
    });
    bench.settle(bench.layout, places);
  };
  return {
    ...{ open, setOpen, pieces, whose, trouble, choice, canTurn, piece, space, roomMm, stepped, canFill },
    choose: (change) => {
      setChosen((before) => ({ ...before, ...change }));
    },
    apply: () => {
      if (!stepped) return;
      const copies = stepped.corners.length;
      if (copies === pieces.length) {
        lay(stepped, pieces, run.pieces);
        return;
      }
      bench
        .save()
        .then(() => sendJson<RunDetail>('PUT', `/api/runs/${run.id}/copies`, { jobId: first.jobId, copies }))
        .then((next) => {
          onSaved(next);
          const own = next.pieces.filter(({ jobId }) => jobId === first.jobId);
          lay(stepped, own, next.pieces);
        })
        .catch(tell);
    },
  };
}

function troubleOf(
  bench: Bench,
  pieces: RunDetail['pieces'],
  first: RunDetail['pieces'][number],
  whose: string,
): string | undefined {
  if (bench.layout.settings.sheetMm != null) return 'For a roll; on sheets the nest lays them.';
  const equal = pieces.every(
    (piece) =>
      Math.abs(piece.widthMm - first.widthMm) < 1e-3 &&
      Math.abs(piece.heightMm - first.heightMm) < 1e-3 &&
      bench.layout.places.get(piece.pieceId)?.locked !== true,
  );
  if (equal) return undefined;
  return `For pieces of one size that are not locked: choose those of one size, ${whose} ${String(pieces.length)} differ.`;
}

function placeOf(
  { xMm, yMm, turnDeg }: Stepped['corners'][number],
  space: { readonly leftMm: number; readonly leadMm: number },
  angleDeg: number,
): Place {
  return { xMm: space.leftMm + xMm, yMm: space.leadMm + yMm, angleDeg: wrapDeg(angleDeg + turnDeg) };
}

/** The rectangles of a plan, in the frame of the run. */
export function stepRects({ stepped, piece, space }: Step): readonly {
  readonly xMm: number;
  readonly yMm: number;
  readonly widthMm: number;
  readonly heightMm: number;
}[] {
  return (stepped?.corners ?? []).map(({ xMm, yMm, turnDeg }) => ({
    ...{ xMm: space.leftMm + xMm, yMm: space.leadMm + yMm },
    ...turnedSize(piece.widthMm, piece.heightMm, turnDeg),
  }));
}
