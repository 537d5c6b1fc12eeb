import { alongText } from '../../ui/text/lengths.ts';
import { number } from '../../ui/text/number.ts';
import {
  type DragEndEvent,
  type DragMoveEvent,
  type KeyboardCoordinateGetter,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import { type RefObject, useEffect, useRef, useState } from 'react';
import type { MoveOffer } from '../../../contract/api/shop.ts';
import { errorText, getJson, sendJson } from '../../api/client.ts';
import { useNotice } from '../../app/notice.tsx';
import { durationText } from '../../../core/units/durationText.ts';
import { movedTogether, togetherOf } from '../../../core/schedule/lineUnits.ts';
import { type Floor, type FloorLine, planWithOrder } from './useFloor.ts';
import type { TimeView } from './timeView.ts';

/** Where the run that is dragged would land, and what that would cost, or why it can't. */
export interface Landing {
  readonly runId: string;
  readonly printerId: string;
  readonly ms: number;
  readonly wrong: boolean;
  readonly text: string;
  /** Runs of the line in their new order; of another printer the run before which it goes. */
  readonly order: readonly string[] | null;
  readonly before: string | null;
}

/** A pointer has to move so far before a click becomes a drag (px). */
const SLACK_PX = 6;

/** With arrows: along the strip from run to run, across strips by one strip. */
function byKeys(floor: Floor, view: TimeView): KeyboardCoordinateGetter {
  return (event, { currentCoordinates: at, context }) => {
    const strips = [...context.droppableRects].sort(([, one], [, other]) => one.top - other.top);
    const rect = strips.find(([, { top, bottom }]) => at.y >= top - 1 && at.y < bottom);
    if (!rect) return undefined;
    const [stripId, { left, height }] = rect;
    if (event.code === 'ArrowDown' || event.code === 'ArrowUp') {
      event.preventDefault();
      return { x: at.x, y: at.y + (event.code === 'ArrowDown' ? height : -height) };
    }
    if (event.code !== 'ArrowLeft' && event.code !== 'ArrowRight') return undefined;
    event.preventDefault();
    const to = floor.lines.find(({ printer }) => printer.id === stripId);
    const ms = view.at(at.x - left);
    const middles = (to ? middlesOf(to, String(context.active?.id)) : []).map(({ ms: middle }) => middle);
    const next =
      event.code === 'ArrowLeft'
        ? Math.max(...middles.filter((middle) => middle < ms))
        : Math.min(...middles.filter((middle) => middle > ms));
    if (!Number.isFinite(next)) return undefined;
    return { x: left + view.pxOf(next) + (event.code === 'ArrowLeft' ? -1 : 1), y: at.y };
  };
}

/** The queued runs of a line but this one, and the instant in the middle of each. */
function middlesOf({ runs, line }: FloorLine, runId: string): { readonly id: string; readonly ms: number }[] {
  const spans = new Map(line.events.flatMap((each) => (each.kind === 'run' ? [[each.id, each] as const] : [])));
  return runs
    .filter((run) => run.state === 'queued' && run.id !== runId)
    .map(({ id }) => {
      const span = spans.get(id);
      return { id, ms: span ? (span.fromMs + span.toMs) / 2 : Infinity };
    });
}

/**
 * Carrying a queued run to another place in its line or to another printer, by pointer or by keys.
 * @param carryingRef is set for as long as a run is carried
 */
export function useRunDrag(floor: Floor, view: TimeView, nowMs: number, carryingRef: RefObject<boolean>) {
  const { tell, say } = useNotice();
  const [landing, setLanding] = useState<Landing | null>(null);
  const offers = useRef(new Map<string, MoveOffer | 'asked' | Error>());
  const [answers, answered] = useState(0);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: SLACK_PX } }),
    useSensor(KeyboardSensor, {
      coordinateGetter: byKeys(floor, view),
      keyboardCodes: { start: ['Space'], cancel: ['Escape'], end: ['Space', 'Enter'] },
    }),
  );
  const ask = (runId: string, printerId: string): MoveOffer | undefined => {
    const key = `${runId}/${printerId}`;
    const known = offers.current.get(key);
    if (known !== undefined) return known === 'asked' || known instanceof Error ? undefined : known;
    offers.current.set(key, 'asked');
    getJson<MoveOffer>(`/api/runs/${runId}/move-offer?printerId=${printerId}`)
      .then((offer) => offers.current.set(key, offer))
      .catch((error: unknown) => offers.current.set(key, new Error(errorText(error))))
      .finally(() => {
        answered((n) => n + 1);
      });
    return undefined;
  };
  const last = useRef<DragMoveEvent | null>(null);
  const look = (event: DragMoveEvent): void => {
    last.current = event;
    setLanding(landingOf(event, floor, view, nowMs, ask));
  };
  // An offer that comes while the run is held still is shown at once.
  const shown = useRef(look);
  useEffect(() => {
    shown.current = look;
  });
  useEffect(() => {
    if (last.current) shown.current(last.current);
  }, [answers]);
  const start = (): void => {
    carryingRef.current = true;
    offers.current.clear();
  };
  const end = (event: DragEndEvent): void => {
    carryingRef.current = false;
    last.current = null;
    setLanding(null);
    if (!event.over || !landing || landing.runId !== event.active.id) return;
    if (landing.wrong) {
      tell(new Error(landing.text));
      return;
    }
    if (landing.order) {
      sendJson('PUT', `/api/printers/${landing.printerId}/line`, { runIds: landing.order }).catch(tell);
      return;
    }
    say('Moving the run: it is laid out for the other printer');
    sendJson('POST', `/api/runs/${landing.runId}/move`, { printerId: landing.printerId, before: landing.before }).catch(
      tell,
    );
  };
  const cancel = (): void => {
    carryingRef.current = false;
    last.current = null;
    setLanding(null);
  };
  return { sensors, landing, start, look, end, cancel };
}

