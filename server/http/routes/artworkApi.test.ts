import { readFileSync } from 'node:fs';
import { PDFArray, PDFDict, PDFDocument, PDFName, PDFRawStream, cmyk } from '@cantoo/pdf-lib';
import { eq } from 'drizzle-orm';
import sharp from 'sharp';
import type { CoatPreview } from '../../../contract/api/colour/preview.ts';
import type { RunChannels } from '../../../contract/api/colour/channels.ts';
import { ASSUMED_CMYK, PLAIN_ARTWORK } from '../../../core/coats/artworkProfiles.ts';
import { inksOf } from '../../../core/coats/inkTable.ts';
import { profileFile } from '../../demo/profileFile.ts';
import { findRun } from '../../db/findRows.ts';
import { jobs } from '../../db/tables/schema.ts';
import { ArtworkColours } from '../../render/colour/artworkColours.ts';
import { bakeInks } from '../../render/colour/bakeInks.ts';
import { wideProfile } from '../../render/colour/wideSpace.ts';
import { runOfFile } from '../../testing/blueSheet.ts';
import { putProfile } from '../../testing/putProfile.ts';
import { TESTER } from '../../testing/tester.ts';
import { layOutRun } from '../../usecases/layout/layOutRun.ts';
import { nestDraft } from '../../usecases/layout/nestDraft.ts';
import { createRun } from '../../usecases/run/createRun.ts';
import { type TestHttp, openTestHttp } from '../../testing/httpFixture.ts';

const MM = 72 / 25.4;
const PRESS = readFileSync(profileFile(ASSUMED_CMYK));
const OTHER = readFileSync(profileFile('Gannet poster'));
const OUTPUT = readFileSync(profileFile('Wren film 8-pass'));
const CHANNELS = ['cyan', 'magenta', 'yellow', 'black'] as const;
const MINT = [0x60, 0xc0, 0x80] as const;
const SAND = [0.05, 0.35, 0.8, 0.1] as const;

let http: TestHttp;
beforeEach(async () => {
  http = await openTestHttp();
});
afterEach(() => http.close());

/** All of a sheet, 60 × 40 mm, in one CMYK colour. @param intent of all its pages, left out: none is said */
async function sandSheet(intent?: Uint8Array): Promise<Uint8Array> {
  const document = await PDFDocument.create();
  const page = document.addPage([60 * MM, 40 * MM]);
  const [c, m, y, k] = SAND;
  page.drawRectangle({ x: 0, y: 0, width: 60 * MM, height: 40 * MM, color: cmyk(c, m, y, k) });
  if (intent) {
    const { context } = document;
    const profile = context.register(context.flateStream(intent, { N: 4 }));
    const said = context.obj({ Type: 'OutputIntent', S: 'GTS_PDFX', OutputConditionIdentifier: 'Press' });
    said.set(PDFName.of('DestOutputProfile'), profile);
    document.catalog.set(PDFName.of('OutputIntents'), context.obj([said]));
  }
  return document.save();
}

/** Inks of the sheet's colour, 0 … 1, straight from profiles: no page, no window, no screen. */
async function inksOfSand(profile: Uint8Array): Promise<number[]> {
  const intent = 'relative with black point';
  const colours = await ArtworkColours.open({ embedded: true, rgb: null, cmyk: profile, intent });
  try {
    const wide = colours.cmyk.exact(Uint16Array.from(SAND, (share) => Math.round(share * 65_535)));
    const table = await bakeInks({ input: wideProfile(), output: OUTPUT, channels: CHANNELS, intent, inkLimit: 2.4 });
    const pixel = Uint8Array.of(...Array.from(wide, (value) => Math.round(value / 257)), 255);
    return [...inksOf(table, pixel).subarray(0, 4)].map((ink) => ink / 255);
  } finally {
    colours.close();
  }
}

const jobId = (name: string): string =>
  http.shop.db.select({ id: jobs.id }).from(jobs).where(eq(jobs.sourceName, name)).get()?.id ?? '';

const channelsOf = async (runId: string) => http.call<RunChannels>('GET', `/api/runs/${runId}/channels`);

interface Refusal {
  readonly code: string;
  readonly message: string;
  readonly remedy?: string;
}
const errorOf = (body: unknown): Refusal => (body as { readonly error: Refusal }).error;

