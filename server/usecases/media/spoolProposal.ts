import { eq } from 'drizzle-orm';
import type { SpoolView } from '../../../contract/api/floor.ts';
import type { SpoolChoice, SpoolProposal, SpoolProposalSide } from '../../../contract/api/media/spoolProposal.ts';
import type { Actor } from '../../../core/events/actor.ts';
import { NARROWER_MM } from '../../../core/flow/startCheck.ts';
import { metresText, mmText } from '../../../core/units/lengthText.ts';
import { isUnopened } from '../../../core/spools/choosableSpool.ts';
import type { SpoolSide } from '../../../core/spools/proposeSpools.ts';
import { spoolViews } from '../../db/printerViews.ts';
import { findRun } from '../../db/findRows.ts';
import { runItems } from '../../db/runViews.ts';
import { runs } from '../../db/tables/schema.ts';
import type { RunHow } from '../../ports/work.ts';
import { Refused, type Shop, type Work, transact } from '../../shop.ts';
import { runName } from '../../../core/flow/runName.ts';
import { placeLine, queuedLine } from '../plan/lineOrder.ts';
import { readFloor } from '../plan/fit.ts';
import type { Floor } from '../plan/plannedFloor.ts';

/** So long spools are looked for. */
const SEARCH_MS = 2500;

/** Spools for all queued runs so that stubs vanish, beside how it stands; nothing is changed by asking. */
export async function spoolProposal(shop: Shop, how: RunHow = {}): Promise<SpoolProposal> {
  const floor = readFloor(shop);
  const answer = await shop.work.run('spools', { floor, timeLimitMs: SEARCH_MS }, how);
  const stocks = answer.stocks.map(({ stockId, today, proposed, isExact }) => {
    const stock = floor.stocks[stockId];
    return {
      stockId,
      stockName: stock?.name ?? stockId,
      sheetMm: stock?.sheetMm ?? null,
      usableMm: stock?.usableMm ?? 0,
      today: sideView(floor, today),
      proposed: sideView(floor, proposed),
      savedMinor: savedBy(today, proposed),
      isExact,
    };
  });
  return {
    currency: floor.currency,
    stocks,
    savedMinor: stocks.reduce((sum, { savedMinor }) => sum + savedMinor, 0),
    orders: answer.orders.map(({ printerId, runIds }) => ({
      printerId,
      printerName: floor.printers.find(({ id }) => id === printerId)?.name ?? printerId,
      runIds: [...runIds],
    })),
    lateTodayMinor: Math.round(answer.lateTodayMinor),
    lateProposedMinor: Math.round(answer.lateProposedMinor),
  };
}

/** Money can be compared only where as many runs have a spool. */
function savedBy(today: SpoolSide, proposed: SpoolSide): number {
  return today.without.length === proposed.without.length ? Math.round(today.lossMinor - proposed.lossMinor) : 0;
}

function sideView({ runs: items, spools, printers }: Floor, side: SpoolSide): SpoolProposalSide {
  const named = (id: string) => {
    const run = items.find((each) => each.id === id);
    const printerName = printers.find((printer) => printer.id === run?.printerId)?.name ?? '';
    return { id, name: run?.name ?? id, needMm: run?.needMm ?? 0, printerName };
  };
  return {
    lines: side.lines.flatMap(({ spoolId, runIds, leftMm, isStub, loads }) => {
      const spool = spools.find(({ id }) => id === spoolId);
      if (!spool) return [];
      const { label, lot, kind, printerId, receivedMm } = spool;
      const view = { spoolId, label, lot, kind, printerId, receivedMm, leftMm, isStub, loads };
      const wasLeftMm = spool.leftMm - spool.takenMm;
      return [{ ...view, wasLeftMm, isUnopened: isUnopened(spool), runs: runIds.map(named) }];
    }),
    without: side.without.map(named).map(({ id, name, needMm }) => ({ id, name, needMm })),
    stubMm: side.stubMm,
    opened: side.opened,
    loads: side.loads,
    lossMinor: Math.round(side.lossMinor),
  };
}

/**
 * Gives queued runs the spools that a person has chosen, and lines their order: one step, which can be taken back as one. Refused as a
 * whole where a run is no longer queued, or a spool no longer takes what is meant for it.
 */
