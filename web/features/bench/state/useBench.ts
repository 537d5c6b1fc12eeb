import { useCallback, useEffect, useMemo, useReducer, useRef, useState } from 'react';
import type { LayoutSettings } from '../../../../contract/api/run.ts';
import { isMirrored } from '../../../../core/layout/arrange/twoSides.ts';
import { MOST_EXACT } from '../../../../core/layout/pack/exactSearch.ts';
import { oversprayOf, usableWidth } from '../../../../core/layout/usableWidth.ts';
import type { NestInput } from '../../../../core/layout/nestInput.ts';
import { lengthBound } from '../../../../core/layout/bound.ts';
import { type LayoutFigures, layoutFigures } from '../../../../core/layout/layoutFigures.ts';
import { usePrinters, useRun, type Printer, type RunDetail } from '../../../api/data.ts';
import { useNotice } from '../../../app/notice.tsx';
import {
  type Layout,
  type Place,
  laidPieces,
  layoutOf,
  layoutReducer,
  lockedPlaces,
  nestOf,
  refusalText,
} from './layoutState.ts';
import { type BenchMarks, useMarks } from './useMarks.ts';
import { type NestRun, useNest } from './useNest.ts';
import { useSaving } from './useSaving.ts';
import { useMay } from '../../../people/May.tsx';

const FIRST_NEST_MS = 1200;
/** Outlines take longer than rectangles until the first good layout, most of all on a busy machine. */
const FIRST_CONTOURS_MS = 3000;
const AGAIN_NEST_MS = 5000;
export const SEARCH_ON_MS = 20_000;
const PROVE_MS = 1500;

/** Everything that panels and the drawing know of the run on the Bench. There is one, so all of them show the same layout. */
export interface Bench {
  readonly layout: Layout;
  readonly usable: { readonly widthMm: number; readonly fromMm: number };
  readonly figures: LayoutFigures | undefined;
  readonly marks: BenchMarks;
  /** Why the run can't be nested with these settings. */
  readonly trouble: string | undefined;
  readonly nest: NestRun;
  readonly canUndo: boolean;
  readonly canRedo: boolean;
  readonly editable: boolean;
  /** Searches anew, for so long; a layout that is sound and shorter than what is found stays. */
  readonly nestAgain: (timeLimitMs?: number) => void;
  readonly changeSettings: (change: Partial<LayoutSettings>) => void;
  readonly preview: (places: ReadonlyMap<string, Place>) => void;
  readonly settle: (from: Layout, places: ReadonlyMap<string, Place>) => void;
  readonly undo: () => void;
  readonly redo: () => void;
  /** Resolves once everything is kept on the server. */
  readonly save: () => Promise<void>;
  /** The run as somebody else has laid it out meanwhile; nothing is saved until one of the two is chosen. */
  readonly conflict: RunDetail | undefined;
  readonly keepMine: () => void;
  readonly useTheirs: () => void;
}

const NONE_LOCKED = new Map<string, Place>();

function firstNestMs({ settings }: Layout): number {
  return settings.byContour ? FIRST_CONTOURS_MS : FIRST_NEST_MS;
}

function withLocked({ places }: Layout, nested: ReadonlyMap<string, Place>): Map<string, Place> {
  return new Map([...lockedPlaces(places), ...nested]);
}

/** Usable width for margins that are being edited. */
function usableFor(printer: Printer | undefined, run: RunDetail, settings: LayoutSettings): Bench['usable'] {
  if (!printer) return { widthMm: run.usableWidthMm, fromMm: run.usableFromMm };
  const { usableWidthMm, usableFromMm } = usableWidth(
    printer.config,
    run.mediaWidthMm,
    settings.leftMm,
    settings.rightMm,
  );
  return { widthMm: usableWidthMm, fromMm: usableFromMm };
}

/** What a nest has shown of a problem: nothing is shorter than `boundMm`. */
interface Proof {
  readonly input: NestInput;
  readonly boundMm: number;
}

/** Lengths that differ by less are the same. */
const SAME_MM = 1e-3;

/** The bound that the nest has found, where it is of this problem; else 0. */
function provenFor({ input, boundMm }: Proof, now: NestInput): number {
  if (input.pieces.length !== now.pieces.length) return 0;
  return JSON.stringify(input) === JSON.stringify(now) ? boundMm : 0;
}

/** All pieces lie, none on another, outside or too close. */
function isSound({ clashes, tight }: LayoutFigures, run: RunDetail, layout: Layout): boolean {
  return clashes.length === 0 && tight.length === 0 && layout.places.size === run.pieces.length;
}

