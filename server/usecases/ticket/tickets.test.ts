import { TESTER } from '../../testing/tester.ts';
import { desc, eq } from 'drizzle-orm';
import { events } from '../../db/tables/records.ts';
import { jobs, pieces, runs } from '../../db/tables/schema.ts';
import { spools } from '../../db/tables/floorTables.ts';
import { queueViews } from '../../db/queueViews.ts';
import { runDetail } from '../../db/runViews.ts';
import { jobDetail, jobItem } from '../../db/views.ts';
import { Refused } from '../../shop.ts';
import { admitPlain, openTestShop, type TestShop } from '../../testing/shopFixture.ts';
import { admitJob } from '../arrival/admitJob.ts';
import { changeJob, changeJobs, undoChange } from './changeJobs.ts';
import { acceptJob } from './closeJob.ts';
import { setJobPrice } from './jobPrice.ts';
import { createRun } from '../run/createRun.ts';
import { autoSubmit, autoSubmitArrived, releaseDueRuns } from '../run/autoSubmit.ts';
import { changeHotFolder, createHotFolder, removeHotFolder } from '../setup/hotFolders.ts';
import { lateTicket } from '../arrival/applyLateTicket.ts';
import { changePreset, copyPreset, createPreset, deletePreset, importPresets } from './presets.ts';
import { changeQueue, copyQueue } from '../setup/queues.ts';
import { NO_NATURE } from './ticketService.ts';

let shop: TestShop;
let close: () => void;

beforeEach(() => {
  ({ shop, close } = openTestShop());
  // A laid-out run needs no file behind it here.
  shop.work.replace('run pdf', () => Promise.resolve({ sha256: 'f'.repeat(64), bytes: 1 }));
});
afterEach(() => {
  close();
});

function refusal(act: () => unknown): Refused {
  try {
    act();
  } catch (error) {
    if (error instanceof Refused) return error;
    throw error;
  }
  throw new Error('nothing was refused');
}

const ticketOf = (id: string) => {
  const row = shop.db.select().from(jobs).where(eq(jobs.id, id)).get();
  if (!row) throw new Error(`no job ${id}`);
  return row.ticket;
};
const lastUndo = (): string => {
  const rows = shop.db.select().from(events).all();
  const path = rows.reverse().find((row) => row.undo?.path.startsWith('/api/changes/'))?.undo?.path;
  return path?.split('/')[3] ?? '';
};

test('what a queue, a stock and a printer give is a copy: later changes never touch tickets that exist', () => {
  const before = admitPlain(shop, 'before.pdf', [[400, 300]]);
  const was = ticketOf(before);
  expect(was.origins).toMatchObject({ dryOut: 'stock', cutOff: 'printer', stockId: 'queue', copies: 'printer' });
  changeQueue(
    shop,
    'heron-banners',
    { settings: { modeId: 'fine', stockId: 'mesh', copies: 7, mirror: true }, gapMm: 25 },
    TESTER,
  );
  expect(ticketOf(before)).toEqual(was);
  const after = ticketOf(admitPlain(shop, 'after.pdf', [[400, 300]]));
  expect(after.values).toMatchObject({ modeId: 'fine', stockId: 'mesh', copies: 7, mirror: true, span: 'whole bed' });
  expect(after.origins).toMatchObject({ span: 'stock', copies: 'queue' });
  const undo = shop.db.select().from(events).where(eq(events.kind, 'queue.changed')).get()?.undo;
  changeQueue(shop, 'heron-banners', undo?.body as object, TESTER);
  expect(ticketOf(admitPlain(shop, 'again.pdf', [[400, 300]])).values).toEqual(was.values);
  expect(
    refusal(() => {
      changeQueue(shop, 'heron-banners', { settings: { modeId: 'none-such' } }, TESTER);
    }).code,
  ).toBe('no-such-mode');
});

test('a queue is copied and then differs in one thing', () => {
  const id = copyQueue(shop, 'heron-banners', 'Heron rush', TESTER);
  changeQueue(shop, id, { arrivalRule: 'go' }, TESTER);
  const [old, copy] = ['heron-banners', id].map((each) =>
    queueViews(shop.db, () => 'watched').find((queue) => queue.id === each),
  );
  expect(copy).toMatchObject({
    name: 'Heron rush',
    arrivalRule: 'go',
    hotFolders: [],
    checks: old?.checks,
    settings: old?.settings,
  });
  expect(old?.arrivalRule).toBe('prepare');
  expect(refusal(() => copyQueue(shop, id, 'heron BANNERS', TESTER)).code).toBe('name-taken');
});

