import { eq } from 'drizzle-orm';
import sharp from 'sharp';
import type { CoatPreview } from '../../../contract/api/colour/preview.ts';
import type { RunChannels } from '../../../contract/api/colour/channels.ts';
import type { ProfileView } from '../../../contract/api/colour/profile.ts';
import { profiles } from '../../db/tables/floorTables.ts';
import { events } from '../../db/tables/records.ts';
import { jobs } from '../../db/tables/schema.ts';
import { blueSheet } from '../../testing/blueSheet.ts';
import { putProfile } from '../../testing/putProfile.ts';
import { type TestHttp, openTestHttp } from '../../testing/httpFixture.ts';

let http: TestHttp;
let runId: string;
beforeEach(async () => {
  http = await openTestHttp();
  runId = await blueSheet(http);
});
afterEach(() => http.close());

const ask = <T>(path: string) => http.call<T>('GET', `/api/runs/${runId}${path}`);
const put = (name: string, bytes: Uint8Array) => putProfile(http, name, bytes);

test('a job is looked at with other values: picture, ink and money follow, and nothing of the job is changed', async () => {
  const job = http.shop.db.select().from(jobs).where(eq(jobs.sourceName, 'blue 40.pdf')).get();
  const look = async (values: object, more: object = {}) => {
    const asked = { jobId: job?.id, values, ...more };
    const { status, body } = await http.call<CoatPreview>('POST', '/api/preview/coats', asked);
    expect(status).toBe(200);
    const { data, info } = await sharp(Buffer.from(body.picture, 'base64')).raw().toBuffer({ resolveWithObject: true });
    const middle = (info.width * (info.height >> 1) + (info.width >> 1)) * 3;
    return {
      ...body,
      rgb: [...data.subarray(middle, middle + 3)],
      totalMl: body.channels.reduce((sum, { ml }) => sum + ml, 0),
    };
  };
  const plain = await look({});
  // The same tables as the rendering: what is counted there is what is told here.
  const [coat] = (await ask<RunChannels>('/channels')).body.coats;
  for (const { id, ml } of coat?.channels ?? []) {
    const told = plain.channels.find((channel) => channel.id === id)?.ml ?? NaN;
    expect(Math.abs(told - ml)).toBeLessThanOrEqual(0.02 * ml + 1e-5);
  }
  const [red = 0, , blue = 0] = plain.rgb;
  expect(blue).toBeGreaterThan(red + 60);
  const lighter = await look({ tone: { brightness: 60, contrast: 0, gamma: 1, saturation: 0 } });
  expect(lighter.totalMl).toBeLessThan(0.7 * plain.totalMl);
  expect(lighter.rgb[0]).toBeGreaterThan(red + 20);
  const grey = await look({ tone: { brightness: 0, contrast: 0, gamma: 1, saturation: -100 } });
  expect(Math.abs((grey.rgb[0] ?? 0) - (grey.rgb[2] ?? 0))).toBeLessThan(16);
  const noCyan = await look({ curves: [{ channel: 'cyan', points: [{ at: 1, to: 0 }] }] });
  expect(noCyan.channels.find(({ id }) => id === 'cyan')?.ml).toBe(0);
  // A limit that all of it exceeds: every printed place is told, and the picture shows it hot.
  const limited = await look({ inkLimit: 0.5 }, { view: 'over the limit' });
  expect([limited.inkLimit, limited.overLimit]).toEqual([0.5, 1]);
  expect(limited.mostInk).toBeGreaterThan(0.5);
  expect(limited.rgb[0]).toBeGreaterThan(150);
  expect(limited.channels.reduce((sum, { coverage }) => sum + coverage, 0)).toBeLessThanOrEqual(0.51);
  expect((await look({}, { view: 'over the limit' })).overLimit).toBe(0);
  const half = await look({}, { crop: { x: 0, y: 0, width: 0.5, height: 1 } });
  expect(half.totalMl / plain.totalMl).toBeCloseTo(0.5, 1);
  expect(half.widthPx / half.heightPx).toBeCloseTo(plain.widthPx / plain.heightPx / 2, 1);
  const after = http.shop.db.select().from(jobs).where(eq(jobs.sourceName, 'blue 40.pdf')).get();
  expect(after?.ticket).toEqual(job?.ticket);
  const refused = await http.call('POST', '/api/preview/coats', {
    jobId: job?.id,
    values: { profile: 'Heron banner 6-pass' },
  });
  expect([refused.status, refused.body]).toMatchObject([
    422,
    { error: { code: 'no-preview', message: expect.stringMatching(/6 inks.*4 colours/) as string } },
  ]);
  const bent = { channel: 'cyan', points: [{ at: 0, to: 0.2 }] };
  const curved = await http.call('POST', '/api/preview/coats', { jobId: job?.id, values: { curves: [bent] } });
  expect([curved.status, curved.body]).toMatchObject([
    422,
    { error: { code: 'bad-curves', message: 'The curve of cyan would put ink on bare media.' } },
  ]);
  // What has nothing to do with colour, and a part of the page that is no part, are no question.
  for (const odd of [
    { values: { copies: 9 } },
    { values: {}, crop: { x: 1, y: 0, width: 0.5, height: 1 } },
    { values: {}, crop: { x: 0, y: 0, width: 0, height: 1 } },
  ]) {
    expect((await http.call('POST', '/api/preview/coats', { jobId: job?.id, ...odd })).status).toBe(400);
  }
  // A part that reaches over the edge is cut off there, and takes what lies on the page.
  const beyond = await look({}, { crop: { x: 0.5, y: 0, width: 1, height: 1 } });
  const right = await look({}, { crop: { x: 0.5, y: 0, width: 0.5, height: 1 } });
  expect(beyond).toEqual(right);
  const none = await http.call('POST', '/api/preview/coats', { jobId: job?.id, values: { profile: 'Nobody’s' } });
  expect([none.status, none.body]).toMatchObject([422, { error: { code: 'no-profile' } }]);
});

