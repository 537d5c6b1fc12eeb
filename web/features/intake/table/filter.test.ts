import type { JobItem } from '../../../api/data.ts';
import { NO_FILTER, type JobWords, belongs, filterJobs } from './filter.ts';
import { filterIn, withFilter } from './useFilter.ts';
import { type Shop, shopOf, sortJobs, tableRows, totalsOf } from './rows.ts';

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
    modeId: 'production',
    presetName: null,
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
const WORDS: JobWords = {
  queue: (id) => ({ 'heron-banners': 'Heron banners', 'magpie-labels': 'Magpie labels' })[id] ?? '',
  stock: (id) => (id === 'mesh' ? 'Mesh banner 1600' : 'Block-out banner 1600'),
  printerOf: (queueId) => (queueId === 'magpie-labels' ? 'Magpie' : 'Heron'),
};
const HOUR = 3_600_000;
const TODAY = { nowMs: 10 * HOUR, dayEndMs: 24 * HOUR, lateIds: new Set(['job-In a run.pdf']) };
const names = (change: Partial<typeof NO_FILTER>): string[] =>
  filterJobs(ALL, { ...NO_FILTER, ...change }, WORDS, TODAY).map((each) => each.sourceName);

test('waiting is what still needs a hand, also the rest of a job that is partly in a run', () => {
  expect(names({})).toEqual(['Stall banner.pdf', 'Floor fish.png', 'Half done.pdf']);
  expect(names({ show: 'in runs' })).toEqual(['Half done.pdf', 'In a run.pdf']);
  expect(names({ show: 'printed' })).toEqual(['Done.pdf', 'Given up.pdf']);
  expect(names({ show: 'all' })).toHaveLength(6);
});

test('each job is found by any part of name, customer, order, state and findings; all words must be there', () => {
  expect(names({ text: 'night lm-7' })).toEqual(['Stall banner.pdf']);
  expect(names({ text: '40 DPI' })).toEqual(['Floor fish.png']);
  expect(names({ text: 'stall dpi' })).toEqual([]);
  expect(names({ text: 'cancelled', show: 'all' })).toEqual(['Given up.pdf']);
  expect(names({ queueId: 'magpie-labels' })).toEqual(['Floor fish.png']);
});

test('every job belongs to at least one of the lists beside all', () => {
  for (const each of ALL)
    expect((['waiting', 'in runs', 'printed'] as const).some((show) => belongs(each, show, TODAY))).toBe(true);
});

test('a word can be looked for in one thing alone, sizes as people write them', () => {
  const jobs = [
    job('A banner.pdf', { customer: 'Marram Theatre', widthMm: 600, heightMm: 900, stockId: 'mesh' }),
    job('Marram lettering.pdf', { widthMm: 900, heightMm: 600, priority: 'rush', presetName: 'Fit the roll' }),
  ];
  const found = (text: string): string[] =>
    filterJobs(jobs, { ...NO_FILTER, text }, WORDS, TODAY).map((each) => each.sourceName);
  expect(found('marram')).toHaveLength(2);
  expect(found('customer:marram')).toEqual(['A banner.pdf']);
  expect(found('name:marram')).toEqual(['Marram lettering.pdf']);
  expect(found('600×900')).toEqual(['A banner.pdf']);
  expect(found('size:900x')).toEqual(['Marram lettering.pdf']);
  expect(found('stock:mesh heron')).toEqual(['A banner.pdf']);
  expect(found('preset:fit')).toEqual(['Marram lettering.pdf']);
  expect(found('rush')).toEqual(['Marram lettering.pdf']);
  expect(found('normal')).toEqual([]);
});

const NO_SHOP: Shop = { ...shopOf([], [], []), words: WORDS };