/** The Bench of one run: its layout with undo, nesting in a worker, figures, and keeping it on the server. */
export function useBench(run: RunDetail, onSaved: (run: RunDetail) => void): Bench {
  const { data: printers } = usePrinters();
  const { tell, say } = useNotice();
  const printer = printers?.find((each) => each.id === run.printerId);
  const [state, dispatch] = useReducer(layoutReducer, run, (first) => ({
    now: layoutOf(first),
    past: [],
    future: [],
    version: 0,
  }));
  // A back follows its front; it is moved there.
  const may = useMay('coordinate');
  const editable = may && run.state === 'draft' && run.pair?.side !== 'back';
  // A run that has left the Bench shows what was queued; its progress comes several times a second and changes none of it.
  const { pieces, contours, settings, registeredEdge } = run;
  const mirrored = run.pair?.side === 'back' && isMirrored(run.pair);
  const fixed = useMemo(() => layoutOf({ pieces, settings }), [pieces, settings]);
  const layout = editable ? state.now : fixed;
  const usable = usableFor(printer, run, layout.settings);
  const input = useMemo(
    () => nestOf({ pieces, contours, registeredEdge }, layout.settings, usable.widthMm, NONE_LOCKED),
    [pieces, contours, registeredEdge, layout.settings, usable.widthMm],
  );
  const [proof, setProof] = useState<Proof>();
  // It is the same however the pieces lie, and a drag moves them many times a second.
  const bound = useMemo(() => (input.ok ? lengthBound(input.value.input) : undefined), [input]);
  const plain = useMemo(
    () =>
      input.ok
        ? layoutFigures(
            input.value.input,
            laidPieces({ pieces, contours }, layout.places, mirrored),
            run.mediaWidthMm,
            oversprayOf({ usableWidthMm: usable.widthMm, usableFromMm: usable.fromMm }, run.mediaWidthMm),
            bound,
          )
        : undefined,
    [input, bound, pieces, contours, mirrored, layout.places, run.mediaWidthMm, usable.widthMm, usable.fromMm],
  );
  const provenMm = useMemo(
    () => (input.ok && proof && bound && proof.boundMm > bound.mm ? provenFor(proof, input.value.input) : 0),
    [input, bound, proof],
  );
  const figures = useMemo(() => {
    if (!plain || provenMm <= plain.boundMm + SAME_MM) return plain;
    // What one piece or the area says is not the reason then: all layouts were tried.
    return { ...plain, boundMm: provenMm, boundReason: null };
  }, [plain, provenMm]);
  const { data: front } = useRun(run.pair?.side === 'back' ? run.pair.otherRunId : null);
  const marks = useMarks(run, layout, usable.widthMm, printer, front);
  const before = useRef<Layout>(layout);
  /** Length of the layout that only a shorter one may take the place of. */
  const toBeatMm = useRef(Infinity);
  const nest = useNest({
    better: ({ places, lengthMm }) => {
      if (lengthMm > toBeatMm.current + SAME_MM) return;
      dispatch({ kind: 'preview', places: withLocked(before.current, places) });
    },
    done: ({ problem, places, lengthMm, boundMm }) => {
      if (problem.input.fixed.length === 0) setProof({ input: problem.input, boundMm });
      if (lengthMm > toBeatMm.current + SAME_MM) {
        say('No shorter layout was found. The one that was there stays.');
        return;
      }
      dispatch({ kind: 'settle', from: before.current, places: withLocked(before.current, places) });
    },
    failed: tell,
  });
  const { start, cancel } = nest;
  // A small layout that was left and is opened again: whether anything is shorter is found out beside it, and changes nothing.
  const { start: prove } = useNest({
    better: () => undefined,
    done: ({ problem, boundMm }) => {
      setProof({ input: problem.input, boundMm });
    },
    failed: () => undefined,
  });
  const [seed, setSeed] = useState(1);
  const startNest = useCallback(
    (from: Layout, timeLimitMs: number, withSeed: number, beatMm = Infinity) => {
      const width = usableFor(printer, run, from.settings).widthMm;
      const problem = nestOf(run, from.settings, width, from.places);
      if (!problem.ok) {
        // What is being searched for is no answer to these settings.
        cancel();
        return;
      }
      before.current = from;
      toBeatMm.current = beatMm;
      start(problem.value, withSeed, timeLimitMs);
    },
    [start, cancel, printer, run],
  );
  const begun = useRef(false);
  useEffect(() => {
    if (begun.current || !editable || !printer || run.pieces.length === 0) return;
    begun.current = true;
    if (run.pieces.some((piece) => !piece.placed)) startNest(state.now, firstNestMs(state.now), 1);
    else if (run.pieces.length <= MOST_EXACT && input.ok) prove(input.value, 1, PROVE_MS);
  }, [editable, printer, run, startNest, state.now, input, prove]);
  const { save, conflict, settleConflict } = useSaving(run, state.now, state.version, nest.running, onSaved);
  return {
    layout,
    usable,
    figures,
    marks,
    trouble: input.ok ? undefined : refusalText(run, input.reason),
    nest,
    editable,
    canUndo: editable && state.past.length > 0,
    canRedo: editable && state.future.length > 0,
    nestAgain: (timeLimitMs = AGAIN_NEST_MS) => {
      setSeed(seed + 1);
      startNest(
        state.now,
        timeLimitMs,
        seed + 1,
        figures && isSound(figures, run, layout) ? figures.lengthMm : Infinity,
      );
    },
    changeSettings: (change) => {
      const next = { ...state.now, settings: { ...state.now.settings, ...change } };
      dispatch({ kind: 'arrange', layout: next });
      startNest(next, firstNestMs(next), seed);
    },
    preview: (places) => {
      // A person's hand wins over a nest that is still looking.
      nest.cancel();
      dispatch({ kind: 'preview', places });
    },
    settle: (from, places) => {
      nest.cancel();
      dispatch({ kind: 'settle', from, places });
    },
    undo: () => {
      nest.stop();
      dispatch({ kind: 'undo' });
    },
    redo: () => {
      dispatch({ kind: 'redo' });
    },
    save,
    conflict,
    keepMine: () => {
      settleConflict();
    },
    useTheirs: () => {
      if (!conflict) return;
      nest.cancel();
      onSaved(conflict);
      dispatch({ kind: 'arrange', layout: layoutOf(conflict) });
      // That is one change more here, and none for the server.
      settleConflict(state.version + 1);
    },
  };
}
