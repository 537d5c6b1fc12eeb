import { findRun } from '../../db/findRows.ts';
import { TESTER } from '../../testing/tester.ts';
import { eq } from 'drizzle-orm';
import type { TwoSidesOrder } from '../../../contract/api/run.ts';
import { spoolLeftMm } from '../../db/printerViews.ts';
import { runDetail } from '../../db/runViews.ts';
import { jobItem } from '../../db/views.ts';
import { pieces, runs } from '../../db/tables/schema.ts';
import { NO_MARKS } from '../../../core/layout/marks/markSettings.ts';
import { Refused } from '../../shop.ts';
import { admitPlain, openTestShop, type TestShop } from '../../testing/shopFixture.ts';
import { changeJob } from '../ticket/changeJobs.ts';
import { createRun } from '../run/createRun.ts';
import { laidPieces } from './measureRun.ts';
import { loadSpool } from '../media/loadSpool.ts';
import { marksOfRun } from './runMarks.ts';
import { layOutRun } from './layOutRun.ts';
import { recordRunReport } from '../device/machineReports.ts';
import { nestDraft } from './nestDraft.ts';
import { queueRun } from '../run/queueRun.ts';
import { cancelQueuedRun, dissolveRun } from '../run/cancelRun.ts';
import { returnToDraft } from '../run/returnToDraft.ts';
import { changeSides, confirmBack, oneSideOnly, printTwoSides } from './twoSides.ts';

let shop: TestShop;
let close: () => void;
beforeEach(() => {
  ({ shop, close } = openTestShop());
});
afterEach(() => {
  close();
});

const PLAIN = {
  turn: 'end for end',
  content: 'readable',
  pieceTurn: 'like a book',
  offsetXMm: 0,
  offsetYMm: 0,
} as const;
const PAGES: TwoSidesOrder = { ...PLAIN, backs: { kind: 'every second page' } };

const detail = (id: string) => {
  const run = runDetail(shop.db, id);
  if (!run) throw new Error(`no run ${id}`);
  return run;
};
const backOf = (id: string): string => detail(id).pair?.otherRunId ?? '';

async function leaflet(pages: number, copies: number, order: TwoSidesOrder): Promise<{ jobId: string; runId: string }> {
  const size = [400, 300] as const;
  const jobId = admitPlain(
    shop,
    'leaflet.pdf',
    Array.from({ length: pages }, () => size),
  );
  changeJob(shop, jobId, { copies }, TESTER);
  const runId = createRun(shop, [jobId], TESTER);
  printTwoSides(shop, runId, order, TESTER);
  layOutRun(shop, runId, await nestDraft(shop, runId, 20), { by: TESTER });
  return { jobId, runId };
}

function refused(act: () => unknown): string {
  try {
    act();
  } catch (error) {
    if (error instanceof Refused) return `${error.code}: ${error.message}`;
    throw error;
  }
  return 'was done';
}

function report(runId: string, status: 'printing' | 'printed' | 'failed', lengthMm: number): void {
  const row = findRun(shop.db, runId);
  recordRunReport(shop, {
    runId,
    attempt: row?.attempt ?? 0,
    seq: (row?.reportSeq ?? 0) + 1,
    status,
    phase: 'print',
    lengthMm,
    fedMm: lengthMm + 10,
    msLeft: 0,
    inkMl: {},
    reason: null,
    startedMs: 1,
    endedMs: status === 'printing' ? null : 2,
  });
}

/** As the dispatcher does. */
function send(runId: string): void {
  shop.db.update(runs).set({ state: 'sent', attempt: 1 }).where(eq(runs.id, runId)).run();
}

test('every second page lies behind the one before it, follows when the front is moved, and comes back', async () => {
  const { jobId, runId } = await leaflet(4, 3, PAGES);
  const [front, back] = [detail(runId), detail(backOf(runId))];
  expect([front.pieces.map((p) => p.page), back.pieces.map((p) => p.page)]).toEqual([
    [0, 0, 0, 2, 2, 2],
    [1, 1, 1, 3, 3, 3],
  ]);
  expect(back.lengthMm).toBe(front.lengthMm);
  const moved = front.pieces.map((piece) => ({ ...piece, yMm: piece.yMm + 40 }));
  layOutRun(shop, runId, { settings: front.settings, placements: moved }, { by: TESTER });
  const [after, behind] = [detail(runId), detail(backOf(runId))];
  for (const [i, piece] of after.pieces.entries()) {
    const own = behind.pieces[i];
    const high = piece.angleDeg % 180 === 0 ? piece.heightMm : piece.widthMm;
    expect(own?.xMm).toBeCloseTo(piece.xMm, 6);
    expect(own?.yMm).toBeCloseTo(after.lengthMm - piece.yMm - high, 6);
    expect(own?.angleDeg).toBe((180 - piece.angleDeg + 360) % 360);
  }
  changeSides(shop, runId, { ...PLAIN, turn: 'side for side', offsetXMm: 0.5 });
  expect(detail(backOf(runId)).pieces[0]?.yMm).toBeCloseTo(after.pieces[0]?.yMm ?? NaN, 6);
  expect(
    refused(() => {
      layOutRun(shop, backOf(runId), { settings: back.settings, placements: [] }, { by: TESTER });
    }),
  ).toContain('back-follows');
  oneSideOnly(shop, runId, TESTER);
  expect(detail(runId)).toMatchObject({ pieceCount: 12, pair: null });
  expect(jobItem(shop.db, jobId)).toMatchObject({ pieces: { placed: 12, owed: 0 } });
});

