import { existsSync, readdirSync } from 'node:fs';
import { PDFDocument } from '@cantoo/pdf-lib';
import { eq } from 'drizzle-orm';
import type { QuoteView } from '../../../contract/api/pace/quote.ts';
import { events } from '../../db/tables/records.ts';
import { jobs, queues } from '../../db/tables/schema.ts';
import { stocks } from '../../db/tables/floorTables.ts';
import { NO_NATURE } from '../ticket/ticketService.ts';
import { type TestHttp, openTestHttp } from '../../testing/httpFixture.ts';
import { admitPlain, switchOn } from '../../testing/shopFixture.ts';
import { TESTER } from '../../testing/tester.ts';
import { changeJob } from '../ticket/changeJobs.ts';
import { fitWork, fitsFor, readFloor } from '../plan/fit.ts';
import { copiesIn, quote } from './quote.ts';

let http: TestHttp;
beforeEach(async () => {
  http = await openTestHttp();
  const nowMs = http.shop.clock.now();
  Object.defineProperty(http.shop.clock, 'now', { value: () => nowMs });
  switchOn(http.shop);
});
afterEach(() => http.close());

/** A page of these inks, as if it had been read from a file. */
function looksLike(widthMm: number, heightMm: number, coverage: Record<string, number>): void {
  const bleed = { leftMm: 0, topMm: 0, rightMm: 0, bottomMm: 0 };
  const page = { widthMm, heightMm, bleed, coverage, dpi: null, thinnestMm: null, cutLines: [] };
  const facts = { format: 'pdf' as const, nature: NO_NATURE, pages: [page] };
  http.shop.work.replace('quote look', () => Promise.resolve({ ok: true, sha256: 'a'.repeat(64), bytes: 1, facts }));
}

const ask = (copies: number[], queueId = 'heron-banners') => ({
  ...{ queueId, presetId: undefined, copies, said: {} },
  file: { path: '/nowhere', name: 'sign.pdf' },
});

function on(view: QuoteView, printerId: string, at = 0) {
  const found = view.quantities[at]?.printers.find((each) => each.printerId === printerId);
  if (!found?.can) throw new Error(`${printerId} can't: ${JSON.stringify(found)}`);
  return found;
}

test('the worked figures of forty prints on Heron, but for what it has learned', async () => {
  const { shop } = http;
  shop.db.update(stocks).set({ pricePerM2Minor: 420 }).where(eq(stocks.id, 'block-out')).run();
  const [row] = shop.db.select().from(queues).where(eq(queues.id, 'heron-banners')).all();
  // Upright as the figures are: turned by a quarter they lie closer.
  shop.db
    .update(queues)
    .set({ gapMm: 10, settings: { ...row?.settings, span: 'media', dryOut: false, quarterTurn: false } })
    .where(eq(queues.id, 'heron-banners'))
    .run();
  looksLike(500, 700, { cyan: 0.18, magenta: 0.18, yellow: 0.18, black: 0.18 });
  const heron = on(await quote(shop, ask([40])), 'heron');
  expect(heron.lengthMm).toBeCloseTo(9970, 6);
  // 1,109 strokes of 1.84899 s and 95 s; the 20 mm before and behind the pieces are fed without strokes, which saves some seconds.
  expect(heron.timeMs / 1000).toBeLessThan(2145.53);
  expect(heron.timeMs / 1000).toBeGreaterThan(2145.53 - 5 * 1.84899);
  expect(heron.inkMinor).toBe(602);
});

