import { LiveBus } from './liveBus.ts';
import type { LiveMessage, Touched } from '../ports/live.ts';

beforeEach(() => {
  jest.useFakeTimers();
});
afterEach(() => {
  jest.useRealTimers();
});

function opened(view: (touched: Touched) => unknown = ({ id }) => ({ id })) {
  const errors: unknown[] = [];
  const bus = new LiveBus((error) => errors.push(error));
  const heard: LiveMessage[] = [];
  bus.connect({
    logEvents: (ids) =>
      ids.map((id) => ({
        id,
        atMs: 1,
        kind: 'k',
        subjectType: 'job',
        subjectId: 'j',
        actorKind: 'person' as const,
        actorId: null,
        who: 'x',
        data: null,
        text: 't',
      })),
    view,
  });
  return { bus, errors, heard };
}

test('a listener that throws ends neither the server nor the others, and is written down', () => {
  const { bus, errors, heard } = opened();
  bus.subscribe(() => {
    throw new Error('this page is broken');
  });
  bus.subscribe((message) => heard.push(message));
  bus.committed([7], [{ type: 'job', id: 'j' }]);
  jest.advanceTimersByTime(100);
  expect(heard.map(({ event, id }) => [event, id])).toEqual([
    ['log', 7],
    ['job', undefined],
  ]);
  expect(errors.map(String)).toEqual(['Error: this page is broken', 'Error: this page is broken']);
});

test('a view that can’t be read just now is told as soon as it can, the others at once', () => {
  let locked = true;
  const { bus, errors, heard } = opened(({ id }) => {
    if (locked && id === 'held') throw new Error('database is locked');
    return { id };
  });
  bus.subscribe((message) => heard.push(message));
  bus.committed(
    [],
    [
      { type: 'job', id: 'held' },
      { type: 'run', id: 'free' },
    ],
  );
  jest.advanceTimersByTime(1500);
  expect(heard.map(({ event }) => event)).toEqual(['run']);
  locked = false;
  jest.advanceTimersByTime(1500);
  expect(heard.map(({ event }) => event)).toEqual(['run', 'job']);
  expect(errors.length).toBeGreaterThan(0);
  expect(jest.getTimerCount()).toBe(0);
});

test('a view that always fails is given up, not asked for ever', () => {
  const { bus, errors } = opened(() => {
    throw new Error('broken for good');
  });
  bus.subscribe(() => undefined);
  bus.committed([], [{ type: 'job', id: 'j' }]);
  jest.advanceTimersByTime(60_000);
  expect(errors).toHaveLength(5);
  expect(jest.getTimerCount()).toBe(0);
});

test('where the log can’t be read, what was committed stays committed for its caller', () => {
  const errors: unknown[] = [];
  const bus = new LiveBus((error) => errors.push(error));
  bus.connect({
    logEvents: () => {
      throw new Error('database is locked');
    },
    view: () => undefined,
  });
  bus.subscribe(() => undefined);
  expect(() => {
    bus.committed([1], []);
  }).not.toThrow();
  expect(errors).toHaveLength(1);
});
