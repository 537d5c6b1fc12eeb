import { and, asc, desc, eq, inArray, like, lt, lte, or, sql } from 'drizzle-orm';
import type { Story, StoryKind, StoryPrint } from '../../../contract/api/pace/story.ts';
import { runName } from '../../../core/flow/runName.ts';
import type { Reader } from '../../db/open.ts';
import { channelHeads, nozzleChecks } from '../../db/tables/headTables.ts';
import { events, inkLedger, pieceOutcomes, runAttempts, spoolLedger } from '../../db/tables/records.ts';
import { jobs, pieces, runPieces, runs } from '../../db/tables/schema.ts';
import { printers, spools, stocks } from '../../db/tables/floorTables.ts';
import { toLogEvent } from '../../db/views.ts';
import { Refused } from '../../shop.ts';

const MOST_PRINTS = 100;
const MOST_EVENTS = 300;
/** So many pieces of a print are named. */
const MOST_PIECES = 200;
/** So many of its latest runs are links at the top of the story of a head. */
const MOST_LINKS = 12;

/** What a story is about, and the runs and pieces that it goes through. */
interface Told {
  readonly title: string;
  readonly under: string;
  readonly runIds: readonly string[];
  readonly pieceIds: readonly string[] | undefined;
  readonly subjects: readonly (readonly [type: string, id: string])[];
  readonly links: Story['links'];
  /** Only events of these kinds; left out: all. */
  readonly only?: readonly string[];
}

/** Everything that is known of a piece, a job, a run, a spool or the heads of a channel: when, who, where, on what, with which heads and ink. */
export function storyOf(db: Reader, kind: StoryKind, id: string): Story {
  const told = toldOf(db, kind, id);
  const attempts = db
    .select()
    .from(runAttempts)
    .where(inArray(runAttempts.runId, [...told.runIds]))
    .orderBy(asc(runAttempts.sentMs))
    .limit(MOST_PRINTS + 1)
    .all();
  const log = db
    .select()
    .from(events)
    .where(
      and(
        or(...told.subjects.map(([type, subject]) => and(eq(events.subjectType, type), eq(events.subjectId, subject)))),
        told.only && or(...told.only.map((kind) => like(events.kind, `${kind}.%`))),
      ),
    )
    .orderBy(desc(events.id))
    .limit(MOST_EVENTS + 1)
    .all();
  return {
    kind,
    id,
    title: told.title,
    under: told.under,
    links: told.links,
    prints: attempts.slice(0, MOST_PRINTS).map((row) => printOf(db, row, told.pieceIds)),
    events: log.slice(0, MOST_EVENTS).reverse().map(toLogEvent),
    more: attempts.length > MOST_PRINTS || log.length > MOST_EVENTS,
  };
}

function toldOf(db: Reader, kind: StoryKind, id: string): Told {
  switch (kind) {
    case 'run':
      return ofRun(db, id);
    case 'job':
      return ofJob(db, id);
    case 'piece':
      return ofPiece(db, id);
    case 'spool':
      return ofSpool(db, id);
    case 'head':
      return ofHead(db, id);
  }
}

function missing(what: string, id: string): never {
  const way = 'Press / and type “story” and what people call it.';
  throw new Refused(404, `no-such-${what}`, `There is no ${what} ${id}.`, undefined, way);
}

function runNames(db: Reader, ids: readonly string[]): Story['links'] {
  return db
    .select({ id: runs.id, number: runs.number })
    .from(runs)
    .where(inArray(runs.id, [...ids]))
    .all()
    .map((row) => ({ kind: 'run' as const, id: row.id, name: runName(row.number) }));
}

function ofRun(db: Reader, id: string): Told {
  const run = db.select().from(runs).where(eq(runs.id, id)).get() ?? missing('run', id);
  const own = db
    .selectDistinct({ id: jobs.id, name: jobs.sourceName })
    .from(pieceOutcomes)
    .innerJoin(jobs, eq(jobs.id, pieceOutcomes.jobId))
    .where(eq(pieceOutcomes.runId, id))
    .limit(MOST_PRINTS)
    .all();
  return {
    title: runName(run.number),
    under: `${own.length === 1 ? '1 job' : `${String(own.length)} jobs`}, ${run.state}`,
    runIds: [id],
    pieceIds: undefined,
    subjects: [['run', id]],
    links: own.map((job) => ({ kind: 'job', id: job.id, name: job.name })),
  };
}