/** Coverage of each channel, beside all of what is printed. */
function coverageOf({ coats: [coat] }: RunChannels): number[] {
  if (!coat) throw new Error('no coat');
  // The run is the width of its media, the sheet a part of it.
  const share = ((60 * 40) / (25.4 * 25.4)) * coat.dpiX * coat.dpiY;
  return CHANNELS.map((id) => {
    const found = coat.channels.find((each) => each.id === id);
    return ((found?.coverage ?? 0) * coat.widthDots * coat.heightDots) / share;
  });
}

const isNear = (got: readonly number[], wanted: readonly number[], within: number): boolean =>
  got.length === wanted.length && got.every((value, i) => Math.abs(value - (wanted[i] ?? NaN)) < within);

test('CMYK without a profile is read by the one that the ticket assumes, in print and in its preview', async () => {
  await http.upload('wren-transfers', ['sand.pdf', await sandSheet()]);
  const wanted = await inksOfSand(PRESS);
  const job = jobId('sand.pdf');
  const preview = await http.call<CoatPreview>('POST', '/api/preview/coats', { jobId: job, page: 0, values: {} });
  const seen = CHANNELS.map((id) => preview.body.channels.find((each) => each.id === id)?.coverage ?? NaN);
  expect(isNear(seen, wanted, 0.012)).toBe(true);
  const { status, body } = await channelsOf(await runOfFile(http, 'sand.pdf'));
  expect(status).toBe(200);
  expect(isNear(coverageOf(body), wanted, 0.012)).toBe(true);
  expect(body.notes).toContain(`CMYK that brings no profile is read as ${ASSUMED_CMYK}.`);
  // Nor is it what that colour comes to when a page library makes RGB of it.
  expect(wanted[2]).toBeGreaterThan(0.6);
});

test('another profile on the ticket makes other inks; one that is not here, or describes RGB, is refused with its name', async () => {
  const put = await putProfile(http, 'Newsprint', OTHER);
  expect(put.status).toBe(200);
  await http.upload('wren-transfers', ['sand.pdf', await sandSheet()]);
  const id = jobId('sand.pdf');
  const set = (cmyk: string) => http.call('PATCH', `/api/jobs/${id}`, { artwork: { ...PLAIN_ARTWORK, cmyk } });
  const preview = () => http.call<CoatPreview>('POST', '/api/preview/coats', { jobId: id, page: 0, values: {} });
  await set('Nowhere');
  const missing = await preview();
  expect([missing.status, errorOf(missing.body)]).toMatchObject([422, { code: 'no-profile' }]);
  expect(errorOf(missing.body).message).toMatch(/Nowhere/);
  expect((await putProfile(http, 'Screen', wideProfile())).status).toBe(200);
  await set('Screen');
  expect(errorOf((await preview()).body).code).toBe('other-space');
  await set('Newsprint');
  const { body } = await channelsOf(await runOfFile(http, 'sand.pdf'));
  expect(isNear(coverageOf(body), await inksOfSand(OTHER), 0.012)).toBe(true);
  expect(isNear(coverageOf(body), await inksOfSand(PRESS), 0.012)).toBe(false);
});

test('what a PDF says of all its CMYK goes along with its pages', async () => {
  await http.upload('wren-transfers', ['meant.pdf', await sandSheet(OTHER)]);
  const runId = await runOfFile(http, 'meant.pdf');
  const { body } = await channelsOf(runId);
  expect(isNear(coverageOf(body), await inksOfSand(OTHER), 0.012)).toBe(true);
  // Also in the PDF that a printer is sent which renders by itself.
  const laid = await PDFDocument.load(
    readFileSync(http.shop.paths.laidOut(findRun(http.shop.db, runId)?.pdfKey ?? '')),
  );
  const defaults = laid.context.enumerateIndirectObjects().flatMap(([, object]) => {
    const resources = object instanceof PDFRawStream ? object.dict.lookup(PDFName.of('Resources')) : undefined;
    const spaces = resources instanceof PDFDict ? resources.lookup(PDFName.of('ColorSpace')) : undefined;
    return spaces instanceof PDFDict ? [spaces.lookup(PDFName.of('DefaultCMYK'))] : [];
  });
  expect(defaults.some((each) => each instanceof PDFArray)).toBe(true);
});

