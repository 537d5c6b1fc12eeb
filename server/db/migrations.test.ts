import { spoolLeftMm } from './printerViews.ts';
import { cpSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Ajv } from 'ajv';
import Database from 'better-sqlite3';
import { eq } from 'drizzle-orm';
import { PrinterConfig } from '../../contract/api/floor.ts';
import { makeTicket } from '../../core/ticket/ticket.ts';
import { openDb } from './open.ts';
import {
  channelFirings,
  events,
  inkLedger,
  inkSums,
  pieceOutcomes,
  runAttempts,
  spoolLedger,
  tasks,
} from './tables/records.ts';
import { people } from './tables/peopleTables.ts';
import { jobPages, jobs, queues, runs, settings } from './tables/schema.ts';
import { printers } from './tables/floorTables.ts';
import { listJobs } from './views.ts';

const ALL = 'server/db/migrations';
let root: string;
beforeEach(() => {
  root = mkdtempSync(join(tmpdir(), 'yellow-spool-test-'));
});
afterEach(() => {
  rmSync(root, { recursive: true, force: true });
});

/** The migrations up to one, as they stood when it was the newest. */
function migrationsUpTo(count: number): string {
  const folder = join(root, `up-to-${String(count)}`);
  mkdirSync(join(folder, 'meta'), { recursive: true });
  const journal = JSON.parse(readFileSync(join(ALL, 'meta', '_journal.json'), 'utf8')) as {
    entries: { tag: string }[];
  };
  const entries = journal.entries.slice(0, count);
  for (const { tag } of entries) cpSync(join(ALL, `${tag}.sql`), join(folder, `${tag}.sql`));
  writeFileSync(join(folder, 'meta', '_journal.json'), JSON.stringify({ ...journal, entries }));
  return folder;
}

test('a shop of the first version keeps its jobs: tickets get layers, and nothing that was set is lost', () => {
  const file = join(root, 'shop.db');
  openDb(file, migrationsUpTo(1)).close();
  const raw = new Database(file);
  const values = {
    copies: 4,
    quarterTurn: true,
    modeId: 'm',
    stockId: 's',
    span: 'media',
    dryOut: true,
    cutOff: 'none',
    customer: 'Marram Theatre',
    orderNo: null,
    dueMs: 5,
  };
  const origins = Object.fromEntries(
    Object.keys(values).map((key) => [key, ['copies', 'customer', 'dueMs'].includes(key) ? 'set here' : 'queue']),
  );
  const finding = { code: 'resolution', severity: 'warn', text: '40 dpi', figures: { dpi: 40 } };
  raw.exec(`INSERT INTO printers (id, name, position, config) VALUES ('p', 'P', 1, '{"form":"roll"}');
    INSERT INTO queues (id, name, printer_id, settings, gap_mm, arrival_rule, warn_below_dpi, note_below_dpi, position) VALUES ('q', 'Q', 'p', '{}', 5, 'wait', 50, 90, 1);`);
  raw
    .prepare(
      `INSERT INTO jobs (id, queue_id, source_name, bytes, width_mm, height_mm, pages, pixels_across, has_alpha, state, ticket, findings, arrived_ms)
     VALUES ('j', 'q', 'a.png', 9, 254, 100, 1, 1000, 1, 'ready', ?, ?, 7)`,
    )
    .run(JSON.stringify({ values, origins }), JSON.stringify([finding]));
  raw.exec(`INSERT INTO job_pages (job_id, page, width_mm, height_mm, bleed, coverage) VALUES ('j', 0, 254, 100, '{"leftMm":0,"topMm":0,"rightMm":0,"bottomMm":0}', '{}');
    INSERT INTO pieces (id, job_id, page, copy, state) VALUES ('x', 'j', 0, 0, 'owed');`);
  raw.close();

  const { db, close } = openDb(file, ALL);
  const [job] = db.select().from(jobs).all();
  expect(job?.ticket.values).toMatchObject({
    ...values,
    priority: 'normal',
    size: { kind: 'as it came' },
    mirror: false,
  });
  expect(job?.ticket.origins).toMatchObject({
    copies: 'set here',
    customer: 'set here',
    stockId: 'queue',
    mirror: 'printer',
  });
  // What is computed from the layers is what was kept.
  expect(makeTicket(job?.ticket.layers ?? {}).values).toEqual(job?.ticket.values);
  expect(job?.nature).toMatchObject({ hasAlpha: true, assumedDpi: null });
  expect(job?.findings).toEqual([{ ...finding, mends: [] }]);
  expect(db.select().from(jobPages).all()).toMatchObject([{ sourcePage: 0, dpi: 100, finished: null }]);
  expect(db.select().from(queues).all()).toMatchObject([{ checks: { warnBelowDpi: 50, noteBelowDpi: 90 } }]);
  close();
});

