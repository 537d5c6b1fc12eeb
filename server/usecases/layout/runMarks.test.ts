import { findRun } from '../../db/findRows.ts';
import { TESTER } from '../../testing/tester.ts';
import { NO_MARKS, type MarkSettings, layoutSpace } from '../../../core/layout/marks/markSettings.ts';
import { runDetail } from '../../db/runViews.ts';
import { Refused } from '../../shop.ts';
import { admitPlain, openTestShop, type TestShop } from '../../testing/shopFixture.ts';
import { changeJob } from '../ticket/changeJobs.ts';
import { createRun } from '../run/createRun.ts';
import { layOutRun } from './layOutRun.ts';
import { laidPieces } from './measureRun.ts';
import { nestDraft } from './nestDraft.ts';
import { marksOfRun } from './runMarks.ts';
import { queueRun } from '../run/queueRun.ts';
import { segmentRun } from './segmentRun.ts';

let shop: TestShop;
let close: () => void;
beforeEach(() => {
  ({ shop, close } = openTestShop());
});
afterEach(() => {
  close();
});

const MARKS: MarkSettings = {
  ...NO_MARKS,
  crop: { ...NO_MARKS.crop, on: true },
  label: { ...NO_MARKS.label, on: true, pattern: '{job} {order} {copy}/{of}' },
  code: { ...NO_MARKS.code, on: true },
  slug: { ...NO_MARKS.slug, on: true },
};

async function marked(copies: number, marks: MarkSettings): Promise<string> {
  const jobId = admitPlain(shop, 'apron.pdf', [[200, 90]], 'magpie-labels');
  changeJob(shop, jobId, { copies, orderNo: 'LM-77' }, TESTER);
  const runId = createRun(shop, [jobId], TESTER);
  const plain = await nestDraft(shop, runId, 20);
  layOutRun(shop, runId, { ...plain, settings: { ...plain.settings, marks } }, { by: TESTER });
  layOutRun(shop, runId, await nestDraft(shop, runId, 20), { by: TESTER });
  return runId;
}

const rowOf = (id: string) => {
  const row = findRun(shop.db, id);
  if (!row) throw new Error(`no run ${id}`);
  return row;
};

test('the nest keeps the space of the marks, the length counts their bands, and labels say each piece', async () => {
  const runId = await marked(5, MARKS);
  const run = rowOf(runId);
  const laid = laidPieces(shop.db, runId);
  const space = layoutSpace(run.settings);
  expect(Math.min(...laid.map((piece) => piece.yMm))).toBeCloseTo(space.leadMm, 6);
  const end = Math.max(...laid.map((piece) => piece.yMm + piece.heightMm));
  expect(run.lengthMm).toBeCloseTo(end + space.trailMm, 6);
  const { marks, troubles } = marksOfRun(shop.db, run, laid);
  expect(troubles).toEqual([]);
  const texts = marks.flatMap((mark) => (mark.kind === 'text' ? [mark.text] : []));
  expect(texts.slice(1).sort()).toEqual([1, 2, 3, 4, 5].map((n) => `apron LM-77 ${String(n)}/5`));
  expect(texts[0]).toMatch(/^Run \d+ \d+ \w+ \d{4} Magpie /);
  const codes = marks.filter((mark) => mark.kind === 'code');
  expect(codes.map((code) => code.text)).toEqual([runId, runId]);
  queueRun(shop, runId, TESTER);
  expect(rowOf(runId).state).toBe('queued');
});

test('marks that lie on artwork, and codes that can not be read, are not queued; the figures say why', async () => {
  const runId = await marked(2, MARKS);
  const detail = runDetail(shop.db, runId);
  if (!detail) throw new Error('no run');
  const refusedWith = (settings: typeof detail.settings, yMm: number): string => {
    const placements = detail.pieces.map((piece, i) => ({
      pieceId: piece.pieceId,
      xMm: 10,
      yMm: yMm + i * 92,
      angleDeg: 0,
    }));
    layOutRun(shop, runId, { settings, placements }, { by: TESTER });
    try {
      queueRun(shop, runId, TESTER);
    } catch (error) {
      if (error instanceof Refused) return `${error.code}: ${error.message}`;
      throw error;
    }
    return 'was queued';
  };
  // Two millimetres between the pieces leave no room for a label and ticks.
  expect(refusedWith(detail.settings, 100)).toMatch(/^marks-on-art: \d+ of \d+ marks lie on artwork/);
  const small = { ...MARKS, crop: NO_MARKS.crop, label: NO_MARKS.label };
  const code = { ...small.code, kind: 'qr' as const, heightMm: 3 };
  expect(refusedWith({ ...detail.settings, marks: { ...small, code } }, 100)).toMatch(/^marks: The code is too small/);
  expect(rowOf(runId).state).toBe('draft');
});

test('segments leave room for marks: fewer rows, and every segment carries its own code', async () => {
  const plain = segmentRun(shop, await marked(40, NO_MARKS), {}, TESTER);
  const withMarks = segmentRun(shop, await marked(40, MARKS), {}, TESTER);
  expect(withMarks.length).toBeGreaterThan(plain.length);
  const said = withMarks.map((id) => {
    const { marks } = marksOfRun(shop.db, rowOf(id), laidPieces(shop.db, id));
    return marks.flatMap((mark) => (mark.kind === 'code' ? [mark.text] : []));
  });
  expect(said).toEqual(withMarks.map((id) => [id, id]));
  for (const id of withMarks) queueRun(shop, id, TESTER);
  expect(Math.max(...withMarks.map((id) => rowOf(id).lengthMm)) + 40).toBeLessThanOrEqual(420);
});
