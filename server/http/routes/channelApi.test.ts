import { rmSync, statSync } from 'node:fs';
import { inflateSync } from 'node:zlib';
import { eq } from 'drizzle-orm';
import { fromArrayBuffer } from 'geotiff';
import sharp from 'sharp';
import type { RunChannels } from '../../../contract/api/colour/channels.ts';
import type { RunDetail } from '../../../contract/api/run.ts';
import { dotsOfFile } from '../../../core/raster/channelFile.ts';
import { printers } from '../../db/tables/floorTables.ts';
import { jobs, pieces, runPieces } from '../../db/tables/schema.ts';
import { blueSheet } from '../../testing/blueSheet.ts';
import { type TestHttp, openTestHttp } from '../../testing/httpFixture.ts';

let http: TestHttp;
let runId: string;
beforeEach(async () => {
  http = await openTestHttp();
  runId = await blueSheet(http);
});
afterEach(() => http.close());

const ask = <T>(path: string) => http.call<T>('GET', `/api/runs/${runId}${path}`);
const fetched = async (path: string) => {
  const answer = await fetch(`${http.base}/api/runs/${runId}${path}`);
  return { status: answer.status, headers: answer.headers, bytes: Buffer.from(await answer.arrayBuffer()) };
};

test('a run is rendered when it is asked for: counts, file and tiles say the same', async () => {
  const { status, body } = await ask<RunChannels>('/channels');
  expect(status).toBe(200);
  const [coat] = body.coats;
  if (!coat) throw new Error('no coat');
  expect([coat.profile, coat.dpiX, coat.dpiY, coat.inkLimit]).toEqual(['Wren film 8-pass', 720, 1440, 2.4]);
  coat.dropsPl.forEach((pl, i) => {
    expect(pl).toBeCloseTo(([3, 5, 7][i] ?? 0) * (5 / 7), 12);
  });
  expect(body.notes).toEqual(['White is not rendered: it has a coat of its own.']);
  const cyan = coat.channels.find(({ id }) => id === 'cyan');
  const [, small = 0, medium = 0, full = 0] = cyan?.drops ?? [];
  expect(cyan?.ml).toBeCloseTo((small * 3 + medium * 5 + full * 7) * (5 / 7) * 1e-9, 9);
  // Blue over 60 × 40 mm, much of it cyan: a layer of full drops there would be 19.3 µl.
  expect(cyan?.ml).toBeGreaterThan(0.008);
  expect(cyan?.ml).toBeLessThan(0.0194);
  const file = await fetched('/channels/1.tif');
  expect([file.status, file.headers.get('content-type')]).toEqual([200, 'image/tiff']);
  expect(Number(file.headers.get('content-length'))).toBe(file.bytes.length);
  const dots = dotsOfFile(file.bytes, inflateSync);
  expect([...dots]).toEqual(coat.channels.map(({ id, drops }) => [id, drops]));
  // A reader of TIFF that knows nothing of ours sees the same dots, page by page.
  const { buffer, byteOffset, length } = file.bytes;
  const tiff = await fromArrayBuffer(buffer.slice(byteOffset, byteOffset + length));
  expect(await tiff.getImageCount()).toBe(coat.channels.length);
  for (const [i, { id }] of coat.channels.entries()) {
    const image = await tiff.getImage(i);
    expect(await image.fileDirectory.loadValue('PageName')).toBe(`${id}\0`);
    expect([image.getWidth(), image.getHeight()]).toEqual([coat.widthDots, coat.heightDots]);
    // Across the borders of tiles, where the artwork ends.
    const [left, top, width, height] = [900, 100, 700, 900];
    const [levels] = await image.readRasters({ window: [left, top, left + width, top + height] });
    const seen = await sharp(file.bytes, { page: i, limitInputPixels: false })
      .extract({ left, top, width, height })
      .toColourspace('b-w')
      .raw()
      .toBuffer();
    // No comparison of the whole: where they differ, half a million figures are no help.
    const same = (levels as Uint8Array).filter((level, at) => seen[at] === 255 - 85 * level).length;
    expect([id, same]).toEqual([id, width * height]);
    if (id === 'cyan') expect(new Set(levels as Uint8Array).size).toBeGreaterThan(1);
  }
  const tile = await fetched(`/tiles/1/cyan/${String(coat.mostZoom)}/0/0?rendering=${coat.rendering}`);
  expect([tile.headers.get('content-type'), tile.headers.get('cache-control')]).toEqual([
    'image/png',
    'private, max-age=31536000, immutable',
  ]);
  const { width, height } = await sharp(tile.bytes).metadata();
  expect(Math.max(width, height)).toBeLessThanOrEqual(256);
  const { channels } = await sharp(tile.bytes).stats();
  expect(channels[0]?.max).toBeGreaterThan(80);
  expect(channels[0]?.min).toBe(0);
});

