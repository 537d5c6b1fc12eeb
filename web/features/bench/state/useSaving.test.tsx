/** @jest-environment jsdom */
import { act, cleanup, renderHook } from '@testing-library/react';
import type { RunDetail } from '../../../api/data.ts';
import { NoticeProvider, useNotice } from '../../../app/notice.tsx';
import { answering, type Asked } from '../../../testing/answers.ts';
import type { Layout } from './layoutState.ts';
import { useSaving } from './useSaving.ts';

beforeEach(() => {
  jest.useFakeTimers();
});
afterEach(() => {
  cleanup();
  jest.useRealTimers();
});

const RUN = { id: 'run-1', state: 'draft', version: 4 } as RunDetail;
const SETTINGS = { gapMm: 5 } as Layout['settings'];

function layoutAt(xMm: number): Layout {
  return { settings: SETTINGS, places: new Map([['p-1', { xMm, yMm: 0, angleDeg: 0 }]]) };
}

interface Props {
  readonly layout: Layout;
  readonly change: number;
  readonly nesting?: boolean;
  readonly run?: RunDetail;
}

function saving(first: Props) {
  const onSaved = jest.fn();
  const hook = renderHook(
    ({ layout, change, nesting = false, run = RUN }: Props) => ({
      ...useSaving(run, layout, change, nesting, onSaved),
      notice: useNotice().notice,
    }),
    { initialProps: first, wrapper: NoticeProvider },
  );
  return { ...hook, onSaved };
}

async function pass(ms: number): Promise<void> {
  await act(async () => {
    await jest.advanceTimersByTimeAsync(ms);
  });
}

const saved = (version: number) => ({ status: 200, body: { ...RUN, version } });
const placeIn = ({ body }: Asked): number | undefined => (body as { placements: { xMm: number }[] }).placements[0]?.xMm;

test('a layout is saved a moment after the last of several changes, over the version that it was made from', async () => {
  const asked = answering(() => saved(5));
  const { rerender, onSaved } = saving({ layout: layoutAt(1), change: 1 });
  await pass(200);
  rerender({ layout: layoutAt(2), change: 2 });
  await pass(200);
  expect(asked).toHaveLength(0);
  await pass(200);
  expect(asked).toMatchObject([{ method: 'PUT', path: '/api/runs/run-1/layout', headers: { 'if-match': '"4"' } }]);
  expect(asked.map(placeIn)).toEqual([2]);
  expect(onSaved).toHaveBeenCalledTimes(1);
  await pass(10_000);
  expect(asked).toHaveLength(1);
});

test('nothing is saved while a nest is looking; what it found is, once it has ended', async () => {
  const asked = answering(() => saved(5));
  const { rerender } = saving({ layout: layoutAt(1), change: 1, nesting: true });
  await pass(5000);
  expect(asked).toHaveLength(0);
  rerender({ layout: layoutAt(9), change: 2, nesting: false });
  await pass(400);
  expect(asked.map(placeIn)).toEqual([9]);
});

test('a second save waits for the first and is made over the version that it made', async () => {
  const answers: (() => void)[] = [];
  const asked = answering(
    () =>
      new Promise((done) => {
        answers.push(() => {
          done(saved(4 + answers.length));
        });
      }),
  );
  const { rerender } = saving({ layout: layoutAt(1), change: 1 });
  await pass(400);
  rerender({ layout: layoutAt(2), change: 2 });
  await pass(400);
  expect(asked).toHaveLength(1);
  answers[0]?.();
  await pass(0);
  expect(asked.map(({ headers }) => headers['if-match'])).toEqual(['"4"', '"5"']);
  expect(asked.map(placeIn)).toEqual([1, 2]);
});

test('a server that does not answer is asked again until it has the layout', async () => {
  let down = true;
  const asked = answering(() => (down ? undefined : saved(5)));
  const { result, onSaved } = saving({ layout: layoutAt(1), change: 1 });
  await pass(400);
  expect(result.current.notice?.text).toMatch(/does not answer/);
  await pass(3000);
  expect(asked).toHaveLength(2);
  down = false;
  await pass(3000);
  expect(onSaved).toHaveBeenCalledTimes(1);
  await pass(20_000);
  expect(asked).toHaveLength(3);
});

test('what is refused for its own sake is said, and not sent again by itself', async () => {
  const asked = answering(() => ({
    status: 422,
    body: { error: { code: 'overlap', message: 'Two pieces overlap by 3 mm.' } },
  }));
  const { result } = saving({ layout: layoutAt(1), change: 1 });
  await pass(20_000);
  expect(asked).toHaveLength(1);
  expect(result.current.notice).toEqual({ text: 'Two pieces overlap by 3 mm.', wrong: true });
});

test('another person’s layout is never overwritten unseen: it is read, and mine is saved over it when I say so', async () => {
  const theirs = { ...RUN, version: 7 };
  const asked = answering(({ method, headers }) => {
    if (method === 'GET') return { status: 200, body: theirs };
    if (headers['if-match'] === '"7"') return saved(8);
    return { status: 409, body: { error: { code: 'layout-changed', message: 'It has been laid out anew.' } } };
  });
  const { result, rerender } = saving({ layout: layoutAt(1), change: 1 });
  await pass(400);
  expect(result.current.conflict).toEqual(theirs);
  // Meanwhile a change of mine waits, and whoever queues hears that a choice is due.
  rerender({ layout: layoutAt(2), change: 2 });
  await pass(5000);
  let refusal: unknown;
  await act(async () => {
    await result.current.save().catch((error: unknown) => {
      refusal = error;
    });
  });
  expect(String(refusal)).toMatch(/First choose whose layout to keep/);
  expect(asked.filter(({ method }) => method === 'PUT')).toHaveLength(1);
  act(() => {
    result.current.settleConflict();
  });
  await pass(400);
  expect(result.current.conflict).toBeUndefined();
  expect(asked.filter(({ method }) => method === 'PUT').map(placeIn)).toEqual([1, 2]);
});

test('another person’s layout that I take is not sent back to the server', async () => {
  const asked = answering(({ method }) =>
    method === 'GET'
      ? { status: 200, body: { ...RUN, version: 7 } }
      : { status: 409, body: { error: { code: 'layout-changed', message: 'It has been laid out anew.' } } },
  );
  const { result, rerender } = saving({ layout: layoutAt(1), change: 1 });
  await pass(400);
  act(() => {
    result.current.settleConflict(2);
  });
  rerender({ layout: layoutAt(5), change: 2 });
  await pass(5000);
  expect(asked.filter(({ method }) => method === 'PUT').map(placeIn)).toEqual([1]);
});

test('a run that has left the Bench is not laid out any more', async () => {
  const asked = answering(() => saved(5));
  saving({ layout: layoutAt(1), change: 1, run: { ...RUN, state: 'queued' } });
  await pass(5000);
  expect(asked).toHaveLength(0);
});