test('opened a second time nothing is migrated again', () => {
  const file = join(root, 'shop.db');
  openDb(file, ALL).close();
  const { db, close } = openDb(file, ALL);
  expect(db.select().from(jobs).all()).toEqual([]);
  close();
});

test('a printer of an earlier version is described in full after the update, and keeps what it had', () => {
  const file = join(root, 'shop.db');
  openDb(file, migrationsUpTo(10)).close();
  const raw = new Database(file);
  const old = {
    form: 'print and cut',
    printableWidthMm: 1340,
    widestMediaMm: 1372,
    registeredEdge: 'left',
    mediaMarginMm: { leftMm: 10, rightMm: 10 },
    leadMm: 25,
    trailMm: 25,
    longestMm: 15_000,
    freeHangMm: 420,
    sources: [{ id: 'roll', name: 'roll' }],
    channels: [{ id: 'cyan', name: 'Cyan', colour: '#1391C7', heads: 1, tankMl: 500, pricePerMlMicro: 110_000 }],
    modes: [
      {
        id: 'label',
        name: 'Label',
        dpiX: 720,
        dpiY: 720,
        passes: 8,
        oneDirectional: true,
        dropPl: 6,
        profile: 'Vinyl 8-pass',
        profilePasses: 8,
      },
    ],
    ratePerHourMinor: 3200,
    edgeToEdge: false,
    defaults: { cutOff: 'full' },
    machine: {
      nozzlesPerChannel: 360,
      nozzlesPerInch: 180,
      carriageMmPerS: 900,
      carriageMmPerS2: 9000,
      dwellS: 0.15,
      returnMmPerS: 1200,
      feedMmPerS: 50,
      dryOutMmPerS: 20,
      bedWidthMm: 1620,
      startUpS: 70,
      fullCutS: 12,
      trailerMm: 40,
    },
  };
  raw
    .prepare(`INSERT INTO printers (id, name, position, config) VALUES ('magpie', 'Magpie', 1, ?)`)
    .run(JSON.stringify(old));
  raw.close();
  const { db, close } = openDb(file, ALL);
  const config = db.select().from(printers).get()?.config;
  close();
  const check = new Ajv({ strict: false }).compile(PrinterConfig);
  check(config);
  expect(check.errors).toBeNull();
  expect(config).toMatchObject({
    ...old,
    sources: [{ id: 'roll', kind: 'roll', holds: 1 }],
    channels: [{ ...old.channels[0], idleLimitH: 96 }],
    modes: [{ ...old.modes[0], oneDirectional: true, lineMmPerS: null }],
    finishing: { fullCut: true, contourCut: true },
    machine: { ...old.machine, backFeedMmPerS: 50, cutter: { cutMmPerS: 250 } },
  });
});

test('a shop without kept sums gets them: ink adds up, kept jobs are looked at, and what was printed is found by its words', () => {
  const file = join(root, 'shop.db');
  openDb(file, migrationsUpTo(11)).close();
  const raw = new Database(file);
  const ticket = makeTicket({ queue: { modeId: 'm', stockId: 's' }, 'set here': { customer: 'Dune Radio' } });
  raw.exec(`INSERT INTO printers (id, name, position, config) VALUES ('p', 'P', 1, '{"form":"roll"}');
    INSERT INTO queues (id, name, printer_id, settings, gap_mm, arrival_rule, position) VALUES ('q', 'Q', 'p', '{}', 5, 'wait', 1);
    INSERT INTO ink_ledger (printer_id, channel_id, ml, run_id, attempt, at_ms) VALUES ('p', 'cyan', -1.5, 'r1', 1, 1), ('p', 'cyan', -2, 'r2', 1, 2), ('p', 'black', -4, 'r2', 1, 2);`);
  const job = raw.prepare(
    `INSERT INTO jobs (id, queue_id, source_name, bytes, width_mm, height_mm, pages, state, ticket, findings, arrived_ms)
     VALUES (?, 'q', ?, 9, 254, 100, 1, ?, ?, '[]', 7)`,
  );
  job.run('j1', 'mast.pdf', 'shelved', JSON.stringify(ticket));
  job.run('j2', 'sail.pdf', 'ready', JSON.stringify(ticket));
  raw.close();
  const { db, close } = openDb(file, ALL);
  const sums = () =>
    Object.fromEntries(
      db
        .select()
        .from(inkSums)
        .all()
        .map(({ channelId, ml }) => [channelId, ml]),
    );
  expect(sums()).toEqual({ cyan: -3.5, black: -4 });
  const row = { printerId: 'p', channelId: 'cyan', ml: -1, runId: 'r3', attempt: 1, atMs: 3 };
  db.insert(inkLedger).values(row).onConflictDoNothing().run();
  // Booked once, however often it is reported.
  db.insert(inkLedger).values(row).onConflictDoNothing().run();
  expect(sums()).toEqual({ cyan: -4.5, black: -4 });
  expect(db.select({ id: jobs.id, due: jobs.keepDueMs }).from(jobs).all()).toEqual([
    { id: 'j1', due: 0 },
    { id: 'j2', due: null },
  ]);
  const found = (which: 'past' | 'live') =>
    listJobs(db, { which, order: 'newest', limit: 9, text: 'dune' }).items.map(({ id }) => id);
  expect([found('past'), found('live')]).toEqual([['j1'], ['j2']]);
  close();
});

