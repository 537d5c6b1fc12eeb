import { TESTER } from '../../testing/tester.ts';
import { counted } from '../../../core/counted.ts';
import { boundsOf } from '../../../core/geometry/polygon.ts';
import { findClashes } from '../../../core/layout/checkLayout.ts';
import { findPrinter } from '../../db/findRows.ts';
import { runDetail } from '../../db/runViews.ts';
import { Refused } from '../../shop.ts';
import { type TestShop, admitPlain, openTestShop } from '../../testing/shopFixture.ts';
import { changeJob } from '../ticket/changeJobs.ts';
import { createRun } from '../run/createRun.ts';
import { layOutRun } from '../layout/layOutRun.ts';
import { laidPieces } from '../layout/measureRun.ts';
import { nestDraft } from '../layout/nestDraft.ts';
import { cutsOfRun } from './runCuts.ts';
import { queueRun } from '../run/queueRun.ts';
import { printTwoSides } from '../layout/twoSides.ts';

let shop: TestShop;
let close: () => void;
beforeEach(() => {
  ({ shop, close } = openTestShop());
});
afterEach(() => {
  close();
});

const detail = (id: string) => {
  const run = runDetail(shop.db, id);
  if (!run) throw new Error(`no run ${id}`);
  return run;
};

/** An angle 300 × 200 mm, 50 mm wide, at 10, 10 of its page: two of them lie well in each other, mirrored ones not. */
const ANGLE = { from: 'spot', name: 'Knife', rings: [[10, 10, 310, 10, 310, 60, 60, 60, 60, 210, 10, 210]] } as const;

function angles(copies: number): string {
  const jobId = admitPlain(shop, 'angle.pdf', [[320, 220]], 'heron-banners', [ANGLE]);
  changeJob(shop, jobId, { copies, contour: { from: 'spot', name: 'Knife', offsetMm: 0, bleedMm: 3 } }, TESTER);
  return jobId;
}

test('what is cut of a run: contours where there are some, else the trim, and the end where it is cut off', async () => {
  const angle = angles(2);
  const card = admitPlain(shop, 'card.pdf', [[200, 100]]);
  changeJob(shop, card, { bleedMm: 4, quarterTurn: false }, TESTER);
  const runId = createRun(shop, [angle, card], TESTER);
  const refused = (): string => {
    try {
      cutsOfRun(shop, runId);
    } catch (error) {
      if (error instanceof Refused) return error.code;
    }
    return 'none';
  };
  expect(refused()).toBe('not-laid-out');
  layOutRun(shop, runId, await nestDraft(shop, runId, 30), { by: TESTER });
  const { contours, trims, across, lengthMm } = cutsOfRun(shop, runId);
  expect([contours.length, trims.length, across]).toEqual([2, 1, []]);
  const run = detail(runId);
  const place = run.pieces.find((piece) => piece.jobId === card);
  expect(trims[0]?.[0]).toEqual({ x: (place?.xMm ?? 0) + run.usableFromMm + 4, y: (place?.yMm ?? 0) + 4 });
  const { minX, maxX, minY, maxY } = boundsOf(trims[0] ?? []);
  expect([maxX - minX, maxY - minY]).toEqual([200, 100]);
  for (const ring of contours) {
    const box = boundsOf(ring);
    expect([box.maxX - box.minX, box.maxY - box.minY].map(Math.round).sort()).toEqual([200, 300]);
    expect(box.maxY).toBeLessThan(lengthMm);
  }
});

test('edge to edge: as wide as the media and its overspray, cut by the edges of the media', async () => {
  const { config } = findPrinter(shop.db, 'bittern') ?? {};
  expect(config).toMatchObject({ edgeToEdge: true, oversprayMm: 2 });
  const jobId = admitPlain(shop, 'poster.pdf', [[500, 700]], 'bittern-photo');
  changeJob(shop, jobId, { edgeToEdge: true, size: { kind: 'media width' } }, TESTER);
  const runId = createRun(shop, [jobId], TESTER);
  layOutRun(shop, runId, await nestDraft(shop, runId, 20), { by: TESTER });
  const { pieces, mediaWidthMm, usableFromMm, usableWidthMm } = detail(runId);
  expect([usableFromMm, usableWidthMm]).toEqual([-2, mediaWidthMm + 4]);
  expect(pieces[0]?.widthMm).toBeCloseTo(mediaWidthMm + 4, 3);
  expect(pieces[0]?.xMm).toBeCloseTo(0, 6);
  const { minX, maxX } = boundsOf(cutsOfRun(shop, runId).trims[0] ?? []);
  expect([minX, maxX]).toEqual([0, mediaWidthMm]);
});

