import { existsSync, mkdirSync, readFileSync, readdirSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { eq } from 'drizzle-orm';
import sharp from 'sharp';
import { hotFolders, jobs, presets } from '../db/tables/schema.ts';
import { openRefusals } from '../db/views.ts';
import { type TestShop, openTestShop } from '../testing/shopFixture.ts';
import { HotFolders } from './hotFolders.ts';
import { Intake, SAID } from './intake.ts';

let shop: TestShop;
let close: () => void;
let folders: HotFolders;
let path: string;
let png: Buffer;
const ID = 'magpie-labels-in';

beforeAll(async () => {
  png = await sharp({ create: { width: 300, height: 200, channels: 3, background: '#c94' } })
    .withMetadata({ density: 100 })
    .png()
    .toBuffer();
});
beforeEach(() => {
  ({ shop, close } = openTestShop());
  shop = { ...shop, limits: { ...shop.limits, quietMs: 60, unknownMs: 200, incompleteMs: 2500 } };
  path = join(shop.paths.hotFolders, 'magpie-labels');
  folders = new HotFolders(shop, new Intake(shop));
});
afterEach(async () => {
  await folders.close();
  close();
});

async function setUp(change: Partial<typeof hotFolders.$inferInsert>): Promise<void> {
  shop.db.update(hotFolders).set(change).where(eq(hotFolders.id, ID)).run();
  await folders.follow();
}
async function until(check: () => boolean, withinMs = 15_000): Promise<void> {
  const end = Date.now() + withinMs;
  while (!check()) {
    if (Date.now() > end) throw new Error(`did not come true: ${check.toString()}`);
    await new Promise((done) => setTimeout(done, 25));
  }
}
const all = () => shop.db.select().from(jobs).all();
const whole = () => all().filter((job) => job.state !== 'arriving');
const named = (name: string) => whole().find((job) => job.sourceName === name);
const folderRow = () => shop.db.select().from(hotFolders).where(eq(hotFolders.id, ID)).get();
const put = (name: string, bytes: Buffer | string = png): void => {
  writeFileSync(join(path, name), bytes);
};

test('a preset, a name pattern, and subfolders that carry customer and order; what was taken is kept in done', async () => {
  shop.db
    .insert(presets)
    .values({ id: 'decal', name: 'Decal', settings: { mirror: true, copies: 2 }, changedMs: 0 })
    .run();
  await setUp({
    presetId: 'decal',
    namePattern: '{copies}x_{any}',
    subfolders: 'customer/order',
    afterwards: 'kept in done',
  });
  mkdirSync(join(path, 'Marram Theatre', 'MT-93'), { recursive: true });
  put('Marram Theatre/MT-93/5x_crew.png');
  put('plain – Ñandú 灯.png');
  await until(() => whole().length === 2);
  expect(named('5x_crew.png')?.ticket).toMatchObject({
    values: { copies: 5, mirror: true, customer: 'Marram Theatre', orderNo: 'MT-93' },
    origins: { copies: 'file name', mirror: 'preset', customer: 'file name' },
  });
  expect(named('plain – Ñandú 灯.png')?.ticket).toMatchObject({
    values: { copies: 2, customer: null },
    preset: { name: 'Decal' },
  });
  await until(() => existsSync(join(path, 'done')) && readdirSync(join(path, 'done')).length === 2);
  expect(folderRow()).toMatchObject({ taken: 2, refusedCount: 0 });
  // The same name again does not write over the one that was kept.
  put('plain – Ñandú 灯.png');
  await until(() => readdirSync(join(path, 'done')).length === 3);
  expect(whole()).toHaveLength(3);
});

test('paused, files stay where they are; then they are taken', async () => {
  await setUp({ paused: true });
  put('later.png');
  await new Promise((done) => setTimeout(done, 600));
  expect([whole().length, folders.stateOf(ID)]).toEqual([0, 'paused']);
  expect(readdirSync(path)).toEqual(['later.png']);
  await setUp({ paused: false });
  await until(() => named('later.png') !== undefined);
});

test('a folder that vanishes is said to be missing; when it returns its files are taken, claims that were in it too', async () => {
  const away = `${path}-away`;
  await setUp({ paused: false });
  await until(() => folders.stateOf(ID) === 'watched');
  renameSync(path, away);
  await until(() => folders.stateOf(ID) === 'missing');
  writeFileSync(join(away, 'new.png'), png);
  mkdirSync(join(away, '.taken', 'claim-left'), { recursive: true });
  writeFileSync(join(away, '.taken', 'claim-left', 'left.png'), png);
  writeFileSync(
    join(away, '.taken', 'claim-left', SAID),
    JSON.stringify({ fileName: { copies: 8 }, ticketFile: { customer: 'Marram Theatre' } }),
  );
  renameSync(away, path);
  await until(() => whole().length === 2);
  expect(named('left.png')?.ticket.values).toMatchObject({ copies: 8, customer: 'Marram Theatre' });
  expect(folders.stateOf(ID)).toBe('watched');
});

test('a CSV beside files: good rows go through, each bad row is reported and its file put aside', async () => {
  await setUp({ paused: false });
  put(
    'order.csv',
    'File;Copies;Width;Customer\nfish.png;12;38 in;Brackwater Aquarium\ngear.png;many;;Fennick Bicycle Library\nnever.png;1;;\n',
  );
  put('fish.png');
  put('gear.png');
  await until(() => named('fish.png') !== undefined && openRefusals(shop.db).length === 2);
  expect(named('fish.png')?.ticket).toMatchObject({
    values: { copies: 12, customer: 'Brackwater Aquarium', size: { kind: 'exact', heightMm: null } },
    origins: { copies: 'ticket file', size: 'ticket file' },
  });
  expect(named('fish.png')?.widthMm).toBeCloseTo(965.2, 3);
  expect(named('gear.png')).toBeUndefined();
  const reasons = Object.fromEntries(openRefusals(shop.db).map((refusal) => [refusal.sourceName, refusal.reason]));
  expect(reasons['gear.png']).toBe('Row 2 (gear.png): copies “many”: a whole number from 1 to 10,000 is wanted');
  expect(reasons['order.csv']).toContain('And 1 more');
  expect(readFileSync(join(path, 'refused', 'order.csv.reason.txt'), 'utf8')).toContain('Row 3: never.png never came.');
  expect(readdirSync(join(path, 'refused')).sort()).toEqual([
    'gear.png',
    'gear.png.reason.txt',
    'order.csv',
    'order.csv.reason.txt',
  ]);
});

test('a JDF, and a JSON called like its file; the ticket that is later than the file is laid on the job', async () => {
  await setUp({ paused: false });
  const jdf = `<?xml version="1.0"?><JDF xmlns="http://www.CIP4.org/JDFSchema_1_1" ID="J" Type="Product" Status="Waiting" Version="1.4" JobID="LM-77">
    <ResourcePool><NodeInfo ID="N" Class="Parameter" Status="Available" LastEnd="2026-10-08T14:00:00+01:00" JobPriority="95"/>
    <RunList ID="R" Class="Parameter" Status="Available"><LayoutElement><FileSpec URL="file:///elsewhere/stall%20card.png"/></LayoutElement></RunList>
    <Component ID="C" Class="Quantity" Status="Unavailable" Amount="40" Dimensions="283.4646 141.7323 0"/></ResourcePool>
    <Comment>Hems on three sides</Comment></JDF>`;
  put('a.jdf', jdf);
  put('stall card.png');
  put('late.png');
  await until(() => whole().length === 2);
  expect(named('stall card.png')?.ticket.values).toMatchObject({
    copies: 40,
    orderNo: 'LM-77',
    priority: 'rush',
    notes: 'Hems on three sides',
    dueMs: Date.parse('2026-10-08T13:00:00Z'),
  });
  expect(named('stall card.png')?.widthMm).toBeCloseTo(100, 2);
  put('late.json', JSON.stringify({ copies: 6, stock: 'no such stock' }));
  await until(() => openRefusals(shop.db).length === 1);
  put('late.json', JSON.stringify({ copies: 6 }));
  await until(() => named('late.png')?.ticket.values.copies === 6);
  await until(() => readdirSync(path).every((name) => !/\.(jdf|json)$/.test(name)));
});

test('tickets that can’t be read at all are put aside with the reason', async () => {
  await setUp({ paused: false });
  put('bomb.jdf', '<?xml version="1.0"?><!DOCTYPE JDF [<!ENTITY a "aaaa">]><JDF>&a;</JDF>');
  put('list.json', '{"copies": 3');
  put('empty.csv', 'file,copies\n');
  await until(() => openRefusals(shop.db).length === 3);
  const reasons = openRefusals(shop.db).map((refusal) => `${refusal.sourceName}: ${refusal.reason}`);
  expect(reasons.sort()).toEqual([
    expect.stringContaining('bomb.jdf: The JDF cannot be read: a document type is not allowed') as string,
    'empty.csv: The ticket has no rows.',
    expect.stringContaining('list.json: The JSON cannot be read') as string,
  ]);
  rmSync(join(path, 'refused'), { recursive: true, force: true });
});

test('a ticket that can’t be used holds up the file that is called like it, once; mended, both are taken', async () => {
  await setUp({ paused: false });
  put('wrong.json', '{"copies": 3');
  put('wrong.png');
  put('other.png');
  await until(() => openRefusals(shop.db).length === 2);
  await until(() => named('other.png') !== undefined);
  expect(named('wrong.png')).toBeUndefined();
  const reason = openRefusals(shop.db).find((refusal) => refusal.sourceName === 'wrong.png')?.reason;
  expect(reason).toContain("Its ticket wrong.json can't be used: The JSON cannot be read");
  await until(() => existsSync(join(path, 'refused', 'wrong.png')));
  put('wrong.json', '{"copies": 3}');
  put('wrong.png');
  await until(() => named('wrong.png')?.ticket.values.copies === 3);
});

test('a list that can’t be used holds up the files that it names; so does a ticket that is too long', async () => {
  shop = { ...shop, limits: { ...shop.limits, ticketBytes: 400 } };
  folders = new HotFolders(shop, new Intake(shop));
  await setUp({ paused: false });
  put('list.csv', 'file,copies\n"Named one.png,5\nplain.png,2\n');
  put('long.json', JSON.stringify({ notes: 'x'.repeat(500) }));
  for (const name of ['Named one.png', 'plain.png', 'long.png', 'free.png']) put(name);
  await until(() => openRefusals(shop.db).length === 5);
  await until(() => named('free.png') !== undefined);
  expect(
    openRefusals(shop.db)
      .map(({ sourceName }) => sourceName)
      .sort(),
  ).toEqual(['Named one.png', 'list.csv', 'long.json', 'long.png', 'plain.png'].sort());
  expect(whole().map(({ sourceName }) => sourceName)).toEqual(['free.png']);
});

test('a file waits for a ticket that is still being written, and for a list that may name it', async () => {
  await setUp({ paused: false });
  const half = 'file,copies\nlisted.png,4\n';
  put('listed.png');
  for (let i = 1; i <= 8; i++) {
    put('list.csv', half.slice(0, Math.ceil((half.length * i) / 8)));
    await new Promise((done) => setTimeout(done, 40));
  }
  await until(() => named('listed.png') !== undefined);
  expect(named('listed.png')?.ticket.values.copies).toBe(4);
});

test('a list in the letters of an old or a new spreadsheet, with whole paths and decimals', async () => {
  await setUp({ paused: false });
  const rows = 'file;copies;customer\r\nC:\\Jobs\\in\\a.png;2.0;Müller & Söhne\r\n/home/x/b.png;3;Zoë\r\n';
  put('old.csv', Buffer.from(rows, 'latin1'));
  put('new.csv', Buffer.from(`\uFEFF${rows.replaceAll('a.png', 'c.png').replaceAll('b.png', 'd.png')}`, 'utf16le'));
  for (const name of ['a', 'b', 'c', 'd']) put(`${name}.png`);
  await until(() => ['a.png', 'b.png', 'c.png', 'd.png'].every((name) => named(name)));
  expect(['a.png', 'b.png', 'c.png', 'd.png'].map((name) => named(name)?.ticket.values)).toMatchObject([
    { copies: 2, customer: 'Müller & Söhne' },
    { copies: 3, customer: 'Zoë' },
    { copies: 2, customer: 'Müller & Söhne' },
    { copies: 3, customer: 'Zoë' },
  ]);
});

test('a name that says what can’t be is refused, not printed as if it had said nothing', async () => {
  await setUp({ paused: false, namePattern: '{customer}_{copies}x' });
  put('Tern_0x.png');
  put('Tern_4x.png');
  await until(() => named('Tern_4x.png')?.ticket.values.copies === 4);
  await until(() => openRefusals(shop.db).length === 1);
  expect(openRefusals(shop.db)[0]).toMatchObject({
    sourceName: 'Tern_0x.png',
    reason: "Its name says “0” for copies, which can't be used. Rename the file, and bring it in again.",
  });
});
