import { signedInName } from '../../../core/events/actor.ts';
import { counted } from '../../../core/counted.ts';
import { printerOf, runRow, draftRow } from '../run/runRows.ts';
import type { Actor } from '../../../core/events/actor.ts';
import { endOf, usedLengthMm } from '../../../core/layout/layoutFigures.ts';
import { wrapDeg } from '../../../core/geometry/turn.ts';
import { and, eq, sql } from 'drizzle-orm';
import type { LayoutChange } from '../../../contract/api/run.ts';
import { runPieces, runs } from '../../db/tables/schema.ts';
import { runName } from '../../../core/flow/runName.ts';
import { Refused, type Shop, type Work, transact } from '../../shop.ts';
import { clashesOfRun } from './clashesOfRun.ts';
import { relayBack, isBack } from './relayBack.ts';
import { layoutSpace } from '../../../core/layout/marks/markSettings.ts';
import { marksOnPieces } from '../../../core/layout/marks/marks.ts';
import { type LaidRow, evenInkOfRun, inkOfRun, laidPieces, timeOfRun } from './measureRun.ts';
import { marksOfRun } from './runMarks.ts';
import type { RunRow } from '../run/transitionRun.ts';
import { mmText } from '../../../core/units/lengthText.ts';

export interface LayOutHow {
  /** A person who lays a run out has taken it in hand: it no longer goes by itself. */
  readonly by: Actor;
  /** The version that was changed; left out: whatever is there is overwritten. */
  readonly ifVersion?: number | undefined;
}

/**
 * Keeps a layout of a draft, clashes and all: a person may be in the middle of it. Queueing checks it. Refused where somebody
 * else has laid it out since the version that was changed.
 */
export function layOutRun(shop: Shop, runId: string, change: LayoutChange, { by, ifVersion }: LayOutHow): void {
  transact(shop, (work) => {
    const { tx } = work;
    const run = draftRow(tx, runId, 'laid out');
    if (ifVersion !== undefined && ifVersion !== run.version) {
      throw new Refused(
        409,
        'layout-changed',
        run.laidOutBy === null
          ? `${runName(run.number)} has been laid out anew meanwhile; your layout is not saved yet.`
          : `${run.laidOutBy} has laid out ${runName(run.number)} anew meanwhile; your layout is not saved yet.`,
        { version: run.version, yourVersion: ifVersion },
        'Look at both, and keep one of them.',
      );
    }
    if (isBack(run)) {
      throw new Refused(
        409,
        'back-follows',
        `${runName(run.number)} is a back; it follows its front.`,
        undefined,
        'Lay out the front: the back follows at once.',
      );
    }
    const hands = by.kind === 'person' ? { goAtMs: null } : {};
    const laidOutBy = signedInName(by);
    tx.update(runs)
      .set({ settings: change.settings, version: run.version + 1, laidOutBy, ...hands })
      .where(eq(runs.id, runId))
      .run();
    keepPlaces(work, runId, change.placements);
    measureLaid(work, { ...run, settings: change.settings });
    const back = run.pairId === null ? undefined : relayBack(work, runRow(work.tx, runId));
    if (back) {
      measureLaid(work, back);
      work.touch({ type: 'run', id: back.id });
    }
    work.touch({ type: 'run', id: runId });
  });
}

/** Length, time and ink of a run as it lies now; a back is as long as its front. */
export function measureLaid({ tx }: Work, run: RunRow): void {
  const laid = laidPieces(tx, run.id);
  const end = endOf(laid.filter((piece) => piece.placed));
  const { settings } = run;
  const used = usedLengthMm({ sheetMm: settings.sheetMm ?? null, margins: layoutSpace(settings) }, end);
  const sized = { ...run, lengthMm: isBack(run) ? run.lengthMm : used };
  const { config } = printerOf(tx, run);
  const time = timeOfRun(sized, config, laid);
  const inkMl = inkOfRun(run, config, laid);
  const evenMl = evenInkOfRun(run, config, laid);
  tx.update(runs)
    .set({ lengthMm: sized.lengthMm, estimateMs: time.totalMs, inkMl, inkRendering: null, inkSample: null, evenMl })
    .where(eq(runs.id, run.id))
    .run();
}

/** Prepared once: a layout of thousands of pieces must not hold the server up. */
function keepPlaces({ tx }: Work, runId: string, placements: LayoutChange['placements']): void {
  const place = tx
    .update(runPieces)
    .set({
      xMm: sql`${sql.placeholder('xMm')}`,
      yMm: sql`${sql.placeholder('yMm')}`,
      angleDeg: sql`${sql.placeholder('angleDeg')}`,
      placed: true,
      locked: sql`${sql.placeholder('locked')}`,
    })
    .where(and(eq(runPieces.runId, runId), eq(runPieces.pieceId, sql.placeholder('pieceId'))))
    .prepare();
  for (const { pieceId, xMm, yMm, angleDeg, locked } of placements) {
    place.run({ pieceId, xMm, yMm, angleDeg: wrapDeg(angleDeg), locked: locked === true ? 1 : 0 });
  }
}

/** Marks are worth nothing where they lie on artwork, or where a code can't be read. */
function mustHaveRoomForMarks({ tx }: Work, run: RunRow, laid: readonly LaidRow[]): void {
  const { marks, troubles } = marksOfRun(tx, run, laid);
  const [trouble] = troubles;
  if (trouble !== undefined) throw new Refused(409, 'marks', trouble);
  const covered = marksOnPieces(marks, laid).length;
  if (covered > 0) {
    throw new Refused(
      409,
      'marks-on-art',
      `${String(covered)} of ${String(marks.length)} marks lie on artwork.`,
      { covered, marks: marks.length },
      'Nest again: it keeps the space that the marks need.',
    );
  }
}

/** Refuses a layout that can't be printed as it lies: pieces without a place, clashes, beyond the usable width, too long. */
export function mustBePrintable(work: Work, run: RunRow): void {
  const laid = laidPieces(work.tx, run.id);
  const without = laid.filter((piece) => !piece.placed).length;
  if (laid.length === 0) throw new Refused(409, 'empty', `${runName(run.number)} has no pieces.`);
  if (without > 0) {
    throw new Refused(
      409,
      'not-laid-out',
      `${String(without)} of ${counted(laid.length, 'piece')} ${without === 1 ? 'has' : 'have'} no place yet.`,
      { without },
      'Nest the run first.',
    );
  }
  const { config, name } = printerOf(work.tx, run);
  const { clashes, usableWidthMm } = clashesOfRun(config, run, laid);
  if (clashes.length > 0) {
    const outside = clashes.filter((clash) => clash.kind === 'out-of-bounds').length;
    throw new Refused(
      409,
      'clashes',
      `${counted(clashes.length - outside, 'pair')} of pieces overlap and ${counted(outside, 'piece')} ${outside === 1 ? 'lies' : 'lie'} outside the usable ${mmText(usableWidthMm)}${run.settings.sheetMm == null ? '' : ' or across the end of a sheet'}.`,
      { pairs: clashes.length - outside, outside },
      'Move the pieces that are marked, or nest again.',
    );
  }
  mustHaveRoomForMarks(work, run, laid);
  if (run.lengthMm > config.longestMm) {
    throw new Refused(
      409,
      'too-long',
      `Longer than ${name} prints in one go: ${mmText(run.lengthMm, 0)} of ${mmText(config.longestMm, 0)}.`,
    );
  }
}
