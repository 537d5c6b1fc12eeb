import { acrossText } from '../../ui/text/lengths.ts';
import {
  type Active,
  type DragEndEvent,
  type DragOverEvent,
  type KeyboardCoordinateGetter,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import { useState } from 'react';
import { fitsSource } from '../../../core/stock/form.ts';
import { sendJson } from '../../api/client.ts';
import { type Printer, type SpoolView, useStocks } from '../../api/data.ts';
import { useNotice } from '../../app/notice.tsx';

/** The rack as a place to put a spool down. */
export const RACK = 'rack';
/** A pointer has to move so far before a click becomes a drag (px). */
const SLACK_PX = 6;

/** Names a source as a place where a spool can be put down. */
export function sourceKey(printerId: string, sourceId: string): string {
  return `${printerId}/${sourceId}`;
}

/** Arrows go from place to place where it could be put down, in the order of reading. */
const byKeys: KeyboardCoordinateGetter = (event, { currentCoordinates: at, context }) => {
  const step = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[event.code];
  if (step === undefined) return undefined;
  event.preventDefault();
  const places = [...context.droppableRects.entries()]
    .filter(([id]) => context.droppableContainers.get(id)?.disabled !== true)
    .map(([, rect]) => rect)
    .sort((a, b) => a.top - b.top || a.left - b.left);
  const here = places.findIndex(({ left, top }) => Math.abs(left - at.x) < 8 && Math.abs(top - at.y) < 8);
  const next = places[(Math.max(here, step > 0 ? -1 : 0) + step + places.length) % places.length];
  return next && { x: next.left + 4, y: next.top + 4 };
};

/**
 * Loading and unloading by one drag, or by three keys: space, an arrow, space. What has to be measured and chosen when it is
 * loaded is asked then; taking out asks nothing.
 */
export function useSpoolDrag(
  spools: readonly SpoolView[],
  printers: readonly Printer[],
  onLoad: (printerId: string, sourceId: string, spoolId: string) => void,
) {
  const { tell, say } = useNotice();
  const { data: stocks = [] } = useStocks();
  const [dragged, setDragged] = useState<SpoolView | null>(null);
  const [over, setOver] = useState<string | null>(null);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: SLACK_PX } }),
    useSensor(KeyboardSensor, {
      coordinateGetter: byKeys,
      keyboardCodes: { start: ['Space'], cancel: ['Escape'], end: ['Space', 'Enter'] },
    }),
  );
  const spoolOf = (active: Active): SpoolView | null =>
    spools.find(({ id }) => id === String(active.id).replace(/^in:/, '')) ?? null;

  /** Why a spool does not go into a source; null: it does. */
  const wrong = (spool: SpoolView, printer: Printer, sourceId: string): string | null => {
    const source = printer.config.sources.find(({ id }) => id === sourceId);
    const form = stocks.find(({ id }) => id === spool.stockId)?.form;
    if (!source || form === undefined || !fitsSource(form, source.kind))
      return `${spool.stockName} does not go into a ${source?.kind ?? 'place like that'}`;
    if (source.kind !== 'bed' && spool.widthMm > printer.config.widestMediaMm)
      return `${spool.label} is ${acrossText(spool.widthMm)} wide; ${printer.name} takes ${acrossText(printer.config.widestMediaMm)}`;
    return null;
  };
  const clear = (): void => {
    setDragged(null);
    setOver(null);
  };
  return {
    sensors,
    dragged,
    over,
    wrong,
    start: ({ active }: { readonly active: Active }) => {
      setDragged(spoolOf(active));
    },
    move: ({ over: place }: DragOverEvent) => {
      setOver(place === null ? null : String(place.id));
    },
    cancel: clear,
    end: ({ active, over: place }: DragEndEvent) => {
      const spool = spoolOf(active);
      clear();
      if (!spool || !place) return;
      if (place.id === RACK) {
        if (spool.printerId !== null) sendJson('POST', `/api/spools/${spool.id}/unload`).catch(tell);
        return;
      }
      const [printerId = '', sourceId = ''] = String(place.id).split('/');
      const printer = printers.find(({ id }) => id === printerId);
      if (!printer || (spool.printerId === printerId && spool.sourceId === sourceId)) return;
      const trouble = wrong(spool, printer, sourceId);
      if (trouble !== null) tell(new Error(trouble));
      else if (spool.printerId !== null) say(`${spool.label} is in another printer: take it out first`);
      else onLoad(printerId, sourceId, spool.id);
    },
  };
}

export type SpoolDrag = ReturnType<typeof useSpoolDrag>;
