import { findRun } from '../../db/findRows.ts';
import { TESTER } from '../../testing/tester.ts';
import { eq } from 'drizzle-orm';
import { pieces, runs } from '../../db/tables/schema.ts';
import { runDetail, runItems } from '../../db/runViews.ts';
import { jobItem, latestLog } from '../../db/views.ts';
import { Refused } from '../../shop.ts';
import { admitPlain, openTestShop, type TestShop } from '../../testing/shopFixture.ts';
import { changeJob } from '../ticket/changeJobs.ts';
import { createRun } from '../run/createRun.ts';
import { layOutRun } from './layOutRun.ts';
import { noteSeriesQueued, queueRun } from '../run/queueRun.ts';
import { takeSeriesBack } from '../run/returnToDraft.ts';
import { draftsOfSeries, joinSeries, segmentRun } from './segmentRun.ts';

let shop: TestShop;
let close: () => void;
beforeEach(() => {
  ({ shop, close } = openTestShop());
});
afterEach(() => {
  close();
});

/** Labels on Magpie: 420 mm hang freely, 25 + 25 mm are margins, 40 mm the end cut. */
function labels(copies: number, size: readonly [number, number] = [325, 105]): { jobId: string; runId: string } {
  const jobId = admitPlain(shop, 'labels.pdf', [size], 'magpie-labels');
  changeJob(shop, jobId, { copies, quarterTurn: false }, TESTER);
  return { jobId, runId: createRun(shop, [jobId], TESTER) };
}

test('430 labels become 36 runs of up to 12 that no longer hang to the floor; every piece is in one of them', () => {
  const { jobId, runId } = labels(430);
  const ids = segmentRun(shop, runId, {}, TESTER);
  const items = runItems(shop.db, ids);
  expect(items.map((run) => run.pieceCount)).toEqual([...Array.from({ length: 35 }, () => 12), 10]);
  expect(items.map((run) => run.series?.no)).toEqual(ids.map((_, i) => i + 1));
  expect(Math.max(...items.map((run) => run.lengthMm)) + 40).toBeLessThanOrEqual(420);
  expect(items.every((run) => run.state === 'draft' && run.estimateMs > 0)).toBe(true);
  expect(findRun(shop.db, runId)?.state).toBe('cancelled');
  const held = shop.db.select().from(pieces).where(eq(pieces.jobId, jobId)).all();
  expect(held.filter((piece) => piece.state === 'placed' && ids.includes(piece.runId ?? ''))).toHaveLength(430);
  for (const id of ids) queueRun(shop, id, TESTER);
  expect(runItems(shop.db, ids).every((run) => run.state === 'queued')).toBe(true);
});

test('segments are put together again; those that were queued stay as they are', () => {
  const { jobId, runId } = labels(40);
  const ids = segmentRun(shop, runId, {}, TESTER);
  const series = runItems(shop.db, ids)[0]?.series?.id ?? '';
  queueRun(shop, ids[0] ?? '', TESTER);
  expect(draftsOfSeries(shop.db, series)).toEqual(ids.slice(1));
  const joined = runDetail(shop.db, joinSeries(shop, series, TESTER));
  expect(joined).toMatchObject({ state: 'draft', pieceCount: 28, series: null });
  expect(joined?.pieces.some((piece) => piece.placed)).toBe(false);
  expect(jobItem(shop.db, jobId)).toMatchObject({ pieces: { placed: 40, owed: 0 } });
  expect(draftsOfSeries(shop.db, series)).toEqual([]);
});

test('segments that were queued together are taken back together, in their order, under their numbers; what prints goes on', () => {
  const { jobId, runId } = labels(40);
  const ids = segmentRun(shop, runId, {}, TESTER);
  for (const id of ids) queueRun(shop, id, TESTER);
  noteSeriesQueued(shop, ids, TESTER);
  const { undo } = latestLog(shop.db, 1)[0] ?? {};
  const before = runItems(shop.db, ids);
  const series = before[0]?.series?.id ?? '';
  expect(undo).toMatchObject({ method: 'POST', path: `/api/series/${series}/take-back` });
  const [first = '', ...others] = ids;
  shop.db.update(runs).set({ state: 'printing' }).where(eq(runs.id, first)).run();
  const drafts = runItems(shop.db, takeSeriesBack(shop, series, TESTER));
  expect(drafts.map(({ state, number, series: own }) => [state, number, own?.no])).toEqual(
    before.slice(1).map(({ number, series: own }) => ['draft', number, own?.no]),
  );
  expect(drafts.map(({ lengthMm }) => lengthMm)).toEqual(before.slice(1).map(({ lengthMm }) => lengthMm));
  expect(others.map((id) => findRun(shop.db, id)?.state)).toEqual(others.map(() => 'cancelled'));
  expect(findRun(shop.db, first)?.state).toBe('printing');
  expect(jobItem(shop.db, jobId)?.pieces).toMatchObject({ owed: 0 });
  expect(() => takeSeriesBack(shop, series, TESTER)).toThrow('None of these segments is queued any more.');
});

test('what can not be cut is refused with its figures, and the draft stays', () => {
  const refused = (act: () => unknown): string => {
    try {
      act();
    } catch (error) {
      if (error instanceof Refused) return `${error.code}: ${error.message}`;
      throw error;
    }
    return 'was cut';
  };
  const { runId } = labels(4, [300, 340]);
  expect(refused(() => segmentRun(shop, runId, {}, TESTER))).toBe(
    'too-long: labels.pdf is longer than a segment may be: 340\u00a0mm of 330\u00a0mm.',
  );
  expect(refused(() => segmentRun(shop, runId, { mostMm: 2000 }, TESTER))).toContain('one-segment');
  const banner = createRun(shop, [admitPlain(shop, 'banner.pdf', [[900, 600]])], TESTER);
  expect(refused(() => segmentRun(shop, banner, {}, TESTER))).toContain('no-free-hang');
  expect(runDetail(shop.db, runId)).toMatchObject({ state: 'draft', pieceCount: 4 });
});

test('so many pieces a segment, and rows that were laid by hand, are what the segments are made of', () => {
  const { runId } = labels(30);
  const byTens = segmentRun(shop, runId, { mostPieces: 10 }, TESTER);
  expect(runItems(shop.db, byTens).map((run) => run.pieceCount)).toEqual([10, 10, 10]);
  const { runId: laidId } = labels(6);
  expect(() => segmentRun(shop, laidId, { rows: 'as laid' }, TESTER)).toThrow('6 pieces have no place yet.');
  const { settings, pieces: owed } = runDetail(shop.db, laidId) ?? { settings: undefined, pieces: [] };
  if (!settings) throw new Error('no run');
  // Two rows of three, each turned, 300 mm apart.
  const placements = owed.map(({ pieceId }, i) => ({
    pieceId,
    xMm: (i % 3) * 120,
    yMm: 25 + Math.floor(i / 3) * 625,
    angleDeg: 90,
  }));
  layOutRun(shop, laidId, { settings, placements }, { by: TESTER });
  const ids = segmentRun(shop, laidId, { rows: 'as laid' }, TESTER);
  const segments = ids.map((id) =>
    runDetail(shop.db, id)?.pieces.map(({ xMm, yMm, angleDeg }) => [xMm, yMm, angleDeg]),
  );
  const row = [0, 120, 240].map((xMm) => [xMm, 25, 90]);
  expect(segments).toEqual([row, row]);
});
