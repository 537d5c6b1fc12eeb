import { useCallback, useEffect, useRef, useState } from 'react';
import type { NestLayout } from '../../../../core/layout/nestLayout.ts';
import type { RunNest } from '../../../../core/layout/runNest.ts';
import type { NestNews, NestOrder } from '../../../workers/nest.worker.ts';
import type { Place } from './layoutState.ts';

export interface NestRun {
  readonly running: boolean;
  readonly steps: number;
  readonly start: (problem: RunNest, seed: number, timeLimitMs: number) => void;
  /** Ends the search; the best so far stays. */
  readonly stop: () => void;
  /** Ends the search; nothing of it stays. */
  readonly cancel: () => void;
}

/** What a nest has come to: the pieces as they lie, how long that is, and what nothing can beat. */
export interface Nested {
  readonly problem: RunNest;
  readonly places: ReadonlyMap<string, Place>;
  readonly lengthMm: number;
  readonly boundMm: number;
}

interface NestListener {
  readonly better: (found: Nested) => void;
  readonly done: (found: Nested) => void;
  readonly failed: (error: Error) => void;
}

/** Nesting in a web worker: the page stays free, the layout improves while one watches. */
export function useNest(listener: NestListener): NestRun {
  const worker = useRef<Worker>(undefined);
  const best = useRef<NestLayout>(undefined);
  const problemNow = useRef<RunNest>(undefined);
  const [running, setRunning] = useState(false);
  const [steps, setSteps] = useState(0);
  const listening = useRef(listener);
  useEffect(() => {
    listening.current = listener;
  });
  const end = useCallback(() => {
    worker.current?.terminate();
    worker.current = undefined;
    setRunning(false);
  }, []);
  const start = useCallback(
    (problem: RunNest, seed: number, timeLimitMs: number) => {
      end();
      best.current = undefined;
      problemNow.current = problem;
      setRunning(true);
      const next = new Worker(new URL('../../../workers/nest.worker.ts', import.meta.url), { type: 'module' });
      worker.current = next;
      next.onmessage = (message: MessageEvent<NestNews>) => {
        const { layout, done } = message.data;
        best.current = layout;
        setSteps(layout.steps);
        if (done) {
          end();
          listening.current.done(nestedOf(problem, layout));
        } else listening.current.better(nestedOf(problem, layout));
      };
      next.onerror = (event) => {
        event.preventDefault();
        // The best that was found until then stays; it can be nested again.
        if (best.current) listening.current.done(nestedOf(problem, best.current));
        end();
        listening.current.failed(
          new Error(`The nest ended early: ${event.message || 'its program could not be loaded'}.`),
        );
      };
      next.postMessage({ input: problem.input, seed, timeLimitMs } satisfies NestOrder);
    },
    [end],
  );
  const stop = useCallback(() => {
    if (!worker.current) return;
    end();
    if (best.current && problemNow.current) listening.current.done(nestedOf(problemNow.current, best.current));
  }, [end]);
  useEffect(() => end, [end]);
  return { running, steps, start, stop, cancel: end };
}

function nestedOf(problem: RunNest, { placements, lengthMm, boundMm }: NestLayout): Nested {
  const places = new Map(
    placements.map((placement) => {
      const { pieceId, xMm, yMm, angleDeg } = problem.place(placement);
      return [pieceId, { xMm, yMm, angleDeg }];
    }),
  );
  return { problem, places, lengthMm, boundMm };
}