test('size, crop and turn make the pieces; what they make is checked, laid out and put back', () => {
  const id = admitPlain(shop, 'wide.pdf', [[2450, 3100]]);
  expect(jobItem(shop.db, id)).toMatchObject({ state: 'blocked', findings: [{ code: 'too-wide' }] });
  const [finding] = jobItem(shop.db, id)?.findings ?? [];
  changeJob(shop, id, finding?.mends[0]?.change ?? {}, TESTER);
  const usable = jobDetail(shop.db, id)?.usableWidthMm ?? 0;
  expect(jobItem(shop.db, id)).toMatchObject({ state: 'ready', widthMm: usable, findings: [] });
  const run = runDetail(shop.db, createRun(shop, [id], TESTER));
  expect(run?.pieces[0]).toMatchObject({ widthMm: usable });
  expect(run?.pieces[0]?.heightMm).toBeCloseTo((3100 * usable) / 2450, 3);
  expect(
    refusal(() => {
      changeJob(shop, id, { mirror: true }, TESTER);
    }).code,
  ).toBe('in-a-run');
});

test('many tickets at once: what can be changed is, what can’t is named, and all of it is undone in one step', async () => {
  const ids = Array.from({ length: 230 }, (_, i) => admitPlain(shop, `card-${String(i)}.pdf`, [[100, 60]]));
  const held = ids[4] ?? '';
  const own = ids[7] ?? '';
  createRun(shop, [held], TESTER);
  changeJob(shop, own, { customer: 'Brackwater Aquarium' }, TESTER);
  const result = await changeJobs(shop, ids, { customer: 'Marram Theatre', stockId: 'mesh' }, TESTER);
  expect(result.changed).toBe(229);
  expect(result.refused).toEqual([
    { jobId: held, sourceName: 'card-4.pdf', reason: expect.stringContaining('in a run') as string },
  ]);
  expect(ticketOf(own).values).toMatchObject({ customer: 'Marram Theatre', stockId: 'mesh', span: 'whole bed' });
  expect(shop.db.select().from(events).where(eq(events.kind, 'jobs.changed')).all()).toMatchObject([
    { data: { jobs: 229, what: expect.stringContaining('customer') as string, refused: 1 } },
  ]);
  const change = lastUndo();
  // Somebody changes one of them again before it is undone: that value stays.
  const again = ids[9] ?? '';
  changeJob(shop, again, { notes: 'hems on three sides' }, TESTER);
  await undoChange(shop, change, TESTER);
  expect(ticketOf(own)).toMatchObject({
    values: { customer: 'Brackwater Aquarium', stockId: 'block-out', span: 'media' },
  });
  expect(ticketOf(ids[0] ?? '').origins).toMatchObject({ customer: 'printer', stockId: 'queue' });
  expect(ticketOf(again).values).toMatchObject({ notes: 'hems on three sides', customer: null });
  await expect(undoChange(shop, change, TESTER)).rejects.toThrow('is undone');
  await undoChange(shop, lastUndo(), TESTER);
  expect(ticketOf(own).values.customer).toBe('Marram Theatre');
  // Cancelled on the way: what is changed by then stays so, is counted, and can be undone.
  const cancel = new AbortController();
  const shares: number[] = [];
  const progress = (share: number): void => {
    shares.push(share);
    cancel.abort();
  };
  const part = await changeJobs(shop, ids, { notes: 'proof first' }, TESTER, { signal: cancel.signal, progress });
  expect([part.changed, part.refused.length, shares]).toEqual([100, 0, [100 / 230]]);
  const notes = (): number => ids.filter((id) => ticketOf(id).values.notes === 'proof first').length;
  expect(notes()).toBe(100);
  await undoChange(shop, lastUndo(), TESTER);
  expect(notes()).toBe(0);
});

