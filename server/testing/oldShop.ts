import { readFileSync, writeFileSync } from 'node:fs';
import { COORDINATOR } from '../../core/events/actor.ts';
import { mkdir } from 'node:fs/promises';
import { join, resolve } from 'node:path';
import { PDFDocument, rgb } from '@cantoo/pdf-lib';
import { sql } from 'drizzle-orm';
import { nest } from '../../core/layout/nest.ts';
import { runNest } from '../../core/layout/runNest.ts';
import { type Random, seededRandom } from '../../core/random.ts';
import type { Ticket } from '../../core/ticket/ticket.ts';
import { spoolLedger } from '../db/tables/records.ts';
import { queues } from '../db/tables/schema.ts';
import { printers, spools, stocks } from '../db/tables/floorTables.ts';
import { runDetail } from '../db/runViews.ts';
import { storeFile } from '../files/atomic.ts';
import type { FileFacts } from '../render/facts.ts';
import { type Shop, newId } from '../shop.ts';
import { admitJob } from '../usecases/arrival/admitJob.ts';
import { createRun } from '../usecases/run/createRun.ts';
import { layOutRun } from '../usecases/layout/layOutRun.ts';
import { runMedia } from '../usecases/run/runMedia.ts';
import { queueRun } from '../usecases/run/queueRun.ts';
import { NO_NATURE, TicketService } from '../usecases/ticket/ticketService.ts';
import { statements } from './oldRows.ts';
import { openTestShop } from './shopFixture.ts';

const DAY_MS = 86_400_000;

/** How much lies behind a shop; everything else follows from these. */
export interface OldShop {
  readonly years: number;
  readonly jobs: number;
  /** Of the jobs, so many share a run. */
  readonly jobsPerRun: number;
  readonly copies: number;
  readonly eventsPerJob: number;
  readonly spools: number;
  readonly openSpools: number;
  /** What is being worked on today: the same in a shop that has just opened. */
  readonly waiting: number;
  readonly queued: number;
  readonly seed: number;
}

export const THREE_YEARS: OldShop = {
  years: 3,
  jobs: 100_000,
  jobsPerRun: 4,
  copies: 3,
  eventsPerJob: 10,
  spools: 600,
  openSpools: 60,
  waiting: 240,
  queued: 36,
  seed: 31,
};

/** The same day's work with nothing behind it, to compare with. */
export const NEW_SHOP: OldShop = { ...THREE_YEARS, jobs: 0, spools: 60 };

/** A part of the three years that is made in some seconds; its tables have the same proportions. */
export const SHORT_HISTORY: OldShop = { ...THREE_YEARS, jobs: 8_000, spools: 200 };

const CUSTOMERS = ['Marram Theatre', 'Lantern Street Night Market', 'Sandpiper Cycles', 'Dune Radio', 'Harbour Yoga'];
const WORDS = [
  'stall banner',
  'window sign',
  'season poster',
  'floor arrow',
  'menu board',
  'van side',
  'flag',
  'label',
];

/** Makes a shop with years behind it in a data folder that is empty: seeded, through the tables that the server uses. */
export async function makeOldShop(dataDir: string, size: OldShop): Promise<void> {
  await mkdir(dataDir, { recursive: true });
  const { shop, close } = openTestShop(resolve(dataDir));
  try {
    const random = seededRandom(size.seed);
    const files = await sourcesOf(shop);
    writeInBulk(shop, () => {
      new PastOf(shop, size, random, files).write();
    });
    todaysWork(shop, size, random, files);
    shop.db.run(sql`ANALYZE`);
    shop.db.run(sql`PRAGMA wal_checkpoint(TRUNCATE)`);
  } finally {
    close();
  }
}

/**
 * Indexes and the triggers that keep the search are taken away meanwhile and built in one go: a million rows one by one would
 * take minutes. Nobody needs half of it after a power cut, so nothing is flushed either.
 */