test('the back can not start before the front is printed and a person confirms the same spool; it takes no new media', async () => {
  const { jobId, runId } = await leaflet(2, 2, PAGES);
  const backId = backOf(runId);
  queueRun(shop, backId, TESTER);
  const [front, back] = [detail(runId), detail(backId)];
  expect([front.state, back.state, back.position > front.position]).toEqual(['queued', 'queued', true]);
  const spoolId = front.spoolId ?? '';
  expect(
    refused(() => {
      confirmBack(shop, backId, spoolId, TESTER);
    }),
  ).toContain('front-first');
  send(runId);
  report(runId, 'printing', 100);
  report(runId, 'printed', front.lengthMm);
  const left = spoolLeftMm(shop.db, spoolId);
  expect(
    refused(() => {
      confirmBack(shop, backId, 'spool-elsewhere', TESTER);
    }),
  ).toContain('wrong-spool');
  expect(detail(backId).pair).toMatchObject({ side: 'back', frontPrinted: true, confirmed: false });
  confirmBack(shop, backId, spoolId, TESTER);
  expect(detail(backId).pair).toMatchObject({ confirmed: true });
  send(backId);
  report(backId, 'printing', 100);
  report(backId, 'printed', back.lengthMm);
  expect(spoolLeftMm(shop.db, spoolId)).toBe(left);
  expect(jobItem(shop.db, jobId)).toMatchObject({ state: 'printed', pieces: { printed: 4 } });
});

test('a front that fails takes its back off the line; both sides are taken back, cancelled and dissolved together', async () => {
  const { jobId, runId } = await leaflet(2, 2, PAGES);
  queueRun(shop, runId, TESTER);
  const draftId = returnToDraft(shop, runId, TESTER);
  expect([detail(draftId).state, detail(backOf(draftId)).state]).toEqual(['draft', 'draft']);
  expect(detail(backOf(draftId)).pieces.map((piece) => piece.placed)).toEqual([true, true]);
  const backId = backOf(draftId);
  queueRun(shop, draftId, TESTER);
  send(draftId);
  report(draftId, 'printing', 10);
  report(draftId, 'failed', 10);
  expect(detail(backId)).toMatchObject({ state: 'cancelled' });
  expect(jobItem(shop.db, jobId)).toMatchObject({ pieces: { owed: 4, placed: 0 } });
  const again = createRun(shop, [jobId], TESTER);
  printTwoSides(shop, again, PAGES, TESTER);
  layOutRun(shop, again, await nestDraft(shop, again, 20), { by: TESTER });
  queueRun(shop, again, TESTER);
  cancelQueuedRun(shop, backOf(again), TESTER);
  expect(jobItem(shop.db, jobId)).toMatchObject({ pieces: { owed: 4, placed: 0 } });
});

test('the same picture on both sides: its backs are pieces of their own, and go when they are given up', async () => {
  const order: TwoSidesOrder = { ...PLAIN, content: 'show-through', backs: { kind: 'the same picture' } };
  const { jobId, runId } = await leaflet(1, 3, order);
  expect(jobItem(shop.db, jobId)).toMatchObject({ pieces: { placed: 6 } });
  dissolveRun(shop, runId, TESTER);
  expect(jobItem(shop.db, jobId)).toMatchObject({ pieces: { owed: 3, placed: 0 } });
  expect(shop.db.select().from(pieces).where(eq(pieces.side, 'back')).all()).toEqual([]);
});