function ofJob(db: Reader, id: string): Told {
  const job = db.select().from(jobs).where(eq(jobs.id, id)).get() ?? missing('job', id);
  const printedIn = db
    .selectDistinct({ runId: pieceOutcomes.runId })
    .from(pieceOutcomes)
    .where(eq(pieceOutcomes.jobId, id))
    .limit(MOST_PRINTS)
    .all()
    .map(({ runId }) => runId);
  const own = db.select({ id: pieces.id }).from(pieces).where(eq(pieces.jobId, id)).limit(MOST_PIECES).all();
  const customer = job.ticket.values.customer;
  return {
    title: job.sourceName,
    under: [customer, job.state].filter((each) => each !== null && each !== '').join(', '),
    runIds: printedIn,
    pieceIds: own.map((piece) => piece.id),
    subjects: [['job', id], ...printedIn.map((runId) => ['run', runId] as const)],
    links: runNames(db, printedIn),
  };
}

function ofPiece(db: Reader, id: string): Told {
  const row =
    db
      .select({ piece: pieces, name: jobs.sourceName })
      .from(pieces)
      .innerJoin(jobs, eq(jobs.id, pieces.jobId))
      .where(eq(pieces.id, id))
      .get() ?? missing('piece', id);
  const { piece, name } = row;
  const printedIn = db
    .selectDistinct({ runId: pieceOutcomes.runId })
    .from(pieceOutcomes)
    .where(eq(pieceOutcomes.pieceId, id))
    .all()
    .map(({ runId }) => runId);
  return {
    title: `${name}, copy ${String(piece.copy + 1)}`,
    under: `page ${String(piece.page + 1)}, ${piece.state}`,
    runIds: printedIn,
    pieceIds: [id],
    subjects: [['job', piece.jobId], ...printedIn.map((runId) => ['run', runId] as const)],
    links: [{ kind: 'job', id: piece.jobId, name }, ...runNames(db, printedIn)],
  };
}

function ofSpool(db: Reader, id: string): Told {
  const row =
    db
      .select({ spool: spools, stock: stocks.name })
      .from(spools)
      .innerJoin(stocks, eq(stocks.id, spools.stockId))
      .where(eq(spools.id, id))
      .get() ?? missing('spool', id);
  const printedOn = db
    .selectDistinct({ runId: spoolLedger.runId })
    .from(spoolLedger)
    .where(and(eq(spoolLedger.spoolId, id), eq(spoolLedger.kind, 'run')))
    .limit(MOST_PRINTS)
    .all()
    .flatMap(({ runId }) => runId ?? []);
  return {
    title: row.spool.label,
    under: [row.stock, row.spool.lot === '' ? '' : `lot ${row.spool.lot}`].filter((each) => each !== '').join(', '),
    runIds: printedOn,
    pieceIds: [],
    subjects: [['spool', id]],
    links: runNames(db, printedOn),
  };
}

/** Events that are about heads. */
const OF_HEADS = ['care', 'check', 'feed', 'heads'];

/**
 * The heads of a channel: what it fired, each run with the check before it, and what was done for it.
 * @param id printer and channel, joined by a hyphen
 */
function ofHead(db: Reader, id: string): Told {
  const printer = db
    .select()
    .from(printers)
    .all()
    .find((each) => each.config.channels.some((channel) => `${each.id}-${channel.id}` === id));
  const channel = printer?.config.channels.find((each) => `${printer.id}-${each.id}` === id);
  if (!printer || !channel) return missing('head', id);
  const fired = db
    .select({ runId: runAttempts.runId })
    .from(runAttempts)
    .innerJoin(runs, eq(runs.id, runAttempts.runId))
    .where(and(eq(runAttempts.printerId, printer.id), sql`json_extract(${runs.inkMl}, ${`$."${channel.id}"`}) > 0`))
    .orderBy(desc(runAttempts.endedMs))
    .limit(MOST_PRINTS)
    .all()
    .map(({ runId }) => runId);
  const runIds = [...new Set(fired)];
  const head = db
    .select({ faults: channelHeads.faults })
    .from(channelHeads)
    .where(and(eq(channelHeads.printerId, printer.id), eq(channelHeads.channelId, channel.id)))
    .get();
  const gone = head?.faults?.missing.length;
  return {
    title: `${channel.name} of ${printer.name}`,
    under: [
      channel.heads === 1 ? '1 head' : `${String(channel.heads)} heads`,
      gone === undefined ? 'never checked' : `${String(gone)} missing at the last check`,
    ].join(', '),
    runIds,
    pieceIds: [],
    subjects: [['printer', printer.id]],
    only: OF_HEADS,
    // The latest first, as they were printed.
    links: runIds.slice(0, MOST_LINKS).flatMap((runId) => runNames(db, [runId])),
  };
}