test('a profile that is replaced is kept, and changed for the new one by undo and back again', async () => {
  const name = 'Wren film 8-pass';
  const sha = (): string | undefined =>
    http.shop.db.select({ sha256: profiles.sha256 }).from(profiles).where(eq(profiles.name, name)).get()?.sha256;
  const bytesOf = (of: string): Buffer | undefined =>
    http.shop.db.select({ bytes: profiles.bytes }).from(profiles).where(eq(profiles.name, of)).get()?.bytes;
  const [own, other] = [sha(), bytesOf('Gannet bond')];
  expect((await put(name, other ?? new Uint8Array())).status).toBe(200);
  const replaced = sha();
  expect(replaced).not.toBe(own);
  const last = http.shop.db.select().from(events).where(eq(events.kind, 'profile.taken')).all().pop();
  expect(last?.undo).toMatchObject({ method: 'POST', path: `/api/profiles/${encodeURIComponent(name)}/put-back` });
  const back = async () => http.call('POST', `/api/profiles/${encodeURIComponent(name)}/put-back`);
  expect((await back()).status).toBe(200);
  expect(sha()).toBe(own);
  expect((await back()).status).toBe(200);
  expect(sha()).toBe(replaced);
  const none = await http.call('POST', `/api/profiles/${encodeURIComponent('Gannet bond')}/put-back`);
  expect([none.status, none.body]).toMatchObject([
    404,
    { error: { message: 'Gannet bond has replaced no other profile.' } },
  ]);
});

test('without its profile a run is not rendered, and it says which one is asked for; taken in, it is', async () => {
  const name = 'Wren film 8-pass';
  const { db } = http.shop;
  const bytes = db.select().from(profiles).where(eq(profiles.name, name)).get()?.bytes;
  const other = db.select().from(profiles).where(eq(profiles.name, 'Heron banner 6-pass')).get()?.bytes;
  if (!bytes || !other) throw new Error('no profiles');
  db.delete(profiles).where(eq(profiles.name, name)).run();
  expect(await ask('/channels')).toMatchObject({
    status: 422,
    body: { error: { code: 'no-profile', message: expect.stringContaining(name) as string } },
  });
  const bad = await put(name, bytes.subarray(0, 3000));
  expect([bad.status, bad.body.error?.message]).toEqual([
    422,
    `The profile is cut short: it says ${String(bytes.length)} bytes, and 3000 are here.`,
  ]);
  expect((await put(name, other)).body.error?.message).toBe(
    `${name} is for 6 inks, and Transfer of Wren prints 4 colours: Cyan, Magenta, Yellow, Black.`,
  );
  expect((await put(name, bytes)).status).toBe(200);
  expect((await ask('/channels')).status).toBe(200);
  const list = await http.call<ProfileView[]>('GET', '/api/profiles');
  expect(list.body.find((each) => each.name === name)).toEqual({
    name,
    space: 'CMYK',
    channels: 4,
    bytes: bytes.length,
    hasReplaced: false,
    modes: ['Wren Transfer'],
  });
  const told = db.select().from(events).where(eq(events.kind, 'profile.taken')).all();
  expect(told.map(({ data }) => data)).toEqual([{ profile: name, replaced: false }]);
});
