import { counted } from '../../ui/text/counted.ts';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import type { RunDetail } from '../../api/data.ts';
import { isTyping } from '../../ui/isTyping.ts';
import { BenchTools } from './BenchTools.tsx';
import { FiguresPanel, LAY_OUT_TAB } from './panels/FiguresPanel.tsx';
import { LayoutConflict } from './LayoutConflict.tsx';
import { MediaView } from './media/MediaView.tsx';
import { movedPlaces, turnedPlaces, withLock } from './state/layoutState.ts';
import { nextPiece, pieceText } from './state/pieceWalk.ts';
import { StepGhost } from './media/StepGhost.tsx';
import { type Bench, useBench } from './state/useBench.ts';
import { useStep } from './state/useStep.ts';

interface BenchEditorProps {
  readonly run: RunDetail;
  readonly onSaved: (run: RunDetail) => void;
  /** The run has left the Bench: queued or dissolved. */
  readonly onLeft: () => void;
  readonly tab: number;
  readonly onTab: (tab: number) => void;
}

/** 1: the whole run fits the view. */
const ZOOM_STEP = 1.4;
const ZOOM_MOST = 400;

/** The Bench with one run: media with pieces to scale in the middle, figures and what can be set at the right. */
export function BenchEditor({ run, onSaved, onLeft, tab, onTab }: BenchEditorProps) {
  const bench = useBench(run, onSaved);
  const [selected, setSelected] = useState<ReadonlySet<string>>(new Set());
  const step = useStep(run, bench, selected, onSaved);
  const [zoom, setZoom] = useState(1);
  const zoomBy = useCallback((factor: number) => {
    setZoom((z) => Math.min(ZOOM_MOST, Math.max(1, z * factor)));
  }, []);
  const clashing = useMemo(() => {
    const stop = new Set<string>();
    const tight = new Set<string>();
    for (const clash of bench.figures?.clashes ?? [])
      for (const key of clash.kind === 'pair' ? [clash.a, clash.b] : [clash.key]) stop.add(key);
    for (const clash of bench.figures?.tight ?? [])
      if (clash.kind === 'pair') for (const key of [clash.a, clash.b]) tight.add(key);
    return { stop, tight };
  }, [bench.figures]);
  useBenchKeys(bench, run, selected, setSelected, setZoom, zoomBy);
  const [only] = selected;
  const said =
    only === undefined
      ? ''
      : selected.size === 1
        ? pieceText(run, bench.layout.places, only, clashing.stop.has(only))
        : `${counted(selected.size, 'piece')} chosen`;
  return (
    <>
      <p role="status" className="sr-only">
        {said}
      </p>
      <LayoutConflict run={run} bench={bench} />
      <section className="flex min-w-0 flex-1 flex-col" aria-label={`${run.name} on the media`}>
        <BenchTools
          run={run}
          bench={bench}
          zoom={zoom}
          onZoom={zoomBy}
          onFit={() => {
            setZoom(1);
          }}
        />
        <MediaView
          run={run}
          bench={bench}
          zoom={zoom}
          onZoom={zoomBy}
          selected={selected}
          onSelect={setSelected}
          stop={clashing.stop}
          tight={clashing.tight}
          over={
            step?.stepped && tab === LAY_OUT_TAB
              ? {
                  endMm: step.space.leadMm + step.stepped.extentMm,
                  draw: (px) => <StepGhost step={step} px={px} />,
                }
              : undefined
          }
        />
      </section>
      <FiguresPanel
        run={run}
        bench={bench}
        step={step}
        selected={selected}
        onLeft={onLeft}
        onSaved={onSaved}
        tab={tab}
        onTab={onTab}
      />
    </>
  );
}

function useBenchKeys(
  bench: Bench,
  run: RunDetail,
  selected: ReadonlySet<string>,
  onSelect: (selected: ReadonlySet<string>) => void,
  setZoom: (zoom: number) => void,
  zoomBy: (factor: number) => void,
): void {
  const latest = useRef({ bench, run, selected });
  useEffect(() => {
    latest.current = { bench, run, selected };
  });
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (event.defaultPrevented || isTyping(event.target)) return;
      const { bench: b, run: r, selected: s } = latest.current;
      const places = b.layout.places;
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'z') {
        event.preventDefault();
        if (event.shiftKey) b.redo();
        else b.undo();
        return;
      }
      if ((event.ctrlKey || event.metaKey) && event.key === 'a') {
        event.preventDefault();
        onSelect(new Set(places.keys()));
        return;
      }
      if (event.ctrlKey || event.metaKey) return;
      const free = new Set([...s].filter((key) => places.get(key)?.locked !== true));
      const mm = event.altKey ? 0.1 : event.shiftKey ? 10 : 1;
      // On the screen the feed runs to the right and the right edge of the media is up.
      const arrow = { ArrowRight: [0, mm], ArrowLeft: [0, -mm], ArrowUp: [mm, 0], ArrowDown: [-mm, 0] }[event.key];
      if (arrow && s.size > 0 && b.editable) {
        event.preventDefault();
        b.settle(b.layout, movedPlaces(places, free, arrow[0] ?? 0, arrow[1] ?? 0));
      } else if (event.key === 'r' && s.size > 0 && b.editable) b.settle(b.layout, turnedPlaces(r, places, free));
      else if (event.key === 'k' && s.size > 0 && b.editable) b.settle(b.layout, withLock(places, s, free.size > 0));
      else if (event.key === 'n' && b.editable) b.nestAgain();
      else if (event.key === '.' || event.key === ',') {
        const [now] = s;
        const next = nextPiece(places, now, event.key === '.' ? 1 : -1);
        if (next !== undefined) onSelect(new Set([next]));
      } else if (event.key === 'Escape') onSelect(new Set());
      else if (event.key === '+' || event.key === '=') zoomBy(ZOOM_STEP);
      else if (event.key === '-') zoomBy(1 / ZOOM_STEP);
      else if (event.key === '0') setZoom(1);
    };
    window.addEventListener('keydown', onKey);
    return () => {
      window.removeEventListener('keydown', onKey);
    };
  }, [onSelect, setZoom, zoomBy]);
}