test('presets: named once, carried as a copy, marked where changed, never written over', async () => {
  const id = createPreset(shop, { name: 'Window decal', settings: { mirror: true, copies: 3 } }, TESTER);
  expect(refusal(() => createPreset(shop, { name: ' window DECAL', settings: {} }, TESTER)).code).toBe('name-taken');
  const job = admitPlain(shop, 'a.pdf', [[400, 300]]);
  changeJob(shop, job, { presetId: id }, TESTER);
  expect(ticketOf(job)).toMatchObject({
    preset: { name: 'Window decal' },
    values: { mirror: true, copies: 3 },
    origins: { mirror: 'preset' },
  });
  expect(shop.db.select().from(pieces).where(eq(pieces.jobId, job)).all()).toHaveLength(3);
  changePreset(shop, id, { name: 'Window', settings: { mirror: false } }, TESTER);
  expect(ticketOf(job).values).toMatchObject({ mirror: true, copies: 3 });
  const copy = copyPreset(shop, id, TESTER);
  const imported = importPresets(
    shop,
    { yellowSpoolPresets: 1, presets: [{ name: 'Window', settings: { copies: 9 } }] },
    TESTER,
  );
  const names = queueNames();
  expect(names).toEqual(expect.arrayContaining(['Window', 'Window copy', 'Window 2']));
  const folder = await createHotFolder(shop, { queueId: 'magpie-labels', path: 'windows', presetId: copy }, TESTER);
  expect(
    refusal(() => {
      deletePreset(shop, copy, TESTER);
    }).code,
  ).toBe('in-use');
  removeHotFolder(shop, folder, TESTER);
  deletePreset(shop, copy, TESTER);
  deletePreset(shop, imported[0] ?? '', TESTER);
  changeJob(shop, job, { presetId: null }, TESTER);
  expect(ticketOf(job)).toMatchObject({ preset: null, values: { copies: 1 } });
});
const queueNames = () =>
  shop.db.query.presets
    .findMany()
    .sync()
    .map((preset) => preset.name);

test('hot folders stand alone, and their patterns make sense', async () => {
  const make = (path: string, more = {}) => createHotFolder(shop, { queueId: 'magpie-labels', path, ...more }, TESTER);
  const id = await make('decals');
  await expect(make('decals')).rejects.toMatchObject({ code: 'path-taken' });
  await expect(make(`${shop.paths.hotFolders}/decals/inside`)).rejects.toMatchObject({ code: 'path-taken' });
  await expect(make('../outside')).rejects.toMatchObject({ code: 'bad-path' });
  await expect(make('prize', { namePattern: '{prize}' })).rejects.toThrow('no part {prize}');
  changeHotFolder(shop, id, { paused: true }, TESTER);
  const undo = shop.db.select().from(events).where(eq(events.kind, 'folder.changed')).get()?.undo;
  expect(undo).toMatchObject({ path: `/api/hot-folders/${id}`, body: { paused: false } });
});

test('arrival rules: a person looks first, or it goes by itself together with its like', async () => {
  changeQueue(shop, 'heron-banners', { arrivalRule: 'wait' }, TESTER);
  const looked = admitPlain(shop, 'look.pdf', [[400, 300]]);
  expect(jobItem(shop.db, looked)?.state).toBe('checked');
  acceptJob(shop, looked, TESTER);
  expect(jobItem(shop.db, looked)?.state).toBe('ready');

  changeQueue(shop, 'bittern-photo', { arrivalRule: 'go', goAfterMin: 10 }, TESTER);
  shop.clock.setRate(0);
  const first = admitPlain(shop, 'one.pdf', [[400, 300]], 'bittern-photo');
  const second = admitPlain(shop, 'two.pdf', [[500, 300]], 'bittern-photo');
  const other = admitPlain(shop, 'odd.pdf', [[500, 300]], 'bittern-photo');
  changeJob(shop, other, { cutOff: 'none' }, TESTER);
  for (const id of [first, second, other]) await autoSubmitArrived(shop, [id], null);
  const drafts = shop.db.select().from(runs).all();
  expect(drafts.map((run) => [run.state, runDetail(shop.db, run.id)?.pieces.length])).toEqual([
    ['draft', 2],
    ['draft', 1],
  ]);
  await releaseDueRuns(shop);
  expect(
    shop.db
      .select()
      .from(runs)
      .all()
      .map((run) => run.state),
  ).toEqual(['draft', 'draft']);
  shop.db.update(runs).set({ goAtMs: shop.clock.now() }).run();
  await releaseDueRuns(shop);
  expect(
    shop.db
      .select()
      .from(runs)
      .all()
      .map((run) => [run.state, run.goAtMs]),
  ).toEqual([
    ['queued', null],
    ['queued', null],
  ]);
});