test('a shop without records gets them from what it has booked: attempts, outcomes, firings, who acted, and the sums of spools', () => {
  const file = join(root, 'shop.db');
  openDb(file, migrationsUpTo(12)).close();
  const raw = new Database(file);
  const ticket = makeTicket({ queue: { modeId: 'm', stockId: 's' } });
  raw.exec(`INSERT INTO printers (id, name, position, config) VALUES ('p', 'P', 1, '{"form":"roll"}');
    INSERT INTO stocks (id, name, width_mm, thickness_mm, core_mm, colour, price_per_m2_minor) VALUES ('s', 'S', 1600, 0.3, 76, 'white', 0);
    INSERT INTO queues (id, name, printer_id, settings, gap_mm, arrival_rule, position) VALUES ('q', 'Q', 'p', '{}', 5, 'wait', 1);
    INSERT INTO spools (id, label, lot, stock_id, kind, place) VALUES ('sp', 'SP-1', '', 's', 'roll', 'rack');
    INSERT INTO spool_ledger (spool_id, kind, mm, at_ms) VALUES ('sp', 'received', 50000, 1), ('sp', 'correction', -500, 2);
    INSERT INTO ink_ledger (printer_id, channel_id, ml, run_id, attempt, at_ms) VALUES ('p', 'cyan', -1.5, 'r1', 1, 90), ('p', 'cyan', 400, NULL, NULL, 5);
    INSERT INTO events (at_ms, kind, subject_type, subject_id, who, text) VALUES (1, 'run.queued', 'run', 'r1', 'coordinator', 'Run 1 queued'), (2, 'run.sent', 'run', 'r1', 'system', 'Run 1 sent');`);
  const job = raw.prepare(
    `INSERT INTO jobs (id, queue_id, source_name, bytes, state, ticket, findings, arrived_ms) VALUES ('j', 'q', 'mast.pdf', 9, 'printed', ?, '[]', 7)`,
  );
  job.run(JSON.stringify(ticket));
  const run = raw.prepare(
    `INSERT INTO runs (id, printer_id, queue_id, spool_id, state, position, attempt, settings, ticket, media_width_mm, ink_ml, created_ms, started_ms, ended_ms, reached_mm, fed_mm, reason)
     VALUES (?, 'p', 'q', 'sp', ?, 1, ?, '{}', ?, 1600, '{}', 8, 10, ?, 700, 760, ?)`,
  );
  run.run('r1', 'failed', 1, JSON.stringify(ticket.values), 90, 'jam');
  run.run('r2', 'draft', 0, JSON.stringify(ticket.values), null, null);
  run.run('r3', 'printing', 2, JSON.stringify(ticket.values), null, null);
  raw.exec(
    `INSERT INTO pieces (id, job_id, page, copy, state, run_id) VALUES ('a', 'j', 0, 0, 'printed', 'r1'), ('b', 'j', 0, 1, 'owed', NULL), ('c', 'j', 0, 2, 'spoiled', 'r1');`,
  );
  raw.close();
  const { db, close } = openDb(file, ALL);
  // What has never been moved is called by the number that it was made with.
  expect(db.select({ id: runs.id, number: runs.number }).from(runs).all()).toEqual([
    { id: 'r1', number: 1 },
    { id: 'r2', number: 2 },
    { id: 'r3', number: 3 },
  ]);
  expect(db.select().from(runAttempts).all()).toMatchObject([
    {
      runId: 'r1',
      attempt: 1,
      coat: 1,
      outcome: 'failed',
      cause: 'jam',
      modeId: 'm',
      stockId: 's',
      endedMs: 90,
      lengthMm: 700,
      fedMm: 760,
    },
    { runId: 'r3', attempt: 2, outcome: 'on the printer', endedMs: null },
  ]);
  expect(db.select().from(pieceOutcomes).all()).toMatchObject([
    { pieceId: 'a', runId: 'r1', attempt: 1, outcome: 'printed', atMs: 90 },
    { pieceId: 'c', runId: 'r1', attempt: 1, outcome: 'spoiled', atMs: 90 },
  ]);
  expect(db.select().from(channelFirings).all()).toMatchObject([
    { channelId: 'cyan', purpose: 'run', ml: 1.5, fromMs: 10, toMs: 90 },
  ]);
  expect(
    db
      .select()
      .from(inkLedger)
      .all()
      .map(({ purpose, coat, inkSet }) => [purpose, coat, inkSet]),
  ).toEqual([
    ['run', 1, 'fitted'],
    ['fill', 1, 'fitted'],
  ]);
  expect(
    db
      .select()
      .from(events)
      .all()
      .map(({ actorKind, text, data }) => [actorKind, text, data]),
  ).toEqual([
    ['person', 'Run 1 queued', null],
    ['program', 'Run 1 sent', null],
  ]);
  expect(spoolLeftMm(db, 'sp')).toBe(49_500);
  db.insert(spoolLedger).values({ spoolId: 'sp', kind: 'correction', mm: -100, atMs: 3 }).run();
  expect(spoolLeftMm(db, 'sp')).toBe(49_400);
  close();
});