/** One attempt with everything around it. */
function printOf(
  db: Reader,
  row: typeof runAttempts.$inferSelect,
  pieceIds: readonly string[] | undefined,
): StoryPrint {
  const run = db.select({ number: runs.number }).from(runs).where(eq(runs.id, row.runId)).get();
  const printer = db.select().from(printers).where(eq(printers.id, row.printerId)).get();
  const stock = db.select({ name: stocks.name }).from(stocks).where(eq(stocks.id, row.stockId)).get();
  const spool = row.spoolId === null ? undefined : db.select().from(spools).where(eq(spools.id, row.spoolId)).get();
  const channels = printer?.config.channels ?? [];
  const fired = db
    .select({ channelId: inkLedger.channelId, ml: inkLedger.ml })
    .from(inkLedger)
    .where(
      and(eq(inkLedger.printerId, row.printerId), eq(inkLedger.runId, row.runId), eq(inkLedger.attempt, row.attempt)),
    )
    .all();
  return {
    runId: row.runId,
    runName: runName(run?.number ?? 0),
    attempt: row.attempt,
    outcome: row.outcome,
    cause: row.cause,
    printerName: printer?.name ?? row.printerId,
    modeName: printer?.config.modes.find(({ id }) => id === row.modeId)?.name ?? row.modeId,
    stockName: stock?.name ?? row.stockId,
    spoolId: spool?.id ?? null,
    spoolLabel: spool?.label ?? null,
    lot: spool?.lot ?? null,
    startedMs: row.startedMs,
    endedMs: row.endedMs,
    fedMm: row.fedMm,
    inkMl: Object.fromEntries(
      fired.map(({ channelId, ml }) => [channels.find(({ id }) => id === channelId)?.name ?? channelId, -ml]),
    ),
    onRollMm: spool ? onRoll(db, spool.id, row) : null,
    check: row.startedMs === null ? null : lastCheck(db, row.printerId, row.startedMs, channels),
    pieces: piecesOf(db, row, pieceIds),
  };
}

/** How much of a spool was gone when an attempt began, offcuts and corrections included; null: it is not on its ledger. */
function onRoll(db: Reader, spoolId: string, { runId, attempt }: typeof runAttempts.$inferSelect): number | null {
  const own = db
    .select({ id: spoolLedger.id })
    .from(spoolLedger)
    .where(and(eq(spoolLedger.spoolId, spoolId), eq(spoolLedger.runId, runId), eq(spoolLedger.attempt, attempt)))
    .get();
  if (!own) return null;
  const before = db
    .select({ mm: sql<number>`coalesce(-sum(${spoolLedger.mm}), 0)` })
    .from(spoolLedger)
    .where(and(eq(spoolLedger.spoolId, spoolId), lt(spoolLedger.id, own.id), sql`${spoolLedger.kind} <> 'received'`))
    .get();
  return Math.max(0, before?.mm ?? 0);
}

function lastCheck(
  db: Reader,
  printerId: string,
  beforeMs: number,
  channels: readonly { readonly id: string; readonly name: string }[],
): StoryPrint['check'] {
  const check = db
    .select()
    .from(nozzleChecks)
    .where(and(eq(nozzleChecks.printerId, printerId), lte(nozzleChecks.printedMs, beforeMs)))
    .orderBy(desc(nozzleChecks.printedMs))
    .limit(1)
    .get();
  if (!check) return null;
  const faults = Object.entries(check.found ?? {}).flatMap(([channelId, { missing: none }]) =>
    none.length > 0
      ? [{ channel: channels.find(({ id }) => id === channelId)?.name ?? channelId, missing: none.length }]
      : [],
  );
  return { printedMs: check.printedMs, faults };
}

function piecesOf(
  db: Reader,
  { runId, attempt }: typeof runAttempts.$inferSelect,
  pieceIds: readonly string[] | undefined,
): StoryPrint['pieces'] {
  if (pieceIds?.length === 0) return [];
  const rows = db
    .select({
      pieceId: pieceOutcomes.pieceId,
      jobId: pieceOutcomes.jobId,
      outcome: pieceOutcomes.outcome,
      name: jobs.sourceName,
      copy: pieces.copy,
      xMm: runPieces.xMm,
      yMm: runPieces.yMm,
    })
    .from(pieceOutcomes)
    .innerJoin(jobs, eq(jobs.id, pieceOutcomes.jobId))
    .innerJoin(pieces, eq(pieces.id, pieceOutcomes.pieceId))
    .leftJoin(runPieces, and(eq(runPieces.runId, pieceOutcomes.runId), eq(runPieces.pieceId, pieceOutcomes.pieceId)))
    .where(
      and(
        eq(pieceOutcomes.runId, runId),
        eq(pieceOutcomes.attempt, attempt),
        pieceIds === undefined ? undefined : inArray(pieceOutcomes.pieceId, [...pieceIds]),
      ),
    )
    .orderBy(asc(pieceOutcomes.id))
    .limit(MOST_PIECES)
    .all();
  // What was found bad later is the last word on a piece.
  const last = new Map(rows.map((row) => [row.pieceId, row]));
  return [...last.values()].map(({ copy, name, ...row }) => ({ ...row, name: `${name}, copy ${String(copy + 1)}` }));
}
