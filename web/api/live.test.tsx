/** @jest-environment jsdom */
import { act, cleanup, renderHook, waitFor } from '@testing-library/react';
import { SWRConfig, useSWRConfig } from 'swr';
import { answering } from '../testing/answers.ts';
import { KEYS, type JobItem, type Printer, type SpoolView } from './data.ts';
import { mmText } from '../../core/units/lengthText.ts';
import { setPreferences } from '../ui/preferences.ts';
import { useLive } from './live.ts';
import { usePastJobs } from './pastJobs.ts';

/** Stands in for the browser's line to the server. */
class FakeSource {
  static last: FakeSource;
  onopen: (() => void) | undefined;
  onerror: (() => void) | undefined;
  closed = false;
  private readonly listeners = new Map<string, (message: { data: string }) => void>();

  constructor() {
    FakeSource.last = this;
  }

  addEventListener(event: string, listener: (message: { data: string }) => void): void {
    this.listeners.set(event, listener);
  }

  close(): void {
    this.closed = true;
  }

  says(event: string, data: unknown): void {
    act(() => {
      this.listeners.get(event)?.({ data: JSON.stringify(data) });
    });
  }
}

beforeEach(() => {
  globalThis.EventSource = FakeSource as unknown as typeof EventSource;
});
afterEach(cleanup);

function listening() {
  const hook = renderHook(() => ({ ...useLive(), ...useSWRConfig() }), {
    wrapper: ({ children }) => (
      <SWRConfig value={{ provider: () => new Map(), dedupingInterval: 0 }}>{children}</SWRConfig>
    ),
  });
  const { cache, mutate } = hook.result.current;
  return {
    ...hook,
    has: async (key: string, data: unknown) => {
      await act(async () => {
        await mutate(key, data, { revalidate: false });
      });
    },
    list: (key: string): unknown => cache.get(key)?.data,
  };
}

const job = (id: string, state = 'ready') => ({ id, state }) as unknown as JobItem;
const open = (): void => {
  act(() => {
    FakeSource.last.onopen?.();
  });
};

test('the page says whether it hears the shop, and hears the clock', () => {
  answering(() => ({ status: 200, body: [] }));
  const { result, unmount } = listening();
  expect(result.current.link).toBe('connecting');
  open();
  expect(result.current.link).toBe('live');
  FakeSource.last.says('clock', { nowMs: 5, rate: 60 });
  expect(result.current.time).toMatchObject({ nowMs: 5, rate: 60 });
  act(() => {
    FakeSource.last.onerror?.();
  });
  expect(result.current.link).toBe('lost');
  unmount();
  expect(FakeSource.last.closed).toBe(true);
});

test('a job that changes changes in the list; one that is printed leaves the list of jobs at work', async () => {
  answering(() => ({ status: 200, body: [] }));
  const { has, list } = listening();
  await has(KEYS.jobs, [job('a'), job('b')]);
  FakeSource.last.says('job', job('b', 'blocked'));
  FakeSource.last.says('job', job('c'));
  await waitFor(() => {
    expect((list(KEYS.jobs) as JobItem[] | undefined)?.map(({ id, state }) => `${id} ${state}`)).toEqual([
      'a ready',
      'b blocked',
      'c ready',
    ]);
  });
  FakeSource.last.says('job', job('a', 'printed'));
  FakeSource.last.says('job', { id: 'b', gone: true });
  await waitFor(() => {
    expect((list(KEYS.jobs) as JobItem[] | undefined)?.map(({ id }) => id)).toEqual(['c']);
  });
});

test('a job that a list of the past shows, and that is owed again, renews that list', async () => {
  const past = [job('old', 'printed')];
  const asked = answering(({ path }) => ({
    status: 200,
    body: path.startsWith('/api/jobs?') ? { items: [...past], nextCursor: null } : [],
  }));
  const { result } = renderHook(
    () => {
      useLive();
      return { ...usePastJobs({ which: 'past', text: '', queueId: null }), ...useSWRConfig() };
    },
    {
      wrapper: ({ children }) => (
        <SWRConfig value={{ provider: () => new Map(), dedupingInterval: 0 }}>{children}</SWRConfig>
      ),
    },
  );
  await waitFor(() => {
    expect(result.current.items.map(({ id }) => id)).toEqual(['old']);
  });
  // The list of jobs at work has been read once more before the page hears of the change.
  await act(async () => {
    await result.current.mutate(KEYS.jobs, [job('old')], { revalidate: false });
  });
  past.pop();
  FakeSource.last.says('job', job('old'));
  await waitFor(
    () => {
      expect(result.current.items).toEqual([]);
    },
    { timeout: 20_000 },
  );
  expect(asked.filter(({ path }) => path.startsWith('/api/jobs?'))).toHaveLength(2);
});

test('a spool that loses length shows it in the rack and in the printer that holds it', async () => {
  answering(() => ({ status: 200, body: [] }));
  const { has, list } = listening();
  const spool = { id: 's', printerId: 'p', leftMm: 9000 } as SpoolView;
  await has(KEYS.spools, [spool]);
  await has(KEYS.printers, [{ id: 'p', spools: [spool] } as Printer]);
  FakeSource.last.says('spool', { ...spool, leftMm: 7000 });
  await waitFor(() => {
    expect((list(KEYS.spools) as SpoolView[] | undefined)?.[0]?.leftMm).toBe(7000);
    expect((list(KEYS.printers) as Printer[] | undefined)?.[0]?.spools[0]?.leftMm).toBe(7000);
  });
});

test('what a draft’s own page edits is not overwritten by what is told of it', async () => {
  answering(() => ({ status: 200, body: [] }));
  const { has, list, result } = listening();
  const draft = { id: 'r', state: 'draft', lengthMm: 100, pair: null };
  await has(KEYS.runs, [draft]);
  await has('/api/runs/r', draft);
  FakeSource.last.says('run', { ...draft, lengthMm: 250 });
  await waitFor(() => {
    expect((list(KEYS.runs) as { lengthMm: number }[] | undefined)?.[0]?.lengthMm).toBe(250);
  });
  expect((result.current.cache.get('/api/runs/r')?.data as typeof draft).lengthMm).toBe(100);
  FakeSource.last.says('run', { ...draft, state: 'printing', lengthMm: 250 });
  await waitFor(() => {
    expect((result.current.cache.get('/api/runs/r')?.data as typeof draft).state).toBe('printing');
  });
});

test('what comes by itself is said in the unit of this person, as what was asked for is', async () => {
  setPreferences({ units: 'in' });
  const { has, list } = listening();
  open();
  await has(KEYS.printers, [{ id: 'heron' }]);
  FakeSource.last.says('printer', { id: 'heron', held: { text: `BO-31 is ${mmText(508)} wide` } });
  await waitFor(() => {
    expect(list(KEYS.printers)).toEqual([{ id: 'heron', held: { text: 'BO-31 is 20 in wide' } }]);
  });
  setPreferences({ units: 'metric' });
});