test('what still followed the arrival of jobs is a task of their claim after the update', () => {
  const file = join(root, 'shop.db');
  openDb(file, migrationsUpTo(14)).close();
  const raw = new Database(file);
  raw.exec(`INSERT INTO tasks (id, kind, key, priority, state, reason, created_ms, ended_ms)
    VALUES ('task-old', 'nest', 'k', 0, 'failed', 'It failed.', 1, 2);`);
  raw.exec(`INSERT INTO printers (id, name, position, config) VALUES ('p', 'P', 1, '{"form":"roll"}');
    INSERT INTO queues (id, name, printer_id, settings, gap_mm, arrival_rule, checks, position) VALUES ('q', 'Q', 'p', '{}', 5, 'go', '{}', 1);`);
  const insert = raw.prepare(
    `INSERT INTO jobs (id, queue_id, claim_id, source_name, bytes, pages, state, ticket, findings, arrived_ms, arrival_todo)
      VALUES (?, 'q', ?, 'a.pdf', 1, 1, 'ready', '{"values":{}}', '[]', 1, ?)`,
  );
  insert.run('job-1', 'claim-a', '{"step":"route","rule":"go"}');
  insert.run('job-2', 'claim-a', '{"step":"route","rule":"go"}');
  insert.run('job-3', 'claim-b', '{"step":"go","rule":null}');
  insert.run('job-4', 'claim-c', null);
  raw.close();
  const { db, close } = openDb(file, ALL);
  const found = db.select().from(tasks).where(eq(tasks.kind, 'arrival')).orderBy(tasks.key).all();
  expect(found).toMatchObject([
    {
      kind: 'arrival',
      key: 'claim-a',
      state: 'waiting',
      input: { jobIds: ['job-1', 'job-2'], rule: 'go', step: 'route' },
    },
    { kind: 'arrival', key: 'claim-b', state: 'waiting', input: { jobIds: ['job-3'], rule: null, step: 'go' } },
  ]);
  expect(db.select({ id: jobs.id }).from(jobs).all()).toHaveLength(4);
  close();
});

test('people who were names in the set-up of the shop are people after the update, and nobody has to sign in yet', () => {
  const file = join(root, 'shop.db');
  openDb(file, migrationsUpTo(25)).close();
  const raw = new Database(file);
  const setup = {
    days: [],
    holidays: [],
    orderAheadDays: 5,
    people: [
      { name: 'Ines Quay', does: 'loads' },
      { name: 'O’Marr "Odile"', does: '' },
    ],
  };
  raw.prepare(`INSERT INTO settings (key, value) VALUES ('shopSetup', ?)`).run(JSON.stringify(setup));
  raw.close();
  const { db, close } = openDb(file, ALL);
  const all = db.select().from(people).all();
  expect(
    all.map(({ name, does, role, signInName, password }) => [name, does, role, signInName, password]).sort(),
  ).toEqual([
    ['Ines Quay', 'loads', 'operator', null, null],
    ['O’Marr "Odile"', '', 'operator', null, null],
  ]);
  expect(new Set(all.map(({ id }) => id)).size).toBe(2);
  const kept = db.select().from(settings).where(eq(settings.key, 'shopSetup')).get()?.value;
  expect(kept).toEqual({ days: [], holidays: [], orderAheadDays: 5 });
  close();
});