test('what can’t go waits on the Bench for a person, and the log says why', async () => {
  // What stands on the rack is waited for in the line; what is nowhere is a person's business.
  const onRack = admitPlain(shop, 'gauze.pdf', [[400, 300]]);
  changeJob(shop, onRack, { stockId: 'flag-gauze' }, TESTER);
  const waits = await autoSubmit(shop, [onRack], 0, TESTER);
  const line = shop.db
    .select()
    .from(runs)
    .where(eq(runs.id, waits.runIds[0] ?? ''))
    .get();
  expect(line?.state).toBe('queued');
  shop.db.update(spools).set({ gone: true }).where(eq(spools.stockId, 'mesh')).run();
  const job = admitPlain(shop, 'mesh.pdf', [[400, 300]]);
  changeJob(shop, job, { stockId: 'mesh' }, TESTER);
  const { runIds } = await autoSubmit(shop, [job], 0, TESTER);
  expect(
    shop.db
      .select()
      .from(runs)
      .where(eq(runs.id, runIds[0] ?? ''))
      .get(),
  ).toMatchObject({ state: 'draft', goAtMs: null });
  expect(shop.db.select().from(events).where(eq(events.kind, 'run.stayed')).get()?.data).toMatchObject({
    reason: 'No spool of Mesh banner 1600 is loaded on Heron or stands on the rack.',
  });
  const blocked = admitPlain(shop, 'wide.pdf', [[2450, 3100]]);
  expect((await autoSubmit(shop, [blocked], 0, TESTER)).stayed).toMatchObject([{ jobId: blocked }]);
});

test('a job each: pages become jobs of their own; separations become pieces of their own', () => {
  const bleed = { leftMm: 0, topMm: 0, rightMm: 0, bottomMm: 0 };
  const page = { widthMm: 210, heightMm: 297, bleed, coverage: { black: 0.2 }, dpi: null, thinnestMm: null };
  const arrival = { claimId: 'claim-9', queueId: 'heron-banners', hotFolderId: null, sourceName: 'set.pdf' };
  const facts = { format: 'pdf' as const, pages: [page, page, page], nature: { ...NO_NATURE, spots: [] } };
  const ids = admitJob(
    shop,
    { ...arrival, ticketFile: { pagesAs: 'a job each', copies: 2 } },
    { sha256: 'c'.repeat(64), bytes: 5, facts },
  );
  expect(ids.map((id) => jobItem(shop.db, id)?.sourceName)).toEqual([
    'set, page 1.pdf',
    'set, page 2.pdf',
    'set, page 3.pdf',
  ]);
  expect(admitJob(shop, arrival, { sha256: 'c'.repeat(64), bytes: 5, facts })).toEqual(ids);
  const [id = ''] = ids;
  changeJob(shop, id, { separations: { kind: 'each alone' } }, TESTER);
  const parts = shop.db.select().from(pieces).where(eq(pieces.jobId, id)).all();
  expect(parts.map((piece) => `${piece.part ?? ''} ${String(piece.copy)}`).sort()).toEqual([
    'black 0',
    'black 1',
    'cyan 0',
    'cyan 1',
    'magenta 0',
    'magenta 1',
    'yellow 0',
    'yellow 1',
  ]);
});

test('a ticket that comes after its file is laid on the job, below what a person has set', () => {
  const row = { claimId: 'claim-7', queueId: 'magpie-labels', hotFolderId: 'magpie-labels-in', sourceName: 'late.pdf' };
  const bleed = { leftMm: 0, topMm: 0, rightMm: 0, bottomMm: 0 };
  const page = { widthMm: 100, heightMm: 50, bleed, coverage: { black: 0.2 }, dpi: null, thinnestMm: null };
  const [id = ''] = admitJob(shop, row, {
    sha256: 'd'.repeat(64),
    bytes: 5,
    facts: { format: 'pdf', pages: [page], nature: NO_NATURE },
  });
  changeJob(shop, id, { customer: 'Marram Theatre' }, TESTER);
  expect(lateTicket(shop, 'magpie-labels-in', 'late', { copies: 5, customer: 'Someone else' })).toBe(true);
  expect(ticketOf(id)).toMatchObject({
    values: { copies: 5, customer: 'Marram Theatre' },
    origins: { copies: 'ticket file', customer: 'set here' },
  });
  expect(lateTicket(shop, 'magpie-labels-in', 'other.pdf', { copies: 5 })).toBe(false);
});

