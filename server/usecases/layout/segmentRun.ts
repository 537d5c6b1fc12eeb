import { counted } from '../../../core/counted.ts';
import { findRun } from '../../db/findRows.ts';
import { likeRun, newRun, type RunSpec } from '../run/newRun.ts';
import { printerOf } from '../run/runRows.ts';
import { type Actor } from '../../../core/events/actor.ts';
import { and, asc, eq } from 'drizzle-orm';
import {
  type CutRefusal,
  type Segment,
  type SegmentPiece,
  cutSegments,
} from '../../../core/layout/arrange/cutSegments.ts';
import type { SegmentCut } from '../../../contract/api/run.ts';
import { segmentRoom } from '../../../core/layout/arrange/segmentRoom.ts';
import { layoutSpace } from '../../../core/layout/marks/markSettings.ts';
import { usableWidth } from '../../../core/layout/usableWidth.ts';
import { batches } from '../../db/batches.ts';
import type { Reader } from '../../db/open.ts';
import { runName } from '../../../core/flow/runName.ts';
import { runPieceRows } from '../../db/runViews.ts';
import { runPieces, runs } from '../../db/tables/schema.ts';
import { Refused, type Shop, type Work, newId, transact } from '../../shop.ts';
import { claimPieces, releasePieces } from '../run/pieces.ts';
import { updateJobStates, jobsOfRun } from '../ticket/jobStates.ts';
import { measureLaid } from './layOutRun.ts';
import { type RunRow, transitionRun } from '../run/transitionRun.ts';
import { mmText } from '../../../core/units/lengthText.ts';

/** How a run is cut; what is left out is the printer's free-hang length, as many pieces as it takes, and rows laid anew. */
export type SegmentOrder = Omit<Partial<SegmentCut>, 'queue'>;

/**
 * Cuts a draft into segments that are no longer than the free-hang length: each becomes a draft of its own, in the order of
 * printing. Laid anew, pieces of one size go together and each size has its own segments; as laid, rows stay as they lie.
 * @returns the ids of the segments
 */
export function segmentRun(shop: Shop, runId: string, cut: SegmentOrder, actor: Actor): string[] {
  return transact(shop, (work) => {
    const { tx } = work;
    const run = findRun(tx, runId);
    if (!run) throw new Refused(404, 'no-such-run', `There is no run ${runId}.`);
    if (run.side) {
      throw new Refused(
        409,
        'two-sided',
        `${runName(run.number)} has two sides; only a run of one side is cut into segments.`,
      );
    }
    if (run.settings.sheetMm != null) {
      throw new Refused(
        409,
        'on-sheets',
        `${runName(run.number)} lies on sheets; each is as long as it may be.`,
        undefined,
        'Take the sheets off under Lay out first.',
      );
    }
    const segments = segmentsOf(work, run, cut);
    if (segments.length < 2) {
      throw new Refused(409, 'one-segment', `${runName(run.number)} fits into one segment; there is nothing to cut.`);
    }
    transitionRun(work, runId, 'dissolve', {
      endedMs: work.nowMs,
      reason: `cut into ${String(segments.length)} segments`,
    });
    releasePieces(work, runId);
    const seriesId = newId('series');
    const ids = segments.map((segment, i) => {
      const series = { seriesId, seriesNo: i + 1, seriesOf: segments.length };
      return draftSegment(work, run, { position: run.position + i, series }, segment);
    });
    updateJobStates(work, jobsOfRun(work, runId));
    work.note({
      kind: 'run.segmented',
      subject: ['run', runId],
      actor,
      data: { run: run.number, segments: segments.length },
      undo: { label: 'Put together', method: 'POST', path: `/api/series/${seriesId}/join` },
    });
    return ids;
  });
}

