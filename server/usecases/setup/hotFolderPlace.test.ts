import { TESTER } from '../../testing/tester.ts';
import { mkdirSync, mkdtempSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { homedir, tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { eq } from 'drizzle-orm';
import { events } from '../../db/tables/records.ts';
import { hotFolders } from '../../db/tables/schema.ts';
import { type TestShop, openTestShop } from '../../testing/shopFixture.ts';
import { placeOf } from './hotFolderPlace.ts';
import { createHotFolder, removeHotFolder } from './hotFolders.ts';

let shop: TestShop;
let close: () => void;
let outside: string;
beforeEach(() => {
  ({ shop, close } = openTestShop());
  outside = mkdtempSync(join(tmpdir(), 'yellow-spool-outside-'));
});
afterEach(() => {
  close();
  rmSync(outside, { recursive: true, force: true });
});

const make = (path: string, more = {}) => createHotFolder(shop, { queueId: 'magpie-labels', path, ...more }, TESTER);

test('a name lies with the others, a path where it says', () => {
  expect(placeOf(shop, ' decals ')).toBe(join(shop.paths.hotFolders, 'decals'));
  expect(placeOf(shop, `${outside}/in/`)).toBe(join(outside, 'in'));
  expect(placeOf(shop, join(shop.paths.hotFolders, 'deep', 'er'))).toBe(join(shop.paths.hotFolders, 'deep', 'er'));
});

test.each([
  '/',
  '/etc',
  '/etc/prints',
  '/usr/local/share',
  '/proc/self',
  '/dev/shm',
  '/home',
  '/tmp',
  '/var',
  homedir(),
])('%s is never a hot folder', (path) => {
  expect(() => placeOf(shop, path)).toThrow(/everything in it would be taken away/);
});

test('no part of the shop’s own data is one, nor a folder that holds it', () => {
  const { root, hotFolders: hot } = shop.paths;
  for (const path of [root, join(root, 'files'), join(root, 'files', 'aa'), join(root, 'laid-out'), hot]) {
    expect(() => placeOf(shop, path)).toThrow(/own data/);
  }
  expect(() => placeOf(shop, join(root, 'hot-folders', '..', 'files'))).toThrow(/own data/);
  // A name that only begins alike is another place.
  expect(placeOf(shop, `${root}-prints`)).toBe(`${root}-prints`);
  expect(dirname(root)).toBe(tmpdir());
});

test('a link to a place that is none is looked through', () => {
  symlinkSync('/etc', join(outside, 'innocent'));
  symlinkSync(shop.paths.root, join(outside, 'loop'));
  expect(() => placeOf(shop, join(outside, 'innocent'))).toThrow(/belongs to the system/);
  expect(() => placeOf(shop, join(outside, 'innocent', 'not-there-yet'))).toThrow(/belongs to the system/);
  expect(() => placeOf(shop, join(outside, 'loop', 'files'))).toThrow(/own data/);
});

test.each(['prints\n', 'a\u0000b', '/mnt/\u0007bell', 'tab\there'])('%j has control characters', (path) => {
  expect(() => placeOf(shop, path)).toThrow(/control characters/);
});

test('a folder with files says what it would take, and takes it only when that was confirmed', async () => {
  const path = join(outside, 'photos');
  mkdirSync(join(path, 'refused'), { recursive: true });
  for (const name of ['a.jpg', 'b.JPG', 'c.pdf', 'notes', '.hidden']) writeFileSync(join(path, name), 'x');
  writeFileSync(join(path, 'refused', 'old.pdf'), 'x');
  await expect(make(path)).rejects.toMatchObject({
    code: 'holds-files',
    figures: { files: 4, kinds: { JPG: 2, PDF: 1, 'without an ending': 1 } },
    message: `${path} holds 4 files already: 2 JPG, 1 PDF, 1 without an ending. As a hot folder it would take them away at once.`,
  });
  expect(shop.db.select().from(hotFolders).where(eq(hotFolders.path, path)).all()).toEqual([]);
  const id = await make(path, { admitExisting: true });
  expect(shop.db.select().from(hotFolders).where(eq(hotFolders.id, id)).get()).toMatchObject({ path, paused: false });
});

test('subfolders that would be looked into count, too; a folder given up comes back by its undo', async () => {
  const path = join(outside, 'in');
  mkdirSync(join(path, 'Marram'), { recursive: true });
  writeFileSync(join(path, 'Marram', 'a.pdf'), 'x');
  const id = await make(path);
  removeHotFolder(shop, id, TESTER);
  await expect(make(path, { subfolders: 'customer' })).rejects.toMatchObject({ figures: { files: 1 } });
  const undo = shop.db.select().from(events).where(eq(events.kind, 'folder.removed')).get()?.undo?.body;
  await expect(createHotFolder(shop, undo as never, TESTER)).resolves.toMatch(/^folder-/);
});