test('what has no back, another size or other copies is refused with the figures, and the draft stays', async () => {
  await expect(leaflet(3, 1, PAGES)).rejects.toThrow('Page 3 of leaflet.pdf has no page behind it.');
  const a = admitPlain(shop, 'a.pdf', [[400, 300]]);
  const b = admitPlain(shop, 'b.pdf', [[410, 300]]);
  const c = admitPlain(shop, 'c.pdf', [[400, 300]]);
  changeJob(shop, c, { copies: 3 }, TESTER);
  const runId = createRun(shop, [a, b, c], TESTER);
  const behind = (backJobId: string): TwoSidesOrder => ({
    ...PLAIN,
    backs: { kind: 'other jobs', pairs: [{ frontJobId: a, backJobId }] },
  });
  expect(
    refused(() => {
      printTwoSides(shop, runId, behind(b), TESTER);
    }),
  ).toBe('sizes-differ: a.pdf is 400 × 300\u00a0mm, b.pdf behind it 410 × 300\u00a0mm.');
  expect(
    refused(() => {
      printTwoSides(shop, runId, behind(c), TESTER);
    }),
  ).toBe('copies-differ: a.pdf has 1 piece, c.pdf behind it 3.');
  expect(detail(runId)).toMatchObject({ pair: null, pieceCount: 5 });
});

test('another roll of the same stock is no printed media: the back keeps its spool, and what was confirmed is void', async () => {
  const { runId } = await leaflet(2, 1, PAGES);
  const backId = backOf(runId);
  queueRun(shop, runId, TESTER);
  await loadSpool(shop, 'spool-bo-32', { printerId: 'heron', sourceId: 'roll' }, TESTER);
  // While nothing is printed, both go to the roll that is there.
  expect([detail(runId).spoolId, detail(backId).spoolId]).toEqual(['spool-bo-32', 'spool-bo-32']);
  send(runId);
  report(runId, 'printing', 100);
  report(runId, 'printed', detail(runId).lengthMm);
  confirmBack(shop, backId, 'spool-bo-32', TESTER);
  await loadSpool(shop, 'spool-bo-31', { printerId: 'heron', sourceId: 'roll' }, TESTER);
  expect(detail(backId)).toMatchObject({ spoolId: 'spool-bo-32', pair: { confirmed: false } });
  expect(
    refused(() => {
      confirmBack(shop, backId, 'spool-bo-31', TESTER);
    }),
  ).toBe('wrong-spool: The front is on BO-32; BO-31 is another one.');
  await loadSpool(shop, 'spool-bo-32', { printerId: 'heron', sourceId: 'roll' }, TESTER);
  confirmBack(shop, backId, 'spool-bo-32', TESTER);
  expect(detail(backId).pair).toMatchObject({ confirmed: true });
});

test.each(['side for side', 'end for end'] as const)(
  'turned %s, the registration marks of both sides lie on each other, also beside an exercise strip',
  async (turn) => {
    const { runId } = await leaflet(2, 4, { ...PAGES, turn });
    const marks = {
      ...NO_MARKS,
      registration: { ...NO_MARKS.registration, on: true },
      strip: { ...NO_MARKS.strip, on: true },
    };
    layOutRun(shop, runId, { settings: { ...detail(runId).settings, marks }, placements: [] }, { by: TESTER });
    layOutRun(shop, runId, await nestDraft(shop, runId, 20), { by: TESTER });
    const dotsOf = (id: string): string[] => {
      const run = findRun(shop.db, id);
      if (!run) throw new Error(`no run ${id}`);
      const { usableFromMm, mediaWidthMm, lengthMm } = detail(id);
      const back = id !== runId;
      return marksOfRun(shop.db, run, laidPieces(shop.db, id))
        .marks.flatMap((mark) => (mark.kind === 'dot' ? [mark] : []))
        .map(({ xMm, yMm }) => {
          const x = back && turn === 'side for side' ? mediaWidthMm - xMm - usableFromMm : xMm + usableFromMm;
          const y = back && turn === 'end for end' ? lengthMm - yMm : yMm;
          return `${x.toFixed(3)} ${y.toFixed(3)}`;
        })
        .sort();
    };
    expect(dotsOf(runId).length).toBeGreaterThan(3);
    expect(dotsOf(backOf(runId))).toEqual(dotsOf(runId));
  },
);

test('what the backs leave behind is no layout: the fronts are nested again, locked ones stay', async () => {
  const jobId = admitPlain(shop, 'card.pdf', [
    [400, 300],
    [400, 300],
  ]);
  changeJob(shop, jobId, { copies: 2 }, TESTER);
  const runId = createRun(shop, [jobId], TESTER);
  const nested = await nestDraft(shop, runId, 20);
  const keep = detail(runId).pieces.find((piece) => piece.page === 0)?.pieceId;
  const placements = nested.placements.map((place) => ({ ...place, locked: place.pieceId === keep }));
  layOutRun(shop, runId, { ...nested, placements }, { by: TESTER });
  printTwoSides(shop, runId, PAGES, TESTER);
  expect(detail(runId).pieces.map((piece) => [piece.pieceId === keep, piece.placed])).toEqual([
    [true, true],
    [false, false],
  ]);
  expect(
    refused(() => {
      queueRun(shop, runId, TESTER);
    }),
  ).toContain('not-laid-out');
});