test('on sheets the cuts of each are its own, in its own frame; nothing is cut off behind it', async () => {
  const card = admitPlain(shop, 'card.pdf', [[200, 100]]);
  changeJob(shop, card, { bleedMm: 4, copies: 5, quarterTurn: false }, TESTER);
  const runId = createRun(shop, [card], TESTER);
  const { settings } = detail(runId);
  layOutRun(shop, runId, { settings: { ...settings, sheetMm: 250 }, placements: [] }, { by: TESTER });
  layOutRun(shop, runId, await nestDraft(shop, runId, 30), { by: TESTER });
  const { lengthMm, usableFromMm, pieces } = detail(runId);
  const sheets = Array.from({ length: lengthMm / 250 }, (_, i) => cutsOfRun(shop, runId, i + 1));
  expect(sheets.flatMap(({ trims }) => trims)).toHaveLength(5);
  for (const [i, { trims, lengthMm: own, across, title }] of sheets.entries()) {
    expect([own, across]).toEqual([250, []]);
    expect(title).toMatch(new RegExp(`, sheet ${String(i + 1)} of ${String(sheets.length)}$`));
    const here = pieces.filter(({ yMm }) => Math.floor(yMm / 250) === i);
    const corner = ({ x, y }: { x: number; y: number }): string => `${x.toFixed(3)} ${y.toFixed(3)}`;
    expect(trims.map((ring) => corner(ring[0] ?? { x: NaN, y: NaN })).sort()).toEqual(
      here.map(({ xMm, yMm }) => corner({ x: xMm + usableFromMm + 4, y: yMm - i * 250 + 4 })).sort(),
    );
  }
  expect(() => cutsOfRun(shop, runId, sheets.length + 1)).toThrow(`has ${counted(sheets.length, 'sheet')}.`);
});

test.each(['side for side', 'end for end'] as const)(
  'the same picture on both sides, showing through, turned %s: folded, the cuts of the back lie on those of the front',
  (turn) => {
    const runId = createRun(shop, [angles(2)], TESTER);
    const sides = { turn, content: 'show-through', pieceTurn: 'like a book', offsetXMm: 0, offsetYMm: 0 } as const;
    printTwoSides(shop, runId, { ...sides, backs: { kind: 'the same picture' } }, TESTER);
    const { settings, pieces } = detail(runId);
    // The bar of each lies between the bars of the other.
    const at = [
      { xMm: 20, yMm: 120, angleDeg: 0 },
      { xMm: 90, yMm: 40, angleDeg: 180 },
    ];
    const placements = at.map((place, i) => ({ pieceId: pieces[i]?.pieceId ?? '', ...place }));
    layOutRun(shop, runId, { settings, placements }, { by: TESTER });
    const front = cutsOfRun(shop, runId);
    const back = cutsOfRun(shop, detail(runId).pair?.otherRunId ?? '');
    const folded = back.contours.map((ring) =>
      ring.map(({ x, y }) => (turn === 'side for side' ? { x: back.widthMm - x, y } : { x, y: back.lengthMm - y })),
    );
    expect(folded).toHaveLength(2);
    for (const ring of folded) {
      const off = front.contours.map((other) =>
        Math.max(...ring.map((p) => Math.min(...other.map((q) => Math.hypot(p.x - q.x, p.y - q.y))))),
      );
      expect(Math.min(...off)).toBeLessThan(0.001);
    }
    // The backs overlap no more than the fronts.
    const backId = detail(runId).pair?.otherRunId ?? '';
    const limits = { widthMm: 1e4, leftMm: -1e4, rightMm: 0, leadMm: -1e4, gapXMm: 0, gapYMm: 0 };
    expect(findClashes(laidPieces(shop.db, backId), limits)).toEqual([]);
    queueRun(shop, runId, TESTER);
    expect(detail(runId).state).toBe('queued');
  },
);
