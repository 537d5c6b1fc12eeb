import type { JobItem } from '../../api/data.ts';
import { NO_FILTER, belongs, filterJobs } from './filter.ts';

const PIECES = { owed: 0, placed: 0, printing: 0, printed: 0, spoiled: 0 };

function job(sourceName: string, change: Partial<JobItem> = {}): JobItem {
  return {
    id: `job-${sourceName}`,
    seq: 1,
    sourceName,
    format: 'pdf',
    widthMm: 100,
    heightMm: 100,
    pages: 1,
    state: 'ready',
    findings: [],
    queueId: 'heron-banners',
    stockId: 'block-out',
    priority: 'normal',
    look: '',
    copies: 1,
    customer: null,
    orderNo: null,
    dueMs: null,
    bytes: 1,
    arrivedMs: 0,
    pieces: { ...PIECES, owed: 1 },
    ...change,
  };
}

const ALL = [
  job('Stall banner.pdf', { customer: 'Lantern Street Night Market', orderNo: 'LM-77' }),
  job('Floor fish.png', {
    queueId: 'magpie-labels',
    findings: [{ code: 'resolution', severity: 'warn', text: '40 dpi at this size', figures: {}, mends: [] }],
  }),
  job('Half done.pdf', { state: 'placed', pieces: { ...PIECES, owed: 2, placed: 3 } }),
  job('In a run.pdf', { state: 'printing', pieces: { ...PIECES, printing: 3 } }),
  job('Done.pdf', { state: 'printed', pieces: { ...PIECES, printed: 3 } }),
  job('Given up.pdf', { state: 'cancelled' }),
];
const names = (change: Partial<typeof NO_FILTER>): string[] =>
  filterJobs(ALL, { ...NO_FILTER, ...change }).map((each) => each.sourceName);

test('waiting is what still needs a hand, also the rest of a job that is partly in a run', () => {
  expect(names({})).toEqual(['Stall banner.pdf', 'Floor fish.png', 'Half done.pdf']);
  expect(names({ show: 'in runs' })).toEqual(['Half done.pdf', 'In a run.pdf']);
  expect(names({ show: 'printed' })).toEqual(['Done.pdf', 'Given up.pdf']);
  expect(names({ show: 'all' })).toHaveLength(6);
});

test('each job is found by any part of name, customer, order, state and findings; all words must be there', () => {
  expect(names({ text: 'night lm-7' })).toEqual(['Stall banner.pdf']);
  expect(names({ text: '40 DPI' })).toEqual(['Floor fish.png']);
  expect(names({ text: 'banner dpi' })).toEqual([]);
  expect(names({ text: 'cancelled', show: 'all' })).toEqual(['Given up.pdf']);
  expect(names({ queueId: 'magpie-labels' })).toEqual(['Floor fish.png']);
});

test('every job belongs to at least one of the lists beside all', () => {
  for (const each of ALL)
    expect((['waiting', 'in runs', 'printed'] as const).some((show) => belongs(each, show))).toBe(true);
});
