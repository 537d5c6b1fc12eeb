/** @jest-environment jsdom */
import { act, renderHook } from '@testing-library/react';
import { answering } from '../testing/answers.ts';
import { errorText, getJson, wasCancelled } from './client.ts';
import { useLongTasks } from './longTasks.ts';

beforeEach(() => {
  jest.useFakeTimers({ advanceTimers: 20 });
});
afterEach(() => {
  jest.useRealTimers();
});

test('what takes longer is shown with its share until it is over; one that was cancelled is no fault', async () => {
  const shown: string[] = [];
  const hook = renderHook(() => {
    const text = JSON.stringify(useLongTasks().map(({ title, progress }) => [title, progress]));
    if (text !== shown.at(-1)) shown.push(text);
  });
  const views = [
    { state: 'running', progress: null },
    { state: 'running', progress: 0.5 },
    { state: 'cancelled', error: { code: 'cancelled', message: 'Proposing batches was cancelled.' } },
  ];
  answering(({ path }) =>
    path === '/api/batches'
      ? { status: 202, body: { taskId: 't1' } }
      : { status: 200, body: { taskId: 't1', kind: 'Proposing batches', result: null, error: null, ...views.shift() } },
  );
  const error = await act(() => getJson('/api/batches').catch((reason: unknown) => reason));
  expect(wasCancelled(error)).toBe(true);
  expect(errorText(error)).toBe('Proposing batches was cancelled.');
  expect(shown).toEqual(['[]', '[["Proposing batches",null]]', '[["Proposing batches",0.5]]', '[]']);
  hook.unmount();
});
