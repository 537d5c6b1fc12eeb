import { chmodSync, existsSync, mkdirSync, readFileSync, readdirSync, writeFileSync } from 'node:fs';
import * as files from 'node:fs/promises';
import { join } from 'node:path';
import { eq, inArray } from 'drizzle-orm';
import sharp from 'sharp';
import { hotFolders, queues, runs } from '../db/tables/schema.ts';
import { listJobs, openRefusals } from '../db/views.ts';
import { type TestShop, admitPlain, openTestShop } from '../testing/shopFixture.ts';
import { tasks } from '../db/tables/records.ts';
import { TaskStopped } from '../ports/work.ts';
import { HotFolder } from './hotFolder.ts';
import { type Claim, Intake, freePath } from './intake.ts';

jest.mock('node:fs/promises', () => ({ __esModule: true, ...jest.requireActual<object>('node:fs/promises') }));

let shop: TestShop;
let close: () => void;
let folder: HotFolder | undefined;
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
  shop = { ...shop, limits: { ...shop.limits, quietMs: 60, unknownMs: 200, incompleteMs: 2000, ticketBytes: 5000 } };
  path = join(shop.paths.hotFolders, 'magpie-labels');
});
afterEach(async () => {
  jest.restoreAllMocks();
  await folder?.close();
  folder = undefined;
  close();
});

async function watchFolder(): Promise<void> {
  const row = shop.db.select().from(hotFolders).where(eq(hotFolders.id, 'magpie-labels-in')).get();
  if (!row) throw new Error('no hot folder');
  folder = new HotFolder(shop, new Intake(shop), row);
  await folder.open();
}

async function until(check: () => boolean, withinMs = 15_000): Promise<void> {
  const end = Date.now() + withinMs;
  while (!check()) {
    if (Date.now() > end) throw new Error(`did not come true: ${check.toString()}`);
    await new Promise((done) => setTimeout(done, 20));
  }
}
const all = () => listJobs(shop.db, { which: 'all', order: 'oldest', limit: 100 }).items;
const names = () => all().map(({ sourceName }) => sourceName);

function claimed(name: string): Claim {
  const dir = join(path, '.taken', `claim-${name.length}`);
  mkdirSync(dir, { recursive: true });
  writeFileSync(join(dir, name), png);
  return {
    claimId: `claim-${name.length}`,
    path: join(dir, name),
    queueId: 'magpie-labels',
    hotFolderId: 'magpie-labels-in',
    sourceName: name,
    sideDir: join(path, 'refused'),
    doneDir: null,
  };
}

test('a claim that can’t be cleared away after its job is there: one job, no refusal', async () => {
  const claim = claimed('one.png');
  const rm = jest.spyOn(files, 'rm').mockRejectedValueOnce(Object.assign(new Error('EIO'), { code: 'EIO' }));
  const outcome = await new Intake(shop).accept(claim);
  expect(rm).toHaveBeenCalled();
  expect(outcome).toMatchObject({ jobIds: [expect.any(String)] });
  expect([all().length, openRefusals(shop.db)]).toEqual([1, []]);
  // The next start finds the claim again, and clears it away.
  expect(await new Intake(shop).accept(claim)).toEqual(outcome);
  expect([all().length, existsSync(claim.path)]).toEqual([1, false]);
});

test('a full disk refuses no file: it stays claimed, and is a job when there is room', async () => {
  const claim = claimed('later.png');
  const full = Object.assign(new Error('ENOSPC: no space left on device'), { code: 'ENOSPC' });
  const mend = shop.work.replace('first look', () => Promise.reject(full));
  await expect(new Intake(shop).accept(claim)).rejects.toBe(full);
  expect([all(), openRefusals(shop.db), existsSync(claim.path)]).toEqual([[], [], true]);
  mend();
  await new Intake(shop).accept(claim);
  expect(names()).toEqual(['later.png']);
});

test('a file that somebody holds leaves no claim behind and keeps its row of the ticket', async () => {
  writeFileSync(join(path, 'held.csv'), 'file,copies\nheld.png,7\n');
  writeFileSync(join(path, 'held.png'), png);
  const real = files.rename;
  let refused = 0;
  jest.spyOn(files, 'rename').mockImplementation(async (from, to) => {
    if (String(from).endsWith('held.png') && refused < 2) {
      refused += 1;
      throw Object.assign(new Error('EBUSY'), { code: 'EBUSY' });
    }
    return real(from, to);
  });
  await watchFolder();
  await until(() => refused === 1);
  await until(() => !existsSync(join(path, '.taken')) || readdirSync(join(path, '.taken')).length === 0);
  await until(() => all().some(({ state }) => state === 'ready'));
  expect(all()).toMatchObject([{ sourceName: 'held.png', copies: 7 }]);
});

