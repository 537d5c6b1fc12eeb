/** @jest-environment jsdom */
import { act, cleanup, renderHook } from '@testing-library/react';
import type { NestLayout } from '../../../../core/layout/nestLayout.ts';
import type { RunNest } from '../../../../core/layout/runNest.ts';
import { type Nested, useNest } from './useNest.ts';

/** Stands in for the browser's worker: the test says what comes from it. */
class FakeWorker {
  static all: FakeWorker[] = [];
  onmessage: ((message: { data: unknown }) => void) | undefined;
  onerror: ((event: { message: string; preventDefault: () => void }) => void) | undefined;
  readonly sent: unknown[] = [];
  ended = false;

  constructor() {
    FakeWorker.all.push(this);
  }

  postMessage(what: unknown): void {
    this.sent.push(what);
  }

  terminate(): void {
    this.ended = true;
  }

  says(done: boolean, xMm: number): void {
    act(() => {
      this.onmessage?.({ data: { done, layout: { steps: xMm, placements: [{ id: 'p-1', xMm }] } } });
    });
  }
}

beforeEach(() => {
  FakeWorker.all = [];
  globalThis.Worker = FakeWorker as unknown as typeof Worker;
});
afterEach(cleanup);

const PROBLEM = {
  input: {},
  place: (placement: NestLayout['placements'][number]) => ({
    pieceId: placement.id,
    xMm: placement.xMm,
    yMm: 0,
    angleDeg: 0,
  }),
} as unknown as RunNest;

function nesting() {
  const heard: string[] = [];
  const note =
    (what: string) =>
    ({ places }: Nested) => {
      heard.push(`${what} ${String(places.get('p-1')?.xMm)}`);
    };
  const hook = renderHook(() =>
    useNest({
      better: note('better'),
      done: note('done'),
      failed: (error) => {
        heard.push(error.message);
      },
    }),
  );
  const start = (): FakeWorker => {
    act(() => {
      hook.result.current.start(PROBLEM, 1, 1200);
    });
    const worker = FakeWorker.all.at(-1);
    if (!worker) throw new Error('no worker was begun');
    return worker;
  };
  return { ...hook, heard, start };
}

test('better layouts are shown as they come, the last one is the end', () => {
  const { result, heard, start } = nesting();
  const worker = start();
  expect(result.current.running).toBe(true);
  expect(worker.sent).toEqual([{ input: {}, seed: 1, timeLimitMs: 1200 }]);
  worker.says(false, 30);
  worker.says(false, 20);
  worker.says(true, 10);
  expect(heard).toEqual(['better 30', 'better 20', 'done 10']);
  expect(result.current.running).toBe(false);
  expect(worker.ended).toBe(true);
});

test('stopped, the best until then stays; cancelled, nothing of it does', () => {
  const { result, heard, start } = nesting();
  start().says(false, 20);
  act(() => {
    result.current.stop();
  });
  expect(heard).toEqual(['better 20', 'done 20']);
  start().says(false, 15);
  act(() => {
    result.current.cancel();
  });
  expect(heard).toEqual(['better 20', 'done 20', 'better 15']);
  expect(FakeWorker.all.every(({ ended }) => ended)).toBe(true);
});

test('a new search ends the one that is under way', () => {
  const { start } = nesting();
  const first = start();
  const second = start();
  expect(first.ended).toBe(true);
  expect(second.ended).toBe(false);
});

test('a worker that fails ends the search with what it found, and says so', () => {
  const { result, heard, start } = nesting();
  const worker = start();
  worker.says(false, 20);
  act(() => {
    worker.onerror?.({ message: 'out of memory', preventDefault: () => undefined });
  });
  expect(heard).toEqual(['better 20', 'done 20', 'The nest ended early: out of memory.']);
  expect(result.current.running).toBe(false);
});

test('a page that is left leaves no search behind', () => {
  const { unmount, start } = nesting();
  const worker = start();
  unmount();
  expect(worker.ended).toBe(true);
});
