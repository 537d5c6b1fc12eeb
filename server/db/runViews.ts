import { byRealPixels } from './byRealPixels.ts';
import { prepared } from './prepared.ts';
import { findPrinter, findRun } from './findRows.ts';
import { and, asc, desc, eq, inArray, isNotNull, ne, sql } from 'drizzle-orm';
import type { PrinterConfig, RunItem } from '../../contract/api/floor.ts';
import type { RunDetail, RunNestView, PanelOf } from '../../contract/api/run.ts';
import { neededMm } from '../../core/stock/need.ts';
import { usableWidth } from '../../core/layout/usableWidth.ts';
import type { RunNestPiece } from '../../core/layout/runNest.ts';
import type { Contour } from '../../core/contour/contourRule.ts';
import { NO_SIDES, type Sides, type TicketValues } from '../../core/ticket/ticket.ts';
import { LIVE_RUN_STATES, RUN_STATES_ON_PRINTER } from '../../core/flow/run.ts';
import { outsideOf } from '../../core/ticket/finish.ts';
import { feedingOf } from './feeding.ts';
import { appearanceKey } from './jobLook.ts';
import type { Reader } from './open.ts';
import { oneLots } from './orderLots.ts';
import { jobWordsOf, runWordsOf } from './runWords.ts';
import { jobPages, jobs, pieces, runPieces, runs } from './tables/schema.ts';
import { runName } from '../../core/flow/runName.ts';

type RunRow = typeof runs.$inferSelect;

/** Runs as lists show them; without ids, all that are not over, in the order of their lines. */
export function runItems(db: Reader, ids?: readonly string[]): RunItem[] {
  const live = [...LIVE_RUN_STATES];
  const wanted = ids ? inArray(runs.id, [...ids]) : inArray(runs.state, live);
  const rows = db.select().from(runs).where(wanted).orderBy(asc(runs.position), asc(runs.seq)).all();
  return describeRuns(db, rows);
}

/** Runs that have ended, the latest first. */
export function endedRuns(db: Reader, limit: number): RunItem[] {
  const rows = db.select().from(runs).where(isNotNull(runs.endedMs)).orderBy(desc(runs.endedMs)).limit(limit).all();
  return describeRuns(db, rows);
}

/** Rows as every page sees them. What they need from other tables is read once for all of them, not run by run. */
function describeRuns(db: Reader, rows: readonly RunRow[]): RunItem[] {
  if (rows.length === 0) return [];
  const facts = factsOf(db, rows);
  const feeding = feedingOf(db);
  const lots = oneLots(
    db,
    rows.map(({ id }) => id),
  );
  return rows.map((row) => {
    const fact = facts.get(row.id);
    const onPrinter = RUN_STATES_ON_PRINTER.includes(row.state);
    return {
      id: row.id,
      number: row.number,
      name: runName(row.number),
      printerId: row.printerId,
      queueId: row.queueId,
      spoolId: row.spoolId,
      meantSpoolId: row.meantSpoolId,
      state: row.state,
      position: row.position,
      attempt: row.attempt,
      lengthMm: row.lengthMm,
      mediaWidthMm: row.mediaWidthMm,
      pieceCount: fact?.pieceCount ?? 0,
      jobCount: fact?.jobCount ?? 0,
      estimateMs: row.estimateMs,
      dueMs: fact?.dueMs ?? null,
      dues: fact?.dues ?? [],
      jobNames: fact?.jobNames ?? [],
      customers: fact?.customers ?? [],
      stockId: row.ticket.stockId,
      modeId: row.ticket.modeId,
      needMm: neededMm(feeding(row)),
      oneLot: lots.get(row.id) ?? null,
      byHand: feeding(row).byHand,
      unattended: row.ticket.unattended,
      fixedStartMs: row.fixedStartMs,
      important: row.important,
      inkMl: row.inkMl,
      inkCounted: byRealPixels(row),
      inkSampled: row.inkSample !== null,
      evenMl: row.evenMl,
      startedMs: row.startedMs,
      endedMs: row.endedMs,
      reason: row.reason,
      reachedMm: row.reachedMm,
      series: seriesOf(row),
      pair: pairOf(db, row),
      progress:
        onPrinter && row.phase !== null
          ? {
              phase: row.phase,
              lengthMm: row.reachedMm ?? 0,
              fedMm: row.fedMm ?? 0,
              msLeft: row.msLeft ?? row.estimateMs,
              atMs: row.progressMs ?? 0,
            }
          : null,
    };
  });
}