/** A photograph in plain colours that is meant by the wide space. @param icc its profile as it stands in the file */
async function tagged(icc: Buffer): Promise<Buffer> {
  const plain = await sharp({
    create: { width: 600, height: 400, channels: 3, background: { r: MINT[0], g: MINT[1], b: MINT[2] } },
  })
    .jpeg({ quality: 100, chromaSubsampling: '4:4:4' })
    .toBuffer();
  // APP2: the profile in one piece.
  const head = Buffer.from('ICC_PROFILE\0\x01\x01', 'latin1');
  const length = Buffer.alloc(2);
  length.writeUInt16BE(2 + head.length + icc.length);
  return Buffer.concat([plain.subarray(0, 2), Buffer.of(0xff, 0xe2), length, head, icc, plain.subarray(2)]);
}

test('a JPEG is read by the profile that it brings, or not, as the ticket says; a damaged one is refused with the way out', async () => {
  const bad = Buffer.from(wideProfile());
  bad.fill(0, 36, 40);
  await http.upload(
    'wren-transfers',
    ['vivid.jpg', await tagged(Buffer.from(wideProfile()))],
    ['hurt.jpg', await tagged(bad)],
  );
  const inks = async (name: string, embedded: boolean): Promise<CoatPreview> => {
    const values = { artwork: { ...PLAIN_ARTWORK, embedded } };
    const { body } = await http.call<CoatPreview>('POST', '/api/preview/coats', {
      jobId: jobId(name),
      page: 0,
      values,
    });
    return body;
  };
  const sharesOf = ({ channels }: CoatPreview): number[] =>
    CHANNELS.map((id) => channels.find((each) => each.id === id)?.coverage ?? NaN);
  const pixel = Uint8Array.of(...MINT, 255);
  const by = async (input: Uint8Array | null): Promise<number[]> => {
    const table = await bakeInks({
      ...{ input, output: OUTPUT, channels: CHANNELS, intent: 'relative with black point', inkLimit: 2.4 },
    });
    return [...inksOf(table, pixel).subarray(0, 4)].map((ink) => ink / 255);
  };
  const [meant, plain] = [await by(wideProfile()), await by(null)];
  // The same numbers mean two colours.
  expect(isNear(meant, plain, 0.03)).toBe(false);
  expect(isNear(sharesOf(await inks('vivid.jpg', true)), meant, 0.015)).toBe(true);
  expect(isNear(sharesOf(await inks('vivid.jpg', false)), plain, 0.015)).toBe(true);
  const refused = errorOf(await inks('hurt.jpg', true));
  expect(refused.code).toBe('bad-artwork-colours');
  expect(refused.message).toMatch(/hurt\.jpg/);
  expect(refused.remedy).toMatch(/Artwork profiles/);
  expect(isNear(sharesOf(await inks('hurt.jpg', false)), plain, 0.015)).toBe(true);
  const run = await channelsOf(await runOfFile(http, 'hurt.jpg'));
  expect([run.status, errorOf(run.body).code]).toEqual([422, 'bad-artwork-colours']);
});

test('inks that are printed each alone become black and nothing else, as much of it as there was of each', async () => {
  await http.upload('wren-transfers', ['films.pdf', await sandSheet()], ['colour.pdf', await sandSheet()]);
  const id = jobId('films.pdf');
  expect((await http.call('PATCH', `/api/jobs/${id}`, { separations: { kind: 'each alone' } })).status).toBe(200);
  const { status, body } = await channelsOf(await runOfFile(http, 'films.pdf'));
  expect(status).toBe(200);
  const [coat] = body.coats;
  expect(coat?.profile).toBe('black alone, without a profile');
  const [cyan = NaN, magenta = NaN, yellow = NaN, black = NaN] = coverageOf(body);
  expect([cyan, magenta, yellow]).toEqual([0, 0, 0]);
  // Four films, one beside the other.
  expect(Math.abs(black - SAND.reduce((sum, share) => sum + share, 0))).toBeLessThan(0.02);
  expect(body.notes[0]).toMatch(/each alone, in black/);
});

test('separations that lie together with colour are refused with the way out', async () => {
  await http.upload('wren-transfers', ['films.pdf', await sandSheet()], ['colour.pdf', await sandSheet()]);
  await http.call('PATCH', `/api/jobs/${jobId('films.pdf')}`, { separations: { kind: 'each alone' } });
  const mixed = createRun(http.shop, [jobId('films.pdf'), jobId('colour.pdf')], TESTER);
  layOutRun(http.shop, mixed, await nestDraft(http.shop, mixed, 20), { by: TESTER });
  const { status, body } = await channelsOf(mixed);
  expect([status, errorOf(body).code]).toEqual([422, 'separations']);
  expect(errorOf(body).remedy).toMatch(/run of their own/);
});
