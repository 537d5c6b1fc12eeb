import { useEffect, useMemo, useRef, useState } from 'react';
import type { FinishNews, FinishOrder } from '../../../workers/finish.worker.ts';
import type { Floor } from '../useFloor.ts';

const NONE: FinishNews = new Map();
/** As time goes by the ranges move with it: drawn anew after so much shop time (ms). */
const STEP_MS = 300_000;
/**
 * Runs that print tell how far they are every second: drawn without rest, ranges would keep a processor busy for as long as a sheet is
 * open. After each drawing the worker rests for so many times as long as it took.
 */
const REST = 4;

/** When each run will be finished, as ranges that hold eight of ten: a thousand plans, drawn in a worker. */
export function useFinishRanges(floor: Floor, nowMs: number): FinishNews {
  const [ranges, setRanges] = useState(NONE);
  const worker = useRef<Worker>(undefined);
  const busy = useRef(false);
  const waiting = useRef<FinishOrder>(undefined);
  const sentAt = useRef(0);
  const stepMs = Math.floor(nowMs / STEP_MS) * STEP_MS;
  const { lines, spools, attended, away } = floor;
  // Lines are planned anew with every look at the clock; what they are planned from is not.
  const printers = useSame(lines.map(({ printer }) => printer));
  const runs = useSame(lines.flatMap((line) => line.runs));
  const order = useMemo(
    (): FinishOrder => ({ printers, runs, spools, attended, away, nowMs: stepMs }),
    [printers, runs, spools, attended, away, stepMs],
  );
  useEffect(() => {
    const next = new Worker(new URL('../../../workers/finish.worker.ts', import.meta.url), { type: 'module' });
    worker.current = next;
    let rest: number | undefined;
    next.onmessage = (message: MessageEvent<FinishNews>) => {
      setRanges(message.data);
      rest = window.setTimeout(
        () => {
          busy.current = waiting.current !== undefined;
          sentAt.current = performance.now();
          if (waiting.current) next.postMessage(waiting.current);
          waiting.current = undefined;
        },
        REST * (performance.now() - sentAt.current),
      );
    };
    // Without ranges the plan's own times still stand.
    next.onerror = (event) => {
      event.preventDefault();
      busy.current = false;
      waiting.current = undefined;
      setRanges(NONE);
    };
    return () => {
      window.clearTimeout(rest);
      next.terminate();
      busy.current = false;
      waiting.current = undefined;
    };
  }, []);
  useEffect(() => {
    if (order.printers.length === 0) return;
    if (busy.current) waiting.current = order;
    else {
      busy.current = true;
      sentAt.current = performance.now();
      worker.current?.postMessage(order);
    }
  }, [order]);
  return ranges;
}

/** The same array as before while it holds the same things. */
function useSame<T>(values: readonly T[]): readonly T[] {
  const [kept, setKept] = useState(values);
  const same = kept.length === values.length && kept.every((value, i) => value === values[i]);
  if (!same) setKept(values);
  return same ? kept : values;
}