test('sorted by any column, the newest first where nothing else tells', () => {
  const jobs = [
    job('b.pdf', { seq: 3, dueMs: 50 }),
    job('a.pdf', { seq: 1, priority: 'rush' }),
    job('c.pdf', { seq: 2, dueMs: 20, pieces: { ...PIECES, owed: 5, printed: 4 } }),
  ];
  const by = (sort: Parameters<typeof sortJobs>[1]): string =>
    sortJobs(jobs, sort, WORDS)
      .map((each) => each.sourceName[0])
      .join('');
  expect(by({ by: 'name', down: false })).toBe('abc');
  expect(by({ by: 'arrived', down: true })).toBe('bca');
  // What has no due date comes last.
  expect(by({ by: 'due', down: false })).toBe('cba');
  expect(by({ by: 'pieces', down: true })).toBe('cba');
  expect(by({ by: 'priority', down: true })).toBe('abc');
});

test('groups come with what they add up to, and every job is in exactly one', () => {
  const jobs = [
    job('a.pdf', { customer: 'Marram Theatre', widthMm: 1000, heightMm: 500, pieces: { ...PIECES, owed: 4 } }),
    job('b.pdf', { widthMm: 100, heightMm: 100, pieces: { ...PIECES, owed: 1, printed: 2 } }),
    job('c.pdf', { customer: 'Marram Theatre', widthMm: 1000, heightMm: 1000, pieces: { ...PIECES, placed: 2 } }),
    job('d.pdf', { customer: 'Marram Theatre', state: 'cancelled', pieces: { ...PIECES, owed: 5 } }),
  ];
  const { rows, ordered } = tableRows(jobs, 'customer', NO_SHOP, String);
  expect(rows.map((row) => (row.kind === 'group' ? row.title : row.job.sourceName))).toEqual([
    'Marram Theatre',
    'a.pdf',
    'c.pdf',
    'd.pdf',
    'no customer',
    'b.pdf',
  ]);
  expect(rows.flatMap((row) => (row.kind === 'job' ? [row.index] : []))).toEqual([0, 1, 2, 3]);
  expect(ordered).toHaveLength(4);
  expect(rows[0]).toMatchObject({ totals: { jobs: 3, pieces: 6, areaM2: 4 } });
  expect(totalsOf(jobs, NO_SHOP)).toMatchObject({ jobs: 4, pieces: 7, areaM2: 4.01, hours: 0 });
});

test('late, due today and waiting for a person are asked of all work that is not over', () => {
  const jobs = [
    job('yesterday', { dueMs: -HOUR, state: 'placed' }),
    job('an hour ago', { dueMs: 9 * HOUR, pieces: { ...PIECES, owed: 2 } }),
    job('tonight', { dueMs: 24 * HOUR, state: 'printing' }),
    job('tomorrow', { dueMs: 24 * HOUR + 1, state: 'blocked' }),
    job('In a run.pdf', { state: 'printing', pieces: { ...PIECES, printing: 1 } }),
    job('over', { dueMs: 9 * HOUR, state: 'printed' }),
    job('on its way', { state: 'arriving', pieces: { ...PIECES, owed: 1 } }),
    job('spoiled some', { state: 'printing', pieces: { ...PIECES, owed: 1, printing: 3 } }),
  ];
  const shown = (show: (typeof NO_FILTER)['show']): string[] =>
    filterJobs(jobs, { ...NO_FILTER, show }, WORDS, TODAY).map((each) => each.sourceName);
  expect(shown('late')).toEqual(['yesterday', 'an hour ago', 'In a run.pdf']);
  expect(shown('due today')).toEqual(['yesterday', 'an hour ago', 'tonight']);
  expect(shown('waits for me')).toEqual(['yesterday', 'an hour ago', 'tonight', 'tomorrow', 'spoiled some']);
});

test('the filter stands in the address, beside what else stands there, and is read from it again', () => {
  const base = { ...NO_FILTER, queueId: 'heron-banners' };
  const next = { show: 'late', queueId: null, text: 'customer:marram 10 %' } as const;
  const address = withFilter(new URLSearchParams('job=job-1&show=all'), next);
  expect(address.get('job')).toBe('job-1');
  expect(filterIn(new URLSearchParams(address.toString()), base)).toEqual(next);
  expect(filterIn(withFilter(address, NO_FILTER), base)).toEqual(NO_FILTER);
  // An address that says nothing, or nonsense, changes nothing.
  expect(filterIn(new URLSearchParams('job=job-1'), base)).toEqual(base);
  expect(filterIn(new URLSearchParams('show=nonsense'), base)).toEqual(base);
});
