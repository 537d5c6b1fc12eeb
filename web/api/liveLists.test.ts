import fc from 'fast-check';
import type { LogEvent } from '../../contract/api/common.ts';
import type { JobItem, Printer, RefusalView, SpoolView } from './data.ts';
import { type Gone, gatherer, isAtWork, merged, newestFirst, one, withEvent, withSpool } from './liveLists.ts';

interface Thing {
  readonly id: string;
  readonly at: number;
}

/** What happens to a list on the server, in the order in which it is told. */
const changes = fc.array(
  fc.record({ id: fc.constantFrom('a', 'b', 'c', 'd', 'e'), gone: fc.boolean(), at: fc.nat(99) }),
  { maxLength: 30 },
);
const told = ({ id, gone, at }: { id: string; gone: boolean; at: number }): Thing | Gone =>
  gone ? { id, gone: true } : { id, at };

test('whatever is told, one by one or gathered, the list is what the server has', () => {
  fc.assert(
    fc.property(changes, fc.nat(30), (all, cut) => {
      const server = new Map<string, Thing>();
      for (const change of all) {
        const item = told(change);
        if ('gone' in item) server.delete(item.id);
        else server.set(item.id, item);
      }
      const byId = (list: readonly Thing[]): Thing[] => [...list].sort((a, b) => a.id.localeCompare(b.id));
      const single = all.reduce<Thing[]>((list, change) => merged(one(told(change)))(list), []);
      const gathered = [all.slice(0, cut), all.slice(cut)].reduce<Thing[]>(
        (list, part) => merged(new Map(part.map((change) => [change.id, told(change)])))(list),
        [],
      );
      expect(byId(single)).toEqual(byId([...server.values()]));
      expect(byId(gathered)).toEqual(byId([...server.values()]));
    }),
  );
});

test('what changes keeps its place in the list; what is new goes to its end', () => {
  const list: Thing[] = ['a', 'b', 'c'].map((id, at) => ({ id, at }));
  const next = merged<Thing>(
    new Map<string, Thing | Gone>([
      ['d', { id: 'd', at: 9 }],
      ['b', { id: 'b', at: 7 }],
      ['c', { id: 'c', gone: true }],
    ]),
  )(list);
  expect(next).toEqual([
    { id: 'a', at: 0 },
    { id: 'b', at: 7 },
    { id: 'd', at: 9 },
  ]);
  // The old list is somebody's state: it is left as it was.
  expect(list).toHaveLength(3);
});

test('the log: each event once, the newest first, however they come, and no more than are shown', () => {
  const event = (id: number): LogEvent => ({
    id,
    atMs: id,
    kind: 'run.dissolved',
    subjectType: 'run',
    subjectId: 'r',
    who: 'x',
    actorKind: 'person',
    actorId: null,
    data: { run: id },
    text: '',
  });
  fc.assert(
    fc.property(fc.array(fc.integer({ min: 1, max: 200 }), { maxLength: 150 }), (ids) => {
      const log = ids.reduce<LogEvent[]>((list, id) => withEvent(list, event(id)), []).map(({ id }) => id);
      const newest = [...new Set(ids)].sort((a, b) => b - a);
      expect(log).toEqual([...new Set(log)].sort((a, b) => b - a));
      expect(log.length).toBe(Math.min(60, newest.length));
      expect(log[0]).toBe(newest[0]);
    }),
  );
});

test('a spool that is carried from one printer to another is on one of them, and on none when it is on the rack', () => {
  const printers = ['heron', 'gannet'].map((id) => ({ id, spools: [] as SpoolView[] }) as unknown as Printer);
  const spool = (printerId: string | null): SpoolView => ({ id: 's1', printerId }) as SpoolView;
  const on = (list: readonly Printer[]): string[] => list.filter(({ spools }) => spools.length > 0).map(({ id }) => id);
  let list = withSpool(spool('heron'))(printers);
  expect(on(list)).toEqual(['heron']);
  list = withSpool(spool('gannet'))(list);
  expect(on(list)).toEqual(['gannet']);
  list = withSpool(spool(null))(list);
  expect(on(list)).toEqual([]);
});

test('a refusal that is told again is there once, first; one that was dismissed is gone', () => {
  const refusal = (id: string): RefusalView => ({ id }) as RefusalView;
  const list = ['x', 'y'].reduce<RefusalView[]>((old, id) => newestFirst(refusal(id))(old), []);
  expect(list.map(({ id }) => id)).toEqual(['y', 'x']);
  expect(newestFirst(refusal('x'))(list).map(({ id }) => id)).toEqual(['x', 'y']);
  expect(newestFirst({ id: 'y', gone: true })(list).map(({ id }) => id)).toEqual(['x']);
});

test('jobs at work are those that something is still to be done with', () => {
  const states = [
    'arriving',
    'checked',
    'ready',
    'blocked',
    'placed',
    'printing',
    'printed',
    'shelved',
    'dropped',
    'cancelled',
  ];
  expect(states.filter((state) => isAtWork({ state } as JobItem))).toEqual(states.slice(0, 6));
});

test('a thousand changes of a moment redraw a list once, with the last word on each; nothing comes after the end', () => {
  jest.useFakeTimers();
  globalThis.window = globalThis as unknown as Window & typeof globalThis;
  const flushed: Map<string, Thing | Gone>[] = [];
  const gather = gatherer<Thing>((all) => flushed.push(all));
  for (let at = 0; at < 1000; at++) gather.add({ id: String(at % 10), at });
  jest.advanceTimersByTime(99);
  expect(flushed).toEqual([]);
  jest.advanceTimersByTime(1);
  expect(flushed).toHaveLength(1);
  expect([...(flushed[0]?.values() ?? [])]).toEqual(
    Array.from({ length: 10 }, (_, i) => ({ id: String(i), at: 990 + i })),
  );
  gather.add({ id: 'late', at: 1 });
  gather.stop();
  jest.advanceTimersByTime(1000);
  expect(flushed).toHaveLength(1);
  jest.useRealTimers();
});