/** How a run would be cut. Refused where a piece or a row is longer than a segment may be. */
function segmentsOf(work: Work, run: RunRow, { mostMm, mostPieces, rows }: SegmentOrder): RunSegment[] {
  const { config, name } = printerOf(work.tx, run);
  const longest = mostMm ?? config.freeHangMm;
  if (longest === null) {
    throw new Refused(
      409,
      'no-free-hang',
      `${name} has no free-hang length.`,
      undefined,
      'Enter how long a segment may be.',
    );
  }
  const { settings } = run;
  const space = layoutSpace(settings);
  const usable = usableWidth(config, run.mediaWidthMm, settings.leftMm, settings.rightMm).usableWidthMm;
  const room = segmentRoom(usable, longest, space, config.machine.trailerMm);
  const pieces = runPieceRows(work.tx, run.id).map((row) => {
    const { pieceId, sourceName, widthMm, heightMm, placed, xMm, yMm, angleDeg } = row;
    const { quarterTurn, grain } = row.ticket.values;
    const laid = placed ? { xMm, yMm, angleDeg } : null;
    return { pieceId, sourceName, widthMm, heightMm, quarterTurn, grain, laid };
  });
  const rule = { rows: rows ?? 'anew', mostPieces: mostPieces ?? null };
  const cut = cutSegments(pieces, rule, settings.quarterTurns, room, space);
  if (!cut.ok) throw segmentRefused(cut.reason, rule.rows === 'as laid');
  return cut.value;
}

type RunSegment = Segment<SegmentPiece & { readonly sourceName: string }>;

function segmentRefused(reason: CutRefusal<{ readonly sourceName: string }>, inRow: boolean): Refused {
  if (reason.code === 'not-laid') {
    return new Refused(
      409,
      reason.code,
      `${counted(reason.count, 'piece')} ${reason.count === 1 ? 'has' : 'have'} no place yet.`,
      { count: reason.count },
      'Nest the run first, or let the rows be laid anew.',
    );
  }
  const { code, leastMm, roomMm, piece } = reason;
  const figures = `${mmText(leastMm)} of ${mmText(roomMm)}`;
  return code === 'too-wide'
    ? new Refused(409, code, `${piece.sourceName} is wider than the usable width: ${figures}.`, { leastMm, roomMm })
    : new Refused(
        409,
        code,
        `${piece.sourceName} is longer than a segment may be${inRow ? ' with the row that it lies in' : ''}: ${figures}.`,
        { leastMm, roomMm },
        'Allow a quarter turn, make margins smaller, or let segments be longer with the take-up.',
      );
}

/** A segment as a draft that looks like the run it was cut from. */
function draftSegment(
  work: Work,
  like: RunRow,
  place: Pick<RunSpec, 'position' | 'series'>,
  { pieces, places }: RunSegment,
): string {
  const { tx } = work;
  const draft = newRun(work, { ...likeRun(like), madeBy: 'segment', ...place });
  const { id } = draft;
  const rows = pieces.map(({ pieceId }, i) => ({ runId: id, pieceId, placed: true, ...places[i] }));
  for (const batch of batches(rows)) tx.insert(runPieces).values(batch).run();
  claimPieces(work, id);
  measureLaid(work, draft);
  work.touch({ type: 'run', id });
  return id;
}

/** Ids of the segments that are still on the Bench, in their order. */
export function draftsOfSeries(db: Reader, seriesId: string): string[] {
  return db
    .select({ id: runs.id })
    .from(runs)
    .where(and(eq(runs.seriesId, seriesId), eq(runs.state, 'draft')))
    .orderBy(asc(runs.seriesNo))
    .all()
    .map((run) => run.id);
}

/** Puts the segments of a series that are still drafts together again as one draft; what has left the Bench stays as it is. */
export function joinSeries(shop: Shop, seriesId: string, actor: Actor): string {
  return transact(shop, (work) => {
    const { tx, nowMs } = work;
    const segments = tx
      .select()
      .from(runs)
      .where(and(eq(runs.seriesId, seriesId), eq(runs.state, 'draft')))
      .orderBy(asc(runs.seriesNo))
      .all();
    const [first] = segments;
    if (!first) throw new Refused(409, 'nothing-to-join', 'None of these segments is on the Bench any more.');
    const joined = newRun(work, { ...likeRun(first), madeBy: 'joined', position: first.position });
    const { id } = joined;
    for (const segment of segments) {
      const held = tx
        .select({ pieceId: runPieces.pieceId })
        .from(runPieces)
        .where(eq(runPieces.runId, segment.id))
        .all();
      transitionRun(work, segment.id, 'dissolve', { endedMs: nowMs, reason: 'put together' });
      releasePieces(work, segment.id);
      for (const batch of batches(held)) {
        tx.insert(runPieces)
          .values(batch.map(({ pieceId }) => ({ runId: id, pieceId })))
          .run();
      }
    }
    claimPieces(work, id);
    updateJobStates(work, jobsOfRun(work, id));
    work.note({
      kind: 'run.series-joined',
      subject: ['run', id],
      actor,
      data: { run: joined.number, segments: segments.length },
    });
    work.touch({ type: 'run', id });
    return id;
  });
}