interface RunFacts {
  pieceCount: number;
  jobCount: number;
  dueMs: number | null;
  readonly dues: { readonly dueMs: number; latePerHMinor: number }[];
  readonly jobNames: string[];
  readonly customers: string[];
}

/** So many jobs and customers are named in a list; of the others there is a number. */
const MOST_NAMES = 3;

/** What runs know of their jobs: who they are, their dates, and what an hour beyond each costs. */
function factsOf(db: Reader, rows: readonly RunRow[]): Map<string, RunFacts> {
  const byJob = db
    .select({
      runId: runPieces.runId,
      n: sql<number>`count(*)`,
      name: jobs.sourceName,
      customer: sql<string | null>`json_extract(${jobs.ticket}, '$.values.customer')`,
      dueMs: sql<number | null>`json_extract(${jobs.ticket}, '$.values.dueMs')`,
      late: sql<number>`json_extract(${jobs.ticket}, '$.values.latePerHMinor')`,
    })
    .from(runPieces)
    .innerJoin(pieces, eq(pieces.id, runPieces.pieceId))
    .innerJoin(jobs, eq(jobs.id, pieces.jobId))
    .where(
      inArray(
        runPieces.runId,
        rows.map((row) => row.id),
      ),
    )
    .groupBy(runPieces.runId, jobs.seq)
    .all();
  const facts = new Map<string, RunFacts>();
  for (const { runId, n, name, customer, dueMs, late } of byJob) {
    const fact = facts.get(runId) ?? { pieceCount: 0, jobCount: 0, dueMs: null, dues: [], jobNames: [], customers: [] };
    facts.set(runId, fact);
    fact.pieceCount += n;
    fact.jobCount += 1;
    if (fact.jobNames.length < MOST_NAMES) fact.jobNames.push(name);
    if (customer && !fact.customers.includes(customer) && fact.customers.length < MOST_NAMES)
      fact.customers.push(customer);
    if (dueMs === null) continue;
    fact.dueMs = Math.min(fact.dueMs ?? Infinity, dueMs);
    // Jobs that share a date share its price.
    const same = fact.dues.find((due) => due.dueMs === dueMs);
    if (same) same.latePerHMinor += late;
    else fact.dues.push({ dueMs, latePerHMinor: late });
  }
  return facts;
}

function seriesOf({ seriesId: id, seriesNo: no, seriesOf: of }: RunRow): RunItem['series'] {
  return id === null || no === null || of === null ? null : { id, no, of };
}

function pairOf(db: Reader, { id, pairId, side }: RunRow): RunItem['pair'] {
  if (pairId === null || side === null) return null;
  const other = otherSide(db, pairId, id);
  const { confirmedMs, ...rest } = side;
  return {
    id: pairId,
    ...rest,
    otherRunId: other?.id ?? null,
    frontPrinted: side.side === 'back' && other?.state === 'printed',
    confirmed: confirmedMs !== null,
  };
}

/** The newest run on the other side of the same media. */
export function otherSide(db: Reader, pairId: string, runId: string): RunRow | undefined {
  return db
    .select()
    .from(runs)
    .where(and(eq(runs.pairId, pairId), ne(runs.id, runId)))
    .orderBy(desc(runs.seq))
    .get();
}