export function chooseRunSpools(shop: Shop, asked: SpoolChoice, actor: Actor): void {
  transact(shop, (work) => {
    const choice = asked.whatStillCan === true ? whatStillCan(work, asked) : asked;
    const before = choice.runs.map(({ runId }) => ({ runId, spoolId: queuedRun(work, runId).meantSpoolId }));
    for (const { runId, spoolId } of choice.runs) {
      if (spoolId !== null) spoolNow(work, spoolId);
      work.tx.update(runs).set({ meantSpoolId: spoolId }).where(eq(runs.id, runId)).run();
      work.touch({ type: 'run', id: runId });
    }
    mustTakeAll(work, choice);
    const orders = choice.orders.flatMap(({ printerId, runIds }) => {
      const order = placeLine(work, printerId, runIds);
      return order ? [{ printerId, runIds: order }] : [];
    });
    const changed = before.filter(({ spoolId }, i) => spoolId !== choice.runs[i]?.spoolId);
    if (changed.length === 0 && orders.length === 0) return;
    const [only] = changed;
    work.note({
      kind: 'spools.chosen',
      subject: changed.length === 1 && only ? ['run', only.runId] : ['shop', 'spools'],
      actor,
      data: {
        runs: changed.length,
        given: choice.runs.filter(({ spoolId }) => spoolId !== null).length,
        lines: orders.length,
      },
      undo: {
        label: 'Undo',
        method: 'POST',
        path: '/api/spool-proposal',
        body: { runs: before, orders, whatStillCan: true },
      },
    });
  });
  shop.wakeDispatcher();
}

/** What of a choice can still be: an undo comes when some of it has begun. */
function whatStillCan({ tx }: Work, { runs: own, orders }: SpoolChoice): SpoolChoice {
  return {
    runs: own.filter(({ runId }) => findRun(tx, runId)?.state === 'queued'),
    orders: orders.filter(({ printerId, runIds }) => {
      const line = new Set(queuedLine(tx, printerId).map(({ id }) => id));
      return line.size === runIds.length && runIds.every((id) => line.has(id));
    }),
  };
}

function queuedRun({ tx }: Work, runId: string): typeof runs.$inferSelect {
  const run = findRun(tx, runId);
  if (!run) throw new Refused(404, 'no-such-run', `There is no run ${runId}.`);
  if (run.state !== 'queued') {
    throw new Refused(
      409,
      'wrong-state',
      `${runName(run.number)} is ${run.state}; a spool is chosen only for what is queued.`,
      undefined,
      'Ask for the proposal again.',
    );
  }
  return run;
}

function spoolNow({ tx }: Work, id: string): SpoolView {
  const [spool] = spoolViews(tx, { id });
  if (!spool) {
    throw new Refused(404, 'no-such-spool', `There is no spool ${id}.`, undefined, 'Ask for the proposal again.');
  }
  return spool;
}

/** What is meant for each spool goes on it, with what is meant for it by earlier choices. */
function mustTakeAll(work: Work, choice: SpoolChoice): void {
  const chosen = new Set(choice.runs.flatMap(({ spoolId }) => (spoolId === null ? [] : [spoolId])));
  const queued = runItems(work.tx).filter(({ state }) => state === 'queued');
  for (const spoolId of chosen) {
    const spool = spoolNow(work, spoolId);
    const own = queued.filter(({ meantSpoolId }) => meantSpoolId === spoolId);
    const other = own.find(({ stockId }) => stockId !== spool.stockId);
    if (other) {
      throw new Refused(409, 'wrong-stock', `${other.name} is not for ${spool.stockName}, which ${spool.label} is.`);
    }
    const narrow = own.find(({ mediaWidthMm, byHand }) => !byHand && spool.widthMm < mediaWidthMm - NARROWER_MM);
    if (narrow) {
      throw new Refused(
        409,
        'narrow',
        `${spool.label} is ${mmText(spool.widthMm, 0)} wide; ${narrow.name} is laid out for ${mmText(narrow.mediaWidthMm, 0)}.`,
      );
    }
    const needMm = own.reduce((sum, run) => sum + run.needMm, 0);
    const leftMm = spool.leftMm - spool.takenMm;
    if (needMm > leftMm + 1e-6) {
      throw new Refused(
        409,
        'short',
        `${spool.label} has ${metresText(leftMm)} left; the runs that are meant for it take ${metresText(needMm)}.`,
        { leftMm, needMm },
        'Ask for the proposal again, or choose another spool.',
      );
    }
  }
}