function writeInBulk({ db }: Shop, write: () => void): void {
  const made = db.all<{ type: string; name: string; sql: string }>(sql`
    SELECT type, name, sql FROM sqlite_master
    WHERE sql IS NOT NULL AND (type = 'index' OR (type = 'trigger' AND name LIKE 'job_search%'))`);
  db.run(sql`PRAGMA synchronous = OFF`);
  db.run(sql`PRAGMA foreign_keys = OFF`);
  db.run(sql`PRAGMA cache_size = -262144`);
  db.run(sql`BEGIN`);
  for (const { type, name } of made) db.run(sql.raw(`DROP ${type} "${name}"`));
  write();
  for (const each of made) db.run(sql.raw(each.sql));
  db.run(sql`DELETE FROM job_search`);
  db.run(
    sql`INSERT INTO job_search (rowid, name, customer, orderno, size, stock, queue, preset, finding) SELECT * FROM job_search_text`,
  );
  fillRecords(db);
  db.run(sql`COMMIT`);
  db.run(sql`PRAGMA foreign_keys = ON`);
}

/** Attempts, outcomes and firings follow from runs, pieces and ink as they do where an earlier shop is brought up to date. */
function fillRecords(db: Shop['db']): void {
  const migration = readFileSync('server/db/migrations/0012_records.sql', 'utf8');
  for (const statement of migration.split('--> statement-breakpoint')) {
    if (/INSERT INTO `(run_attempts|piece_outcomes|channel_firings)`/.test(statement)) db.run(sql.raw(statement));
  }
}

/** The rows that years have left. Each day is like the others; what differs is drawn by chance. */
class PastOf {
  private readonly firstMs: number;
  private readonly spoolIds: string[] = [];
  private readonly tickets: readonly {
    readonly queueId: string;
    readonly printerId: string;
    readonly ticket: Ticket;
  }[];

  constructor(
    private readonly shop: Shop,
    private readonly size: OldShop,
    private readonly random: Random,
    private readonly files: readonly SourceOf[],
  ) {
    this.firstMs = shop.clock.now() - size.years * 365 * DAY_MS;
    const desk = new TicketService(shop.db);
    this.tickets = shop.db
      .select()
      .from(queues)
      .all()
      .map(({ id, printerId }) => ({ queueId: id, printerId, ticket: desk.stamp(id, {}) }));
  }

  write(): void {
    this.writeSpools();
    const { jobs: count, jobsPerRun } = this.size;
    const insert = statements(this.shop);
    for (let from = 0; from < count; from += jobsPerRun) {
      const atMs = this.firstMs + (from / count) * (this.shop.clock.now() - 2 * DAY_MS - this.firstMs);
      this.writeRun(insert, from, Math.min(jobsPerRun, count - from), Math.round(atMs));
    }
  }

  private writeSpools(): void {
    const { db } = this.shop;
    const all = db.select().from(stocks).all();
    const there = db.select({ id: spools.id }).from(spools).all().length;
    for (let i = there; i < this.size.spools; i += 1) {
      const stock = pick(all, this.random);
      const gone = i >= this.size.openSpools;
      const id = `old-spool-${String(i)}`;
      db.insert(spools)
        .values({ id, label: `OS-${String(i)}`, lot: `L${String(i % 90)}`, stockId: stock.id, gone })
        .run();
      const mm = 50_000;
      db.insert(spoolLedger).values({ spoolId: id, kind: 'received', mm, atMs: this.firstMs }).run();
      if (gone) this.spoolIds.push(id);
    }
  }