function landingOf(
  event: DragMoveEvent,
  floor: Floor,
  view: TimeView,
  nowMs: number,
  ask: (runId: string, printerId: string) => MoveOffer | undefined,
): Landing | null {
  const runId = String(event.active.id);
  const { over } = event;
  const rect = event.active.rect.current.translated;
  if (!over || !rect) return null;
  const to = floor.lines.find(({ printer }) => printer.id === over.id);
  const from = floor.lines.find(({ runs }) => runs.some((run) => run.id === runId));
  if (!to || !from) return null;
  const ms = view.at(rect.left - over.rect.left);
  const queued = middlesOf(to, runId);
  const at = queued.findIndex((run) => run.ms > ms);
  const index = at < 0 ? queued.length : at;
  const before = queued[index]?.id ?? null;
  const span = to.line.events.find((each) => each.kind === 'run' && each.id === before);
  const edge = span?.fromMs ?? to.line.freeMs;
  const base = { runId, printerId: to.printer.id, ms: edge, before };
  if (to.printer.id === from.printer.id) {
    const line = to.runs
      .filter(({ state }) => state === 'queued')
      .map((run) => ({ id: run.id, together: togetherOf(run) }));
    const order = movedTogether(line, runId, before);
    return { ...base, wrong: false, order, text: orderText(to, order, runId, floor, nowMs) };
  }
  const offer = ask(runId, to.printer.id);
  if (!offer) return { ...base, wrong: true, order: null, text: `Looking whether ${to.printer.name} can take it …` };
  const [trouble] = offer.troubles;
  if (trouble) return { ...base, wrong: true, order: null, text: `${trouble.text}. ${trouble.way}` };
  return { ...base, wrong: false, order: null, text: offerText(offer, to.printer.name) };
}

/** What another order of the same line would do. */
function orderText(to: FloorLine, order: readonly string[], runId: string, floor: Floor, nowMs: number): string {
  const next = planWithOrder(floor, to.printer.id, order, nowMs);
  if (!next) return '';
  const late = (line: FloorLine['line']): number =>
    line.events.reduce((sum, each) => sum + (each.kind === 'run' && each.toMs > nowMs ? each.lateMs : 0), 0);
  const own = next.events.find((each) => each.kind === 'run' && each.id === runId);
  const lateBy = late(next) - late(to.line);
  const change = next.changeOverMin - to.line.changeOverMin;
  const parts = [
    own ? `starts in ${durationText(own.fromMs - nowMs)}` : '',
    Math.abs(lateBy) < 60_000
      ? 'no date is touched'
      : `${durationText(Math.abs(lateBy))} ${lateBy > 0 ? 'more' : 'less'} late in all`,
    Math.abs(change) < 0.1 ? '' : `${number(Math.abs(change))} min ${change > 0 ? 'more' : 'less'} change-over`,
  ];
  return parts.filter(Boolean).join(', ');
}

function offerText({ before, after }: MoveOffer, name: string): string {
  if (!after) return `To ${name}`;
  const parts = [`On ${name}: ${alongText(after.lengthMm)}, ${durationText(after.timeMs)}`];
  if (before) {
    const money = (after.totalMinor - before.totalMinor) / 100;
    parts.push(`${number(Math.abs(money), 2)} ${money > 0 ? 'dearer' : 'cheaper'}`);
  }
  parts.push(after.lateMs > 0 ? `late by ${durationText(after.lateMs)}` : 'in time');
  return parts.join(', ');
}
