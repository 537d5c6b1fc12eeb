import { MissedReads } from './missed.ts';

beforeEach(() => {
  jest.useFakeTimers();
});
afterEach(() => {
  jest.useRealTimers();
});

function opened() {
  const states = new Map<string, { data?: unknown; isLoading?: boolean }>();
  const read: string[] = [];
  const missed = new MissedReads(
    (key) => states.get(key),
    (key) => read.push(key),
  );
  return { states, read, missed };
}

test('a list that is being read is read once more when it is there, however often it changed meanwhile', () => {
  const { states, read, missed } = opened();
  states.set('printers', { isLoading: true });
  for (let i = 0; i < 20; i += 1) {
    missed.add('printers');
    jest.advanceTimersByTime(100);
  }
  expect(read).toEqual([]);
  states.set('printers', { data: [], isLoading: false });
  jest.advanceTimersByTime(300);
  expect(read).toEqual(['printers']);
  jest.advanceTimersByTime(5000);
  expect(read).toEqual(['printers']);
  expect(jest.getTimerCount()).toBe(0);
});

test('what nobody asked for is left alone; an answer that failed is asked for again', () => {
  const { states, read, missed } = opened();
  missed.add('runs');
  expect(read).toEqual([]);
  states.set('runs', { isLoading: false });
  missed.add('runs');
  expect(read).toEqual(['runs']);
  states.set('spools', { isLoading: true });
  missed.add('spools');
  missed.stop();
  expect(jest.getTimerCount()).toBe(0);
});
