import { type BatchMedia, type WaitingJob, changeOvers, proposeBatches } from './batches.ts';
import type { RunNestPiece } from '../runNest.ts';

function job(
  jobId: string,
  change: Partial<WaitingJob> & { readonly sizes?: readonly (readonly [number, number])[] } = {},
): WaitingJob {
  const { sizes = [[400, 300]], ...rest } = change;
  const pieces = sizes.map(([widthMm, heightMm], page): RunNestPiece => ({
    pieceId: `${jobId}-${String(page)}`,
    jobId,
    page,
    part: null,
    widthMm,
    heightMm,
    quarterTurn: false,
    halfTurn: true,
    grain: 'free',
    together: false,
    place: { kind: 'nested' },
    dueMs: null,
    customer: null,
    orderNo: null,
    panel: null,
    turnEverySecond: false,
  }));
  return { jobId, printerId: 'heron', runWide: { stockId: 'banner', modeId: 'fine' }, dueMs: null, pieces, ...rest };
}

const media = (longestMm = 50_000): BatchMedia => ({
  usableWidthMm: 1000,
  registeredEdge: 'left',
  rules: { gapMm: 0, leadMm: 20, trailMm: 20, quarterTurns: true },
  trailerMm: 60,
  longestMm,
});
const control = { stepBudget: 50, shouldStop: () => false };

test('jobs that share all run-wide values go together; what is saved is nested, not guessed', () => {
  const [batch, ...others] = proposeBatches(
    [job('a'), job('b'), job('c', { runWide: { stockId: 'mesh', modeId: 'fine' } })],
    () => media(),
    control,
  );
  expect(others).toEqual([]);
  // Side by side 300 mm, with 40 mm of margins and the trailer of 60; alone twice that.
  expect(batch).toMatchObject({ jobIds: ['a', 'b'], lengthMm: 400, aloneMm: 800 });
  expect(batch?.nearly).toEqual([{ jobId: 'c', differs: 'stockId' }]);
});

test('earlier due dates come first, other printers are apart, and a group that is too long is parted', () => {
  const jobs = [
    job('late', { dueMs: 900 }),
    job('early', { dueMs: 100 }),
    job('elsewhere', { printerId: 'bittern', dueMs: 1 }),
    job('next', { printerId: 'bittern', dueMs: 2 }),
  ];
  const batches = proposeBatches(jobs, () => media(), control);
  expect(batches.map(({ jobIds }) => jobIds)).toEqual([
    ['elsewhere', 'next'],
    ['early', 'late'],
  ]);
  const long = Array.from({ length: 8 }, (_, i) => job(String(i), { dueMs: i, sizes: [[900, 1000]] }));
  const parted = proposeBatches(long, () => media(4100), control);
  expect(parted.map(({ jobIds }) => jobIds.length)).toEqual([4, 4]);
  expect(parted[0]?.jobIds).toEqual(['0', '1', '2', '3']);
});

test('change-overs are counted between neighbours', () => {
  expect(changeOvers(['a', 'b', 'a', 'a'])).toBe(2);
  expect(changeOvers(['a', 'a', 'b'])).toBe(1);
  expect(changeOvers([])).toBe(0);
});
