import {
  appendFileSync,
  existsSync,
  mkdirSync,
  readFileSync,
  readdirSync,
  renameSync,
  rmSync,
  utimesSync,
  writeFileSync,
} from 'node:fs';
import { dirname, join } from 'node:path';
import { eq } from 'drizzle-orm';
import sharp from 'sharp';
import { hotFolders } from '../db/tables/schema.ts';
import { listJobs, openRefusals } from '../db/views.ts';
import { type TestShop, openTestShop } from '../testing/shopFixture.ts';
import { HotFolder, type HotFolderRow } from './hotFolder.ts';
import { Intake } from './intake.ts';

let shop: TestShop;
let close: () => void;
let folder: HotFolder;
let path: string;
let png: Buffer;

beforeAll(async () => {
  png = await sharp({ create: { width: 300, height: 200, channels: 3, background: '#c94' } })
    .withMetadata({ density: 100 })
    .png()
    .toBuffer();
});

beforeEach(() => {
  ({ shop, close } = openTestShop());
  shop = { ...shop, limits: { ...shop.limits, quietMs: 60, unknownMs: 200, incompleteMs: 60_000 } };
  path = join(shop.paths.hotFolders, 'magpie-labels');
});
afterEach(async () => {
  await folder.close();
  close();
});

async function watchFolder(change: Partial<HotFolderRow> = {}): Promise<HotFolder> {
  const row = shop.db.select().from(hotFolders).where(eq(hotFolders.id, 'magpie-labels-in')).get();
  if (!row) throw new Error('no hot folder');
  folder = new HotFolder(shop, new Intake(shop), { ...row, ...change });
  await folder.open();
  return folder;
}

async function until(check: () => boolean, withinMs = 8000): Promise<void> {
  const end = Date.now() + withinMs;
  while (!check()) {
    if (Date.now() > end) throw new Error(`did not come true: ${check.toString()}`);
    await new Promise((done) => setTimeout(done, 20));
  }
}

const jobs = () => listJobs(shop.db, { which: 'all', order: 'oldest', limit: 100 }).items;
const left = () =>
  readdirSync(path, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile())
    .map((entry) => entry.name);

test('a file is taken once it is whole, and its folder is empty again', async () => {
  await watchFolder();
  writeFileSync(join(path, 'a.png'), png);
  await until(() => jobs().some((job) => job.state === 'ready'));
  expect(jobs()).toMatchObject([{ sourceName: 'a.png', widthMm: 76.2, heightMm: 50.8, pages: 1 }]);
  await until(() => left().length === 0);
});

test('files that lay there before, files from long ago, and the same name twice: each becomes a job', async () => {
  mkdirSync(path, { recursive: true });
  writeFileSync(join(path, 'old.png'), png);
  utimesSync(join(path, 'old.png'), 1_000_000, 1_000_000);
  await watchFolder();
  await until(() => jobs().length === 1);
  writeFileSync(join(path, 'old.png'), png);
  await until(() => jobs().filter((job) => job.state === 'ready').length === 2);
  expect(jobs().map((job) => job.sourceName)).toEqual(['old.png', 'old.png']);
});

test('a growing file keeps one row from arriving to ready; a partial name and a hidden file are left alone', async () => {
  await watchFolder();
  writeFileSync(join(path, 'big.png'), png.subarray(0, 200));
  writeFileSync(join(path, 'copying.png.part'), png);
  writeFileSync(join(path, '.hidden.png'), png);
  await until(() => jobs()[0]?.state === 'arriving');
  const [arriving] = jobs();
  expect(arriving).toMatchObject({ sourceName: 'big.png', bytes: 200, pages: null, widthMm: null });
  appendFileSync(join(path, 'big.png'), png.subarray(200));
  await until(() => jobs()[0]?.state === 'ready');
  expect(jobs()).toMatchObject([{ id: arriving?.id, bytes: png.length }]);
  await until(() => left().sort().join() === '.hidden.png,copying.png.part');
  renameSync(join(path, 'copying.png.part'), join(path, 'copying.png'));
  await until(() => jobs().length === 2);
});

test('a file that is taken away while it grows leaves nothing behind', async () => {
  await watchFolder();
  writeFileSync(join(path, 'gone.png'), png.subarray(0, 200));
  await until(() => jobs().length === 1);
  rmSync(join(path, 'gone.png'));
  await until(() => jobs().length === 0);
  expect(openRefusals(shop.db)).toEqual([]);
});

test('one that stays incomplete is refused after its time, beside an older one of the same name', async () => {
  mkdirSync(join(path, 'refused'), { recursive: true });
  writeFileSync(join(path, 'refused', 'half.png'), 'older');
  shop = { ...shop, limits: { ...shop.limits, incompleteMs: 900 } };
  await watchFolder();
  writeFileSync(join(path, 'half.png'), png.subarray(0, png.length - 20));
  await until(() => openRefusals(shop.db).length === 1);
  const [refusal] = openRefusals(shop.db);
  expect(refusal?.reason).toBe('The PNG is cut short: it lacks its end chunk. Copy it again.');
  expect(refusal?.sidePath).toBe(join(path, 'refused', 'half (2).png'));
  await until(() => existsSync(join(path, 'refused', 'half (2).png')));
  expect(readFileSync(join(path, 'refused', 'half (2).png.reason.txt'), 'utf8')).toContain('cut short');
  expect(readFileSync(join(path, 'refused', 'half.png'), 'utf8')).toBe('older');
  expect(jobs()).toEqual([]);
});

test('what a crash left claimed is ended: not yet a job, already a job, already refused', async () => {
  const claim = (id: string, name: string, bytes: Buffer | string): void => {
    mkdirSync(join(path, '.taken', id), { recursive: true });
    writeFileSync(join(path, '.taken', id, name), bytes);
  };
  claim('claim-new', 'new.png', png);
  claim('claim-bad', 'bad.png', 'nothing');
  mkdirSync(join(path, '.taken', 'claim-empty'), { recursive: true });
  await watchFolder();
  await until(() => jobs().length === 1 && openRefusals(shop.db).length === 1);
  await until(() => readdirSync(join(path, '.taken')).length === 0);
  await folder.close();
  // As if the process had died right before the claimed files were removed and moved aside.
  claim('claim-new', 'new.png', png);
  claim('claim-bad', 'bad.png', 'nothing');
  await watchFolder();
  await until(() => !existsSync(join(path, '.taken', 'claim-new')) && !existsSync(join(path, '.taken', 'claim-bad')));
  expect(jobs()).toHaveLength(1);
  expect(openRefusals(shop.db)).toHaveLength(1);
  expect(readdirSync(join(path, '.taken'))).toEqual([]);
});

test('a folder that vanishes is said to be missing, and works again when it is back', async () => {
  await watchFolder();
  const away = join(dirname(path), 'elsewhere');
  renameSync(path, away);
  await until(() => folder.state === 'missing');
  renameSync(away, path);
  writeFileSync(join(path, 'back.png'), png);
  await until(() => jobs().some((job) => job.state === 'ready'), 10_000);
  expect(folder.state).toBe('watched');
});