test('all channels come in one picture, one below the other', async () => {
  const { coats } = (await ask<RunChannels>('/channels')).body;
  const [coat] = coats;
  const place = `${String(coat?.mostZoom)}/0/0`;
  const raw = async (channel: string) =>
    sharp((await fetched(`/tiles/1/${channel}/${place}`)).bytes)
      .toColourspace('b-w')
      .raw()
      .toBuffer();
  const each = await Promise.all((coat?.channels ?? []).map(({ id }) => raw(id)));
  expect(each).toHaveLength(4);
  expect((await raw('all')).equals(Buffer.concat(each))).toBe(true);
});

test('what is rendered is not rendered again; a part that is lost is made anew, with the same dots', async () => {
  const first = (await ask<RunChannels>('/channels')).body;
  const part = http.shop.paths.coatPart(first.coats[0]?.rendering ?? '', 0, 'dots');
  const made = statSync(part).mtimeMs;
  expect((await ask('/channels')).body).toEqual(first);
  expect(statSync(part).mtimeMs).toBe(made);
  for (const file of ['json', 'dots', 'cells'] as const)
    rmSync(http.shop.paths.coatPart(first.coats[0]?.rendering ?? '', 0, file));
  expect((await ask('/channels')).body).toEqual(first);
  expect(statSync(part).mtimeMs).not.toBe(made);
});

test('asked only for what is rendered, it says what is owed', async () => {
  const { owed, coats: none } = (await ask<RunChannels>('/channels?render=false')).body;
  expect(none).toEqual([]);
  const { coats } = (await ask<RunChannels>('/channels')).body;
  const [coat] = coats;
  expect(owed).toMatchObject({ made: 0, refused: null });
  // It can be looked at by then: the same coat, of which nothing is counted.
  const channels = coat?.channels.map(({ id, name, colour }) => ({ id, name, colour }));
  expect(owed?.coat).toEqual({ ...coat, channels });
  expect((await ask('/channels?render=false')).body).toMatchObject({ owed: null, coats });
});

test('ink before screening lies where the dots will lie, and is as much; to look at it renders nothing', async () => {
  const { owed } = (await ask<RunChannels>('/channels?render=false')).body;
  const { rendering = '', mostZoom = 0, channels = [] } = owed?.coat ?? {};
  const meansOf = async (channel: string, zoom: number, x: number, y: number, how: string): Promise<number> => {
    const path = `/tiles/1/${channel}/${String(zoom)}/${String(x)}/${String(y)}?rendering=${rendering}${how}`;
    const { status, headers, bytes } = await fetched(path);
    expect([status, headers.get('cache-control')]).toEqual([200, 'private, max-age=31536000, immutable']);
    return (await sharp(bytes).toColourspace('b-w').stats()).channels[0]?.mean ?? NaN;
  };
  // All of it, a corner of it nearer, and dot by dot in the middle of the sheet of paper, and beside it.
  const places: readonly (readonly [number, number, number])[] = [
    [mostZoom, 0, 0],
    [mostZoom - 2, 0, 0],
    [0, 4, 4],
    [0, 20, 4],
  ];
  const looked = async (how: string): Promise<number[]> => {
    const means: number[] = [];
    for (const { id } of channels) for (const place of places) means.push(await meansOf(id, ...place, how));
    return means;
  };
  const before = await looked('&screened=false');
  expect((await ask<RunChannels>('/channels?render=false')).body.owed?.made).toBe(0);
  expect((await ask('/channels')).status).toBe(200);
  const fired = await looked('');
  expect(Math.max(...fired)).toBeGreaterThan(100);
  fired.forEach((mean, i) => {
    expect(Math.abs((before[i] ?? NaN) - mean)).toBeLessThan(0.02 * mean + 0.5);
    if (mean === 0) expect(before[i]).toBe(0);
  });
  const beyond = await fetched(`/tiles/1/cyan/0/9999/0?rendering=${rendering}&screened=false`);
  expect(beyond.status).toBe(404);
});