test('a print that is wider than its media is split into panels by one click: each is a piece, and fits', () => {
  const id = admitPlain(shop, 'wall.pdf', [[4000, 900]]);
  changeJob(shop, id, { quarterTurn: false }, TESTER);
  const job = jobDetail(shop.db, id);
  const mend = job?.findings
    .find((finding) => finding.code === 'too-wide')
    ?.mends.find(({ text }) => text.startsWith('Split it'));
  expect(mend?.text).toBe('Split it into 3 panels');
  changeJob(shop, id, { ...mend?.change, copies: 2 }, TESTER);
  const split = jobDetail(shop.db, id);
  expect(split?.findings.some((finding) => finding.code === 'too-wide')).toBe(false);
  expect(split?.pieces.owed).toBe(6);
  const widths = split?.pageList[0]?.panels?.map((panel) => panel.widthMm) ?? [];
  expect(widths.reduce((sum, width) => sum + width, 0)).toBeCloseTo(4000 + 2 * 10, 3);
  const run = runDetail(shop.db, createRun(shop, [id], TESTER));
  expect(run?.pieces.map((piece) => piece.panel?.no)).toEqual([1, 2, 3, 1, 2, 3]);
  expect(Math.max(...(run?.pieces.map((piece) => piece.widthMm) ?? []))).toBeLessThanOrEqual(run?.usableWidthMm ?? 0);
  const other = admitPlain(shop, 'wall 2.pdf', [[4000, 900]]);
  changeJob(shop, other, { tiles: { cut: 'upright', panels: 'equal', joinMm: 10, turnEverySecond: true } }, TESTER);
  changeJob(shop, other, { tiles: null }, TESTER);
  expect(jobDetail(shop.db, other)?.pieces.owed).toBe(1);
});

test('a grain that leaves a print too wide is named with its mend; what is printed can not be parted in another way', () => {
  const id = admitPlain(shop, 'wide.pdf', [[2000, 900]]);
  changeJob(shop, id, { grain: 'along' }, TESTER);
  const finding = jobDetail(shop.db, id)?.findings.find(({ code }) => code === 'too-wide');
  expect(finding?.figures.leastMm).toBe(2000);
  expect(finding?.mends[0]).toEqual({
    text: 'Let it lie across the grain',
    change: { quarterTurn: true, grain: 'free' },
  });
  changeJob(shop, id, { grain: 'across' }, TESTER);
  expect(jobDetail(shop.db, id)?.findings.map(({ code }) => code)).not.toContain('too-wide');
  shop.db.update(pieces).set({ state: 'printed' }).where(eq(pieces.jobId, id)).run();
  const tiles = { cut: 'upright', panels: 'equal', joinMm: 10, turnEverySecond: false } as const;
  expect(() => {
    changeJob(shop, id, { grain: 'along', tiles }, TESTER);
  }).toThrow('1 piece of wide.pdf is in a run or printed');
  expect(jobDetail(shop.db, id)?.pieces).toMatchObject({ printed: 1, owed: 0 });
});

test('a price is the job’s own: it is set and taken back, and the log says so', () => {
  const id = admitPlain(shop, 'priced.pdf', [[500, 400]]);
  const price = () => shop.db.select().from(jobs).where(eq(jobs.id, id)).get()?.priceMinor;
  setJobPrice(shop, id, 12_500, TESTER);
  expect(price()).toBe(12_500);
  const [note] = shop.db.select().from(events).where(eq(events.subjectId, id)).orderBy(desc(events.id)).all();
  expect(note).toMatchObject({
    kind: 'job.priced',
    undo: { path: `/api/jobs/${id}/price`, body: { priceMinor: null } },
  });
  setJobPrice(shop, id, null, TESTER);
  expect(price()).toBeNull();
  expect(() => setJobPrice(shop, 'job-none', 1, TESTER)).toThrow('There is no job job-none');
});