test('a ticket that is too long, and one that can’t be read, are put aside; what lies behind them is taken', async () => {
  writeFileSync(join(path, 'a-long.csv'), `file,copies\n${'x'.repeat(6000)},1\n`);
  writeFileSync(join(path, 'b-shut.csv'), 'file,copies\nc.png,2\n');
  writeFileSync(join(path, 'c.png'), png);
  const real = files.readFile;
  jest.spyOn(files, 'readFile').mockImplementation((async (from: string, ...rest: []) => {
    if (from.endsWith('b-shut.csv')) throw Object.assign(new Error('EACCES'), { code: 'EACCES' });
    return real(from, ...rest);
  }) as never);
  await watchFolder();
  await until(() => all().some(({ state }) => state === 'ready'));
  await until(() => openRefusals(shop.db).length === 2);
  expect(folder?.state).toBe('watched');
  expect(
    openRefusals(shop.db)
      .map(({ sourceName, reason }) => `${sourceName}: ${reason}`)
      .sort(),
  ).toEqual([
    expect.stringMatching(/^a-long\.csv: The ticket has 60\d\d bytes; 5000 is the limit\.$/),
    'b-shut.csv: The ticket can’t be read: the server may not read it.'.replace('’', "'"),
  ]);
});

test('a name as long as names can be is refused under a shorter one, with its reason beside it', async () => {
  const long = `${'ü'.repeat(120)}xyz.txt`;
  expect(Buffer.byteLength(long)).toBe(247);
  writeFileSync(join(path, long), 'no picture');
  await watchFolder();
  await until(() => openRefusals(shop.db).length === 1);
  const [refusal] = openRefusals(shop.db);
  expect(refusal?.sourceName).toBe(long);
  await until(() => existsSync(refusal?.sidePath ?? ''));
  expect(readFileSync(`${refusal?.sidePath ?? ''}.reason.txt`, 'utf8')).toContain(long);
  expect(refusal?.sidePath).toMatch(/ü\.txt$/);
  for (const name of readdirSync(join(path, 'refused'))) expect(Buffer.byteLength(name)).toBeLessThanOrEqual(255);
  expect(await freePath(join(path, 'refused'), long)).toMatch(/ü \(2\)\.txt$/);
});

test('reading goes on while an earlier file is nested and laid out', async () => {
  shop.db.update(queues).set({ arrivalRule: 'go' }).where(eq(queues.id, 'magpie-labels')).run();
  let nestNow = (): void => undefined;
  const held = new Promise<void>((done) => (nestNow = done));
  shop.work.replace('nest', async (order, nest) => (await held, nest(order)));
  const intake = new Intake(shop);
  const outcomes = ['a.png', 'bb.png', 'ccc.png', 'dddd.png', 'eeeee.png'].map((name) => intake.accept(claimed(name)));
  await until(() => all().length === 5);
  nestNow();
  await Promise.all(outcomes);
  expect(openRefusals(shop.db)).toEqual([]);
});

/** What the shop has still to do. */
const leftToDo = () =>
  shop.db
    .select({ kind: tasks.kind, state: tasks.state, input: tasks.input, attempts: tasks.attempts })
    .from(tasks)
    .where(inArray(tasks.state, ['waiting', 'running']))
    .all();

test('killed between the arrival of a job and what follows it: the next start routes it and sends it on, once', async () => {
  shop.db.update(queues).set({ arrivalRule: 'go' }).where(eq(queues.id, 'magpie-labels')).run();
  const jobId = admitPlain(shop, 'arrived.pdf', [[120, 80]], 'magpie-labels');
  expect(leftToDo()).toMatchObject([
    { kind: 'arrival', state: 'waiting', input: { jobIds: [jobId], step: 'go', rule: null } },
  ]);
  shop.work.replace('run pdf', () => Promise.resolve({ sha256: 'f'.repeat(64), bytes: 1 }));
  await shop.tasks.resume();
  expect(leftToDo()).toEqual([]);
  expect(shop.db.select().from(runs).all()).toMatchObject([{ state: 'queued' }]);
  await shop.tasks.resume();
  expect(shop.db.select().from(runs).all()).toHaveLength(1);
});

test('a full disk while a job is sent on: it is written down as still to be done, and done later', async () => {
  shop.db.update(queues).set({ arrivalRule: 'go' }).where(eq(queues.id, 'magpie-labels')).run();
  admitPlain(shop, 'arrived.pdf', [[120, 80]], 'magpie-labels');
  const mend = shop.work.replace('nest', () => Promise.reject(new Error('ENOSPC: no space left on device')));
  shop.work.replace('run pdf', () => Promise.resolve({ sha256: 'f'.repeat(64), bytes: 1 }));
  for (let i = 0; i < 5; i++) await expect(shop.tasks.resume()).rejects.toThrow('ENOSPC');
  // However often there was no room: that is no fault of the task.
  expect(leftToDo()).toMatchObject([{ kind: 'send run', state: 'waiting', attempts: 0 }]);
  mend();
  await shop.tasks.resume();
  expect(leftToDo()).toEqual([]);
  expect(shop.db.select().from(runs).all()).toMatchObject([{ state: 'queued' }]);
});