test('a run too large to be rendered is told why, and can be looked at all the same', async () => {
  Object.assign(http.shop.limits, { renderedBytes: 1000 });
  const { owed } = (await ask<RunChannels>('/channels?render=false')).body;
  expect(owed?.refused).toMatch(/^Run \d+ may take 0\.\d GB .* 0\.0 GB is the limit of rendered data\. Cut it into/);
  expect(await ask('/channels')).toMatchObject({ status: 422, body: { error: { code: 'no-room' } } });
  const { mostZoom, rendering } = owed?.coat ?? {};
  const tile = await fetched(`/tiles/1/all/${String(mostZoom)}/0/0?rendering=${String(rendering)}&screened=false`);
  expect(tile.status).toBe(200);
});

test('what would print twice, and what would not print at all, is said with its names', async () => {
  expect((await ask<RunChannels>('/channels?render=false')).body.notOnce).toEqual([]);
  await blueSheet(http, 30);
  const ids = http.shop.db.select({ id: jobs.id, name: jobs.sourceName }).from(jobs).all();
  const jobIds = ids.filter(({ name }) => /^blue (30|40)/.test(name)).map(({ id }) => id);
  http.shop.db.delete(runPieces).run();
  http.shop.db.update(pieces).set({ state: 'owed', runId: null }).run();
  const draft = (await http.call<RunDetail>('POST', '/api/runs', { jobIds })).body;
  const { leadMm } = draft.settings;
  const lay = async (places: readonly (readonly [number, number])[]) => {
    const placements = draft.pieces.slice(0, places.length).map(({ pieceId }, i) => ({
      pieceId,
      xMm: places[i]?.[0] ?? 0,
      yMm: leadMm + (places[i]?.[1] ?? 0),
      angleDeg: 0,
    }));
    await http.call('PUT', `/api/runs/${draft.id}/layout`, { settings: draft.settings, placements });
    runId = draft.id;
    return (await ask<RunChannels>('/channels?render=false')).body.notOnce;
  };
  expect(
    await lay([
      [0, 0],
      [20, 10],
    ]),
  ).toEqual([
    expect.stringMatching(
      /^1 pair of pieces lies on each other and prints twice there: blue \d0\.pdf, copy 1 on blue \d0\.pdf, copy 1\.$/,
    ),
  ]);
  expect(
    await lay([
      [0, 0],
      [420, 0],
    ]),
  ).toEqual([
    expect.stringMatching(/^1 piece reaches beyond what can be printed \(430\smm wide\): blue \d0\.pdf, copy 1\.$/),
  ]);
  expect(
    await lay([
      [0, 0],
      [70, 0],
    ]),
  ).toEqual([]);
});

