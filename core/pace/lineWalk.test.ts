import fc from 'fast-check';
import { collectRuns } from './collectRuns.ts';
import { type WalkChoice, type WalkedRun, latenessOf, walkLines } from './lineWalk.ts';

const MIN = 60_000;

function run(id: string, fromMin: number, toMin: number, more: Partial<WalkedRun> = {}): WalkedRun {
  const [startedMs, endedMs] = [fromMin * MIN, toMin * MIN];
  return { id, printerId: 'heron', startedMs, endedMs, readyMs: 0, handsMs: 0, jobs: [], ...more };
}

function asItWas({ printerId, startedMs, endedMs }: WalkedRun): WalkChoice[] {
  return [{ lineId: printerId, lastsMs: endedMs - startedMs }];
}

const endsIn = ({ ends }: ReturnType<typeof walkLines>): number[] => [...ends.values()].map((ms) => ms / MIN);

test('what nothing changes on ends when it did', () => {
  const line = [
    run('a', 0, 30),
    run('b', 45, 60, { readyMs: 40 * MIN }),
    run('c', 60, 90),
    run('d', 10, 20, { printerId: 'magpie' }),
  ];
  const { ends } = walkLines(line, asItWas);
  for (const each of line) expect(ends.get(each.id)).toBe(each.endedMs);
});

test('a delay uses up idle time first, and leaves hands their time', () => {
  // Half an hour idle before b, of which a change of stock takes ten minutes; a takes 25 min longer.
  const line = [run('a', 0, 30), run('b', 60, 90, { handsMs: 10 * MIN }), run('c', 90, 100)];
  const longer = (min: number) => (each: WalkedRun) =>
    asItWas(each).map((choice) => ({ ...choice, lastsMs: choice.lastsMs + (each.id === 'a' ? min * MIN : 0) }));
  expect(endsIn(walkLines(line, longer(15)))).toEqual([45, 90, 100]);
  // Ready at 65 for hands that take until 75.
  expect(endsIn(walkLines(line, longer(35)))).toEqual([65, 105, 115]);
});

test('one printer more: what waited for its printer goes to the free one, once its job is there', () => {
  const line = [
    run('a', 0, 60),
    run('b', 60, 100),
    run('c', 100, 130, { readyMs: 50 * MIN }),
    // Somebody took five minutes to begin it.
    run('d', 135, 150),
  ];
  const two = (each: WalkedRun): WalkChoice[] => [
    ...asItWas(each),
    { lineId: 'one more', lastsMs: each.endedMs - each.startedMs },
  ];
  const { ends, taken } = walkLines(line, two);
  // b begins at once on the other; c waits for its job, then for a printer; d follows on the one that is free first.
  expect([...taken.values()]).toEqual([0, 1, 1, 0]);
  expect([...ends.values()].map((ms) => ms / MIN)).toEqual([60, 40, 80, 80]);
});

test('one printer less: its runs push back those of another line, by what its idle time does not take', () => {
  const line = [
    run('a', 0, 60),
    run('b', 10, 40, { printerId: 'magpie' }),
    run('c', 100, 120),
    run('d', 60, 70, { printerId: 'magpie' }),
  ];
  const toHeron = (each: WalkedRun): WalkChoice[] =>
    asItWas(each).map(({ lastsMs }) => ({
      lineId: 'heron',
      lastsMs: each.printerId === 'magpie' ? 2 * lastsMs : lastsMs,
    }));
  const { ends } = walkLines(line, toHeron);
  // b: 60 to 120; d: 120 to 140; c, which began at 100, then.
  expect(['a', 'b', 'd', 'c'].map((id) => (ends.get(id) ?? 0) / MIN)).toEqual([60, 120, 140, 160]);
  const job = { id: 'j', dueMs: 130 * MIN };
  const late = latenessOf([{ ...run('c', 100, 120), jobs: [job] }], ({ id }) => ends.get(id) ?? 0);
  expect(late).toEqual({ lateJobs: 1, lateMs: 30 * MIN });
});

test('whatever is moved: no line prints two at once, and nothing begins before its job', () => {
  const any = fc.record({
    gap: fc.integer({ min: 0, max: 200 }),
    lasts: fc.integer({ min: 1, max: 90 }),
    early: fc.integer({ min: 0, max: 300 }),
    hands: fc.integer({ min: 0, max: 20 }),
    onOther: fc.boolean(),
    choices: fc.array(
      fc.record({ lineId: fc.constantFrom('heron', 'magpie', 'new'), min: fc.integer({ min: 1, max: 90 }) }),
      {
        minLength: 1,
        maxLength: 3,
      },
    ),
  });
  fc.assert(
    fc.property(fc.array(any, { minLength: 1, maxLength: 20 }), (made) => {
      const free = { heron: 0, magpie: 0 };
      const choices = new Map<string, WalkChoice[]>();
      const line = made.map(({ gap, lasts, early, hands, onOther, choices: own }, i) => {
        const printerId = onOther ? 'magpie' : 'heron';
        const from = free[printerId] + gap;
        free[printerId] = from + lasts;
        choices.set(
          String(i),
          own.map(({ lineId, min }) => ({ lineId, lastsMs: min * MIN })),
        );
        const readyMs = Math.max(0, from - early) * MIN;
        return run(String(i), from, from + lasts, { printerId, readyMs, handsMs: hands * MIN });
      });
      const { ends, taken } = walkLines(line, ({ id }) => choices.get(id) ?? []);
      const spans = line.map(({ id, readyMs }) => {
        const choice = choices.get(id)?.[taken.get(id) ?? -1];
        const endMs = ends.get(id);
        if (!choice || endMs === undefined) throw new Error('a run is in no line');
        expect(endMs - choice.lastsMs).toBeGreaterThanOrEqual(readyMs);
        return { lineId: choice.lineId, fromMs: endMs - choice.lastsMs, endMs };
      });
      for (const lineId of ['heron', 'magpie', 'new']) {
        const own = spans.filter((span) => span.lineId === lineId).sort((a, b) => a.fromMs - b.fromMs);
        own.slice(1).forEach(({ fromMs }, i) => {
          expect(fromMs).toBeGreaterThanOrEqual(own[i]?.endMs ?? 0);
        });
      }
    }),
  );
});

test('runs are collected from the first that begins, never longer than is printed in one go', () => {
  const of = (id: string, min: number, lengthMm = 1000, key = 'banner') => ({
    ...{ id, key, startedMs: min * MIN, lengthMm, longestMm: 3000 },
  });
  const runs = [of('d', 130), of('a', 0), of('x', 5, 1000, 'film'), of('b', 60), of('c', 120)];
  expect(collectRuns(runs, 2 * 60 * MIN)).toEqual([['a', 'b', 'c']]);
  expect(collectRuns(runs, 119 * MIN)).toEqual([
    ['a', 'b'],
    ['c', 'd'],
  ]);
  expect(collectRuns([of('a', 0, 2000), of('b', 1, 1500), of('c', 2, 1500)], 60 * MIN)).toEqual([['b', 'c']]);
  expect(collectRuns(runs, 0)).toEqual([]);
});