const closing = () => Promise.reject(new TaskStopped('closing', 'The server is being stopped.'));

test('the server is stopped while a file is read: it is not refused, and is brought in after the next start', async () => {
  const claim = claimed('late.png');
  const mend = shop.work.replace('first look', closing);
  await expect(new Intake(shop).accept(claim)).rejects.toThrow('being stopped');
  expect([openRefusals(shop.db), existsSync(claim.path)]).toEqual([[], true]);
  mend();
  expect(await new Intake(shop).accept(claim)).toHaveProperty('jobIds');
});

test('the server is stopped while a run is sent on: it still goes by itself after the next start', async () => {
  shop.db.update(queues).set({ arrivalRule: 'go' }).where(eq(queues.id, 'magpie-labels')).run();
  admitPlain(shop, 'arrived.pdf', [[120, 80]], 'magpie-labels');
  const mend = shop.work.replace('nest', closing);
  await shop.tasks.resume();
  expect(shop.db.select().from(runs).get()?.goAtMs).not.toBeNull();
  expect(leftToDo()).toMatchObject([{ kind: 'send run', state: 'waiting', attempts: 0 }]);
  mend();
  shop.work.replace('run pdf', () => Promise.resolve({ sha256: 'f'.repeat(64), bytes: 1 }));
  await shop.tasks.resume();
  expect(shop.db.select().from(runs).all()).toMatchObject([{ state: 'queued', goAtMs: null }]);
});

test('while nothing can be written down files stay where they are, and are taken afterwards', async () => {
  shop.storage.acceptsWork = false;
  await watchFolder();
  writeFileSync(join(path, 'patient.png'), png);
  await new Promise((done) => setTimeout(done, 700));
  expect([readdirSync(path).includes('patient.png'), all()]).toEqual([true, []]);
  shop.storage.acceptsWork = true;
  await until(() => all().some(({ state }) => state === 'ready'));
});

test('a folder that nobody may write to says so by its state, and is not emptied', async () => {
  chmodSync(path, 0o755);
  await watchFolder();
  await until(() => folder?.state === 'watched');
  expect(readdirSync(path).filter((name) => !name.startsWith('.'))).toEqual([]);
});

test('a file that the server may not read is refused after a while, and said to be', async () => {
  const real = files.open;
  jest.spyOn(files, 'open').mockImplementation(async (from, flags, mode) => {
    if (String(from).endsWith('closed.png')) throw Object.assign(new Error('EACCES'), { code: 'EACCES' });
    return real(from, flags, mode);
  });
  shop = { ...shop, limits: { ...shop.limits, incompleteMs: 500 } };
  await watchFolder();
  writeFileSync(join(path, 'closed.png'), png);
  writeFileSync(join(path, 'other.png'), png);
  await until(() => names().includes('other.png'));
  await until(() => openRefusals(shop.db).length === 1);
  expect(openRefusals(shop.db)[0]).toMatchObject({
    sourceName: 'closed.png',
    reason: 'The server may not read this file. Give it the right to, and bring the file in again.',
  });
  await until(() => existsSync(join(path, 'refused', 'closed.png')));
  expect(names()).toEqual(['other.png']);
});

test('a name of an old machine that can’t be mended now, or is taken, holds up nobody and writes over nothing', async () => {
  const old = Buffer.concat([Buffer.from(`${path}/`), Buffer.from('Möwe.png', 'latin1')]);
  const real = files.rename;
  let held = true;
  jest.spyOn(files, 'rename').mockImplementation(async (from, to) => {
    if (held && Buffer.isBuffer(from)) throw Object.assign(new Error('EBUSY'), { code: 'EBUSY' });
    return real(from, to);
  });
  writeFileSync(old, png);
  writeFileSync(join(path, 'other.png'), png);
  await watchFolder();
  await until(() => names().includes('other.png'));
  expect([folder?.state, existsSync(old)]).toEqual(['watched', true]);
  // Something is called so already.
  mkdirSync(join(path, 'Möwe.png'));
  held = false;
  await until(() => names().includes('Möwe (2).png'));
});

test('a name in the letters of an old machine is read as what it means, and lies there no more', async () => {
  await watchFolder();
  writeFileSync(Buffer.concat([Buffer.from(`${path}/`), Buffer.from('Müller Söhne.png', 'latin1')]), png);
  await until(() => names().length === 1 && all()[0]?.state === 'ready');
  expect(names()).toEqual(['Müller Söhne.png']);
  await until(() => readdirSync(path).filter((name) => name.endsWith('.png')).length === 0);
});