test('a mode says how large its drops are: they are counted as that, another rendering, and they must grow', async () => {
  const [before] = (await ask<RunChannels>('/channels')).body.coats;
  const config = http.shop.db.select().from(printers).where(eq(printers.id, 'wren')).get()?.config;
  if (!config) throw new Error('no Wren');
  const withDrops = async (drops: { readonly smallPl: number | null; readonly mediumPl?: number | null }) => {
    const modes = config.modes.map((mode) => ({ ...mode, ...drops }));
    return http.call('PATCH', '/api/printers/wren', { config: { ...config, modes } });
  };
  expect(await withDrops({ smallPl: 4, mediumPl: 3.5 })).toMatchObject({
    status: 422,
    body: { error: { message: 'The drops of Transfer must grow: 4, 3.5, 5 pl.' } },
  });
  expect((await withDrops({ smallPl: 1, mediumPl: 4 })).status).toBe(200);
  const [after] = (await ask<RunChannels>('/channels')).body.coats;
  expect(after?.dropsPl).toEqual([1, 4, 5]);
  expect(after?.rendering).not.toBe(before?.rendering);
  for (const [i, { drops, ml }] of (after?.channels ?? []).entries()) {
    const [, small = 0, medium = 0, full = 0] = drops;
    expect(ml).toBeCloseTo((small + 4 * medium + 5 * full) * 1e-9, 9);
    // Other drops, the same ink: a sheet takes what it is asked for.
    const asked = before?.channels[i]?.ml ?? NaN;
    expect(Math.abs(ml - asked)).toBeLessThanOrEqual(0.004 * asked + 1e-6);
  }
  expect((await withDrops({ smallPl: null })).status).toBe(200);
  expect((await ask<RunChannels>('/channels')).body.coats[0]?.dropsPl[0]).toBeCloseTo(15 / 7, 9);
});

test('another ink limit is another rendering', async () => {
  const rendering = async (): Promise<string | undefined> =>
    (await ask<RunChannels>('/channels')).body.coats[0]?.rendering;
  const before = await rendering();
  const config = http.shop.db.select().from(printers).where(eq(printers.id, 'wren')).get()?.config;
  if (!config) throw new Error('no Wren');
  const modes = config.modes.map((mode) => ({ ...mode, inkLimit: 1 }));
  http.shop.db
    .update(printers)
    .set({ config: { ...config, modes } })
    .where(eq(printers.id, 'wren'))
    .run();
  const after = (await ask<RunChannels>('/channels')).body.coats[0];
  expect(after?.rendering).not.toBe(before);
  expect(after?.inkLimit).toBe(1);
});

test('places, coats and channels that are not there are told with what there is', async () => {
  await ask('/channels');
  const said = async (path: string): Promise<unknown> => {
    const { status, body } = await ask<{ readonly error: { readonly code: string } }>(path);
    return [status, body.error.code];
  };
  expect(await said('/channels/2.tif')).toEqual([404, 'no-such-coat']);
  expect(await said('/tiles/1/white/0/0/0')).toEqual([404, 'no-such-channel']);
  expect(await said('/tiles/1/cyan/0/9999/0')).toEqual([404, 'no-such-tile']);
  expect(await said('/tiles/1/cyan/0/-1/0')).toEqual([422, 'no-place']);
  expect(await said('/tiles/1/cyan/0/0/0?rendering=..%2F')).toEqual([400, 'bad-request']);
});

test('a rendering that had to make room is said to be gone, and is made again when it is asked for', async () => {
  const { coats } = (await ask<RunChannels>('/channels')).body;
  const rendering = coats[0]?.rendering ?? '';
  rmSync(http.shop.paths.coat(rendering), { recursive: true });
  const path = `/tiles/1/all/0/0/0?rendering=${rendering}`;
  expect(await ask(path)).toMatchObject({ status: 409, body: { error: { code: 'not-rendered' } } });
  expect((await ask<RunChannels>('/channels')).body.coats).toEqual(coats);
  expect((await fetched(path)).status).toBe(200);
});

test('where one part can’t be made, the others are not tried', async () => {
  runId = await blueSheet(http, 600);
  const { owed } = (await ask<RunChannels>('/channels?render=false')).body;
  expect(owed?.parts).toBeGreaterThan(10);
  let tried = 0;
  jest.spyOn(http.shop.work, 'run').mockImplementation(async () => {
    tried += 1;
    await new Promise((done) => setTimeout(done, 5));
    return { refused: 'The profile is worn out.' };
  });
  expect(await ask('/channels')).toMatchObject({
    status: 422,
    body: { error: { code: 'no-rendering', message: 'The profile is worn out.' } },
  });
  await new Promise((done) => setTimeout(done, 100));
  expect(tried).toBeLessThanOrEqual(4);
});