/** A run with its pieces, places and contours, as the Bench needs it. */
export function runDetail(db: Reader, id: string): RunDetail | undefined {
  const row = findRun(db, id);
  const item = row && describeRuns(db, [row])[0];
  const printer = row && findPrinter(db, row.printerId);
  if (!row || !item || !printer) return undefined;
  const mode = printer.config.modes.find((m) => m.id === row.ticket.modeId) ?? printer.config.modes[0];
  if (!mode) throw new Error(`${printer.name} has no print mode`);
  const rows = runPieceRows(db, id);
  const contours: RunDetail['contours'] = {};
  for (const { jobId, page, pageRow } of rows) {
    const contour = pageRow.finished?.contour;
    if (contour) contours[contourKey(jobId, page)] ??= contourView(contour);
  }
  return {
    ...item,
    version: row.version,
    laidOutBy: row.laidOutBy,
    settings: row.settings,
    ...usableWidth(printer.config, row.mediaWidthMm, row.settings.leftMm, row.settings.rightMm),
    registeredEdge: printer.config.registeredEdge,
    mode,
    span: row.ticket.span,
    dryOut: row.ticket.dryOut,
    dryMin: row.ticket.dryMin,
    cutOff: row.ticket.cutOff,
    words: runWordsOf(db, row),
    jobWords: jobWordsOf(db, [...new Set(rows.map((piece) => piece.jobId))]),
    contours,
    pieces: rows.map(({ pageRow, ticket, frontPieceId: _front, ...piece }) => ({
      ...piece,
      contour: pageRow.finished?.contour ? contourKey(piece.jobId, piece.page) : null,
      look: appearanceKey(ticket),
      ...nestWishes(ticket.values),
      turnEverySecond: ticket.values.tiles?.turnEverySecond ?? false,
    })),
  };
}

/** A contour as it goes over the wire: arrays of its own, which nobody else changes. */
export function contourView({ outline, cut }: Contour): RunDetail['contours'][string] {
  return { outline: [...outline], cut: cut.map((ring) => [...ring]) };
}

function contourKey(jobId: string, page: number): string {
  return `${jobId}/${String(page)}`;
}

function nestWishes({ quarterTurn, halfTurn, grain, together, place, dueMs, customer, orderNo }: TicketValues) {
  return { quarterTurn, halfTurn, grain, together, place, dueMs, customer, orderNo };
}

/** The bleed that is part of a piece. A panel is cut as it is printed. */
function bleedOf(page: typeof jobPages.$inferSelect, tile: number | null): Sides {
  return tile === null ? (page.finished?.bleed ?? page.bleed) : NO_SIDES;
}

/** Of a page, what the size of a piece of it depends on. */
export type PieceSource = Pick<typeof jobPages.$inferSelect, 'widthMm' | 'heightMm' | 'bleed' | 'finished'>;

/** Size of a piece with its bleed, as the ticket makes the page: the whole of it, or a panel. */
export function pieceSize(
  page: PieceSource,
  tile: number | null,
): { readonly widthMm: number; readonly heightMm: number; readonly panel: PanelOf | null } {
  const whole = outsideOf(page.finished ?? page);
  const panel = tile === null ? undefined : page.finished?.panels?.[tile];
  if (!panel || tile === null) return { ...whole, panel: null };
  const { widthMm, heightMm, xMm, yMm } = panel;
  const of = page.finished?.panels?.length ?? 1;
  return {
    widthMm,
    heightMm,
    panel: { no: tile + 1, of, xMm, yMm, wholeWidthMm: whole.widthMm, wholeHeightMm: whole.heightMm },
  };
}

/** A piece with what the nest must know of it: of a page as its ticket makes it, the whole of it or a panel. */
export function nestPiece(
  row: Pick<RunNestPiece, 'pieceId' | 'jobId' | 'page' | 'part'>,
  source: PieceSource,
  tile: number | null,
  values: TicketValues,
): RunNestPiece {
  const { widthMm, heightMm, panel } = pieceSize(source, tile);
  const turnEverySecond = values.tiles?.turnEverySecond ?? false;
  const outline = source.finished?.contour?.outline;
  return { ...row, widthMm, heightMm, panel, outline, turnEverySecond, ...nestWishes(values) };
}

/** What jobs still owe, by job, with what the nest must know of it. */
export function outstandingPieceRows(db: Reader, jobIds: readonly string[]): Map<string, RunNestPiece[]> {
  const rows = db
    .select({
      pieceId: pieces.id,
      jobId: pieces.jobId,
      page: pieces.page,
      part: pieces.part,
      tile: pieces.tile,
      pageRow: jobPages,
      ticket: jobs.ticket,
    })
    .from(pieces)
    .innerJoin(jobs, eq(jobs.id, pieces.jobId))
    .innerJoin(jobPages, and(eq(jobPages.jobId, pieces.jobId), eq(jobPages.page, pieces.page)))
    .where(and(eq(pieces.state, 'owed'), inArray(pieces.jobId, [...jobIds])))
    .orderBy(asc(pieces.page), asc(pieces.copy), asc(pieces.tile))
    .all();
  const byJob = new Map<string, RunNestPiece[]>();
  for (const { pageRow, ticket, tile, ...row } of rows) {
    const piece = nestPiece(row, pageRow, tile, ticket.values);
    const own = byJob.get(row.jobId);
    if (own) own.push(piece);
    else byJob.set(row.jobId, [piece]);
  }
  return byJob;
}