test('it costs what the same job would cost that is brought in, on every printer', async () => {
  const { shop } = http;
  looksLike(900, 600, { cyan: 0.2, black: 0.1 });
  const quoted = await quote(shop, ask([1, 12]));
  const jobId = admitPlain(shop, 'same.pdf', [[900, 600]]);
  changeJob(shop, jobId, { copies: 12 }, TESTER);
  const [fits] = await fitsFor(shop, readFloor(shop), [{ work: fitWork(shop.db, [jobId]) }]);
  expect(fits?.length).toBe(quoted.quantities[1]?.printers.length);
  let exact = 0;
  for (const fit of fits ?? []) {
    const same = quoted.quantities[1]?.printers.find(({ printerId }) => printerId === fit.printerId);
    expect(same?.can).toBe(fit.can);
    if (!fit.can || !same?.can) continue;
    // A quote is laid out with more care, never longer.
    expect(same.lengthMm).toBeLessThanOrEqual(fit.lengthMm + 1e-9);
    if (same.lengthMm < fit.lengthMm) continue;
    exact += 1;
    expect([same.fedMm, same.timeMs]).toEqual([fit.fedMm, fit.timeMs]);
    expect(same.costMinor).toBe(Math.floor(fit.costMicro / 10_000 + 0.5));
    expect(same.priceMinor).toBe(Math.floor((fit.costMicro * 1.6) / 10_000 + 0.5));
    expect(same.endMs).toBe(fit.endMs);
    expect(same.byMs ?? 0).toBeGreaterThan(same.endMs);
  }
  expect(exact).toBeGreaterThan(0);
});

test('by the API, from a file: prices are in order, nothing is kept, and what can’t be printed says why', async () => {
  const { shop, base } = http;
  const pdf = await PDFDocument.create();
  pdf.addPage([2000, 1000]);
  const kept = () => [
    shop.db.select().from(jobs).all().length,
    shop.db.select().from(events).all().length,
    readdirSync(shop.paths.uploads),
    existsSync(shop.paths.temporary) ? readdirSync(shop.paths.temporary) : [],
    existsSync(`${shop.paths.root}/files`) ? readdirSync(`${shop.paths.root}/files`) : [],
  ];
  const before = kept();
  const send = async (fields: Record<string, string>, bytes: Uint8Array | string | null) => {
    const form = new FormData();
    for (const [key, value] of Object.entries(fields)) form.append(key, value);
    if (bytes !== null) form.append('file', new Blob([bytes as BlobPart]), 'folder/sign.pdf');
    const answer = await fetch(`${base}/api/quote`, { method: 'POST', body: form });
    return { status: answer.status, body: (await answer.json()) as QuoteView & { error?: { code: string } } };
  };
  const { status, body } = await send({ queueId: 'heron-banners', copies: '1, 5' }, await pdf.save());
  expect(status).toBe(200);
  expect([body.sourceName, body.pages, body.quantities.map(({ copies }) => copies)]).toEqual(['sign.pdf', 1, [1, 5]]);
  for (const { printers } of body.quantities) {
    const prices = printers.flatMap((each) => (each.can ? [each.priceMinor] : []));
    expect(prices.length).toBeGreaterThan(0);
    expect(prices).toEqual([...prices].sort((a, b) => a - b));
    for (const each of printers) if (!each.can) expect(each.troubles[0]?.way).not.toBe('');
  }
  expect(on(body, 'heron', 1).priceMinor).toBeGreaterThan(on(body, 'heron').priceMinor);
  expect(await send({ queueId: 'heron-banners' }, 'no picture')).toMatchObject({
    status: 422,
    body: { error: { code: 'unreadable' } },
  });
  expect(await send({ queueId: 'heron-banners' }, null)).toMatchObject({
    status: 400,
    body: { error: { code: 'no-files' } },
  });
  expect(await send({ queueId: 'nowhere' }, await pdf.save())).toMatchObject({ status: 404 });
  expect(await send({ queueId: 'heron-banners', ticket: '{"stock":"Vellum"}' }, await pdf.save())).toMatchObject({
    status: 422,
  });
  expect(kept()).toEqual(before);
});

test('numbers of copies: as they are written, each once; what is none is refused', () => {
  expect(copiesIn(undefined)).toEqual([1]);
  expect(copiesIn('1, 10;100  10')).toEqual([1, 10, 100]);
  for (const wrong of ['0', '1.5', 'many', '', '1,2,3,4,5,6']) expect(() => copiesIn(wrong)).toThrow();
});