  /** Some jobs of one customer that were printed together. */
  private writeRun(insert: ReturnType<typeof statements>, from: number, count: number, atMs: number): void {
    const { random, size, shop } = this;
    const { queueId, printerId, ticket: stamped } = pick(this.tickets, random);
    const config = shop.db
      .select()
      .from(printers)
      .where(sql`id = ${printerId}`)
      .get()?.config;
    const stock = shop.db
      .select()
      .from(stocks)
      .where(sql`id = ${stamped.values.stockId}`)
      .get();
    if (!config || !stock) throw new Error(`${printerId} or its stock is missing`);
    const endedMs = atMs + 4_000_000;
    const runId = `old-run-${String(from)}`;
    const lengthMm = 900 + Math.round(random() * 4000);
    const inkMl = Object.fromEntries(config.channels.map(({ id }) => [id, Math.round(random() * 400) / 100]));
    const spoolId = this.spoolIds.length > 0 ? pick(this.spoolIds, random) : null;
    const estimateMs = 400_000 + Math.round(random() * 900_000);
    const { settings, mediaWidthMm } = runMedia(config, stock, undefined, 5, false, []);
    insert.run.run({
      id: runId,
      printerId,
      queueId,
      spoolId,
      settings,
      ticket: stamped.values,
      mediaWidthMm,
      lengthMm,
      estimateMs,
      inkMl,
      createdMs: atMs,
      startedMs: endedMs - Math.round(estimateMs * (0.9 + random() * 0.3)),
      endedMs,
    });
    if (spoolId !== null) {
      insert.ledger.run({ spoolId, mm: -(lengthMm + 120), runId, atMs: endedMs });
    }
    for (const { id } of config.channels)
      insert.ink.run({ printerId, channelId: id, ml: -(inkMl[id] ?? 0), runId, atMs: endedMs });
    for (let n = from; n < from + count; n += 1) this.writeJob(insert, n, { queueId, runId, atMs, endedMs, stamped });
    for (let e = 0; e < count * size.eventsPerJob; e += 1) {
      const job = from + (e % count);
      const ofRun = e % 5 === 0;
      insert.event.run({
        atMs: atMs + e * 1000,
        kind: ofRun ? 'run.printing' : 'job.changed',
        subjectType: ofRun ? 'run' : 'job',
        subjectId: ofRun ? runId : `old-job-${String(job)}`,
        text: ofRun ? `Run ${String(from)} goes on` : `Job ${String(job)}: copies changed`,
      });
    }
  }

  private writeJob(
    insert: ReturnType<typeof statements>,
    n: number,
    of: {
      readonly queueId: string;
      readonly runId: string;
      readonly atMs: number;
      readonly endedMs: number;
      readonly stamped: Ticket;
    },
  ): void {
    const { random, size, shop } = this;
    const id = `old-job-${String(n)}`;
    const { sha256, widthMm: w, heightMm: h } = pick(this.files, random);
    const drawn = random();
    const state = drawn < 0.02 ? 'cancelled' : drawn < 0.5 ? 'dropped' : 'shelved';
    const values = {
      ...of.stamped.values,
      customer: pick(CUSTOMERS, random),
      orderNo: `O-${String(10_000 + Math.floor(n / 3))}`,
      copies: size.copies,
      dueMs: of.endedMs + DAY_MS,
    };
    insert.job.run({
      id,
      queueId: of.queueId,
      sourceName: `${pick(WORDS, random)} ${String(n)}.pdf`,
      sha256,
      widthMm: w,
      heightMm: h,
      nature: NO_NATURE,
      state,
      ticket: { ...of.stamped, values },
      arrivedMs: of.atMs,
      // Some are kept for a time that is not over yet.
      keepDueMs: state === 'shelved' && n % 20 === 0 ? shop.clock.now() + DAY_MS * (1 + (n % 300)) : null,
    });
    insert.page.run({ jobId: id, widthMm: w, heightMm: h, coverage: { cyan: 0.2, black: 0.1 } });
    for (let copy = 0; copy < size.copies; copy += 1) {
      const pieceId = `old-pc-${String(n)}-${String(copy)}`;
      const printed = state !== 'cancelled';
      insert.piece.run({
        id: pieceId,
        jobId: id,
        copy,
        state: printed ? 'printed' : 'owed',
        runId: printed ? of.runId : null,
      });
      if (printed) insert.place.run({ runId: of.runId, pieceId, xMm: (copy % 3) * 250, yMm: (n % 4) * 300 });
    }
    if (n % 4 === 0) {
      insert.change.run({ changeId: `old-chg-${String(n)}`, jobId: id, queueId: of.queueId, ticket: of.stamped });
    }
    if (n % 100 === 0) {
      insert.refusal.run({
        id: `old-ref-${String(n)}`,
        claimId: `old-claim-${String(n)}`,
        queueId: of.queueId,
        sourceName: `broken ${String(n)}.pdf`,
        atMs: of.atMs,
      });
    }
  }
}