/** How runs lie, without anything else of them: the Floor draws hundreds. Those that don't exist are left out. */
export function runNests(db: Reader, ids: readonly string[]): RunNestView[] {
  const rows = db
    .select()
    .from(runs)
    .where(inArray(runs.id, [...ids]))
    .all();
  const looks = new Map<string, string>();
  const configs = new Map<string, PrinterConfig>();
  const configOf = (printerId: string): PrinterConfig => {
    const config = configs.get(printerId) ?? findPrinter(db, printerId)?.config;
    if (!config) throw new Error(`there is no printer ${printerId}`);
    configs.set(printerId, config);
    return config;
  };
  return rows.map((run) => {
    const laid = db
      .select({ place: runPieces, jobId: pieces.jobId, page: pieces.page, tile: pieces.tile, pageRow: jobPages })
      .from(runPieces)
      .innerJoin(pieces, eq(pieces.id, runPieces.pieceId))
      .innerJoin(jobPages, and(eq(jobPages.jobId, pieces.jobId), eq(jobPages.page, pieces.page)))
      .where(and(eq(runPieces.runId, run.id), eq(runPieces.placed, true)))
      .all();
    const unknown = [...new Set(laid.map(({ jobId }) => jobId))].filter((id) => !looks.has(id));
    const tickets = db.select({ id: jobs.id, ticket: jobs.ticket }).from(jobs).where(inArray(jobs.id, unknown)).all();
    for (const { id, ticket } of tickets) looks.set(id, appearanceKey(ticket));
    const { leftMm, rightMm } = run.settings;
    return {
      runId: run.id,
      lengthMm: run.lengthMm,
      mediaWidthMm: run.mediaWidthMm,
      usableFromMm: usableWidth(configOf(run.printerId), run.mediaWidthMm, leftMm, rightMm).usableFromMm,
      mirrored: run.side?.side === 'back' && run.side.content === 'show-through',
      pieces: laid.map(({ place: { xMm, yMm, angleDeg }, jobId, page, tile, pageRow }) => {
        return { jobId, page, look: looks.get(jobId) ?? '', ...pieceSize(pageRow, tile), xMm, yMm, angleDeg };
      }),
    };
  });
}

/** Runs by their number, as people call them; of those that went on as each other the one that is now comes first. */
export function runsByNumber(db: Reader, number: number): RunItem[] {
  return describeRuns(db, db.select().from(runs).where(eq(runs.number, number)).orderBy(desc(runs.seq)).all());
}

const runPieceQuery = prepared((db) =>
  db
    .select({
      pieceId: pieces.id,
      jobId: pieces.jobId,
      sourceName: jobs.sourceName,
      page: pieces.page,
      copy: pieces.copy,
      state: pieces.state,
      part: pieces.part,
      tile: pieces.tile,
      pageRow: jobPages,
      ticket: jobs.ticket,
      xMm: runPieces.xMm,
      yMm: runPieces.yMm,
      angleDeg: runPieces.angleDeg,
      placed: runPieces.placed,
      locked: runPieces.locked,
      frontPieceId: runPieces.frontPieceId,
    })
    .from(runPieces)
    .innerJoin(pieces, eq(pieces.id, runPieces.pieceId))
    .innerJoin(jobs, eq(jobs.id, pieces.jobId))
    .innerJoin(jobPages, and(eq(jobPages.jobId, pieces.jobId), eq(jobPages.page, pieces.page)))
    .where(eq(runPieces.runId, sql.placeholder('runId')))
    .orderBy(asc(jobs.seq), asc(pieces.page), asc(pieces.part), asc(pieces.copy), asc(pieces.tile))
    .prepare(),
);

/** The pieces of a run, with the job and the page that each is of. */
export function runPieceRows(db: Reader, runId: string) {
  const rows = runPieceQuery(db).all({ runId });
  return rows.map(({ tile, ...row }) => ({
    ...row,
    ...pieceSize(row.pageRow, tile),
    bleed: bleedOf(row.pageRow, tile),
  }));
}