/** What is being worked on: jobs that wait, and lines of queued runs, by the same steps as ever and with real files. */
function todaysWork(shop: Shop, { waiting, queued }: OldShop, random: Random, files: readonly SourceOf[]): void {
  const all = shop.db.select().from(queues).all();
  const admit = (n: number, queueId: string): string | undefined => {
    const { sha256, bytes, facts } = pick(files, random);
    const arrival = {
      claimId: newId('claim'),
      queueId,
      hotFolderId: null,
      sourceName: `${pick(WORDS, random)} today ${String(n)}.pdf`,
      arrivalRule: 'prepare' as const,
      fileName: { copies: 1 + Math.floor(random() * 5), customer: pick(CUSTOMERS, random) },
    };
    return admitJob(shop, arrival, { sha256, bytes, facts })[0];
  };
  for (let n = 0; n < waiting; n += 1) admit(n, pick(all, random).id);
  for (let n = 0; n < queued; n += 1) {
    const jobId = admit(waiting + n, all[n % 3]?.id ?? '');
    if (jobId === undefined) continue;
    const runId = createRun(shop, [jobId], COORDINATOR);
    const run = runDetail(shop.db, runId);
    const parsed = run && runNest(run.pieces, run.settings, run.usableWidthMm, run.registeredEdge);
    if (!run || !parsed?.ok) throw new Error(`${runId} can't be nested`);
    const laid = nest(parsed.value.input, { seed: 1, stepBudget: 2, shouldStop: () => false });
    layOutRun(
      shop,
      runId,
      { settings: run.settings, placements: laid.placements.map(parsed.value.place) },
      { by: COORDINATOR },
    );
    queueRun(shop, runId, COORDINATOR);
  }
}

interface SourceOf {
  readonly sha256: string;
  readonly bytes: number;
  readonly facts: FileFacts;
  readonly widthMm: number;
  readonly heightMm: number;
}

/** The files of all jobs, old and new: a shop prints much of its work again and again. */
function sourcesOf(shop: Shop): Promise<SourceOf[]> {
  return Promise.all(Array.from({ length: 12 }, (_, i) => sourceOf(shop, 180 + i * 40, 120 + (i % 4) * 90)));
}

async function sourceOf(shop: Shop, widthMm: number, heightMm: number): Promise<SourceOf> {
  const pt = 72 / 25.4;
  const pdf = await PDFDocument.create();
  const page = pdf.addPage([widthMm * pt, heightMm * pt]);
  page.drawRectangle({ x: 0, y: 0, width: widthMm * pt, height: heightMm * pt, color: rgb(0.93, 0.9, 0.82) });
  page.drawCircle({ x: (widthMm * pt) / 2, y: (heightMm * pt) / 2, size: heightMm, color: rgb(0.1, 0.4, 0.45) });
  const path = join(shop.paths.temporary, `${String(widthMm)}-${String(heightMm)}.pdf`);
  writeFileSync(path, await pdf.save());
  const bleed = { leftMm: 0, topMm: 0, rightMm: 0, bottomMm: 0 };
  const facts: FileFacts = {
    format: 'pdf',
    nature: NO_NATURE,
    pages: [
      { widthMm, heightMm, bleed, coverage: { cyan: 0.2, black: 0.1 }, dpi: null, thinnestMm: null, cutLines: [] },
    ],
  };
  return {
    ...(await storeFile(path, shop.paths.temporary, (sha256) => shop.paths.source(sha256))),
    facts,
    widthMm,
    heightMm,
  };
}

function pick<T>(from: readonly T[], random: Random): T {
  const found = from[Math.floor(random() * from.length)];
  if (found === undefined) throw new Error('nothing to choose from');
  return found;
}
