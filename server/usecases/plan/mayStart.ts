import { printerOf } from '../run/runRows.ts';
import { eq } from 'drizzle-orm';
import { type LoadedSpool, type StartAnswer, startCheck } from '../../../core/flow/startCheck.ts';
import { neededMm } from '../../../core/stock/need.ts';
import type { Reader } from '../../db/open.ts';
import { feedingOf } from '../../db/feeding.ts';
import { unfitFor, unfitModes } from '../../../core/heads/printerHeads.ts';
import { faultsOf } from '../../db/headStates.ts';
import { oneLots } from '../../db/orderLots.ts';
import { spoolViews } from '../../db/printerViews.ts';
import { runName } from '../../../core/flow/runName.ts';
import { otherSide } from '../../db/runViews.ts';
import { type printers, spools, stocks } from '../../db/tables/floorTables.ts';
import type { Shop } from '../../shop.ts';
import { isBack } from '../layout/relayBack.ts';
import type { RunRow } from '../run/transitionRun.ts';
import { isAttended } from '../setup/shopSetup.ts';

/** Whether a queued run may be sent now, and from which spool. */
export function startAnswer(shop: Shop, run: RunRow): StartAnswer {
  const { db } = shop;
  const printer = printerOf(db, run);
  const { config, measured } = printer;
  const feeding = feedingOf(db)(run);
  const now = shop.clock.now();
  return startCheck({
    run: {
      name: runName(run.number),
      stockId: run.ticket.stockId,
      stockName: db.select().from(stocks).where(eq(stocks.id, run.ticket.stockId)).get()?.name ?? 'its stock',
      // Garments are as wide as their bed, whatever the shirt.
      mediaWidthMm: feeding.byHand ? 0 : run.mediaWidthMm,
      needMm: neededMm(feeding),
      outMm: feeding.byHand ? 0 : run.lengthMm,
      byHand: feeding.byHand,
      unattended: run.ticket.unattended,
      fixedStartMs: run.fixedStartMs,
      back: backState(db, run),
      turn: run.side?.turn ?? null,
      meant: meantSpool(db, run, neededMm(feeding)),
      lot: oneLots(db, [run.id]).get(run.id)?.lot ?? null,
      unfit: unfitFor(unfitModes(config, faultsOf(db, printer.id)), {
        modeId: run.ticket.modeId,
        inkMl: run.inkMl,
      }).map(({ channelId, text }) => ({
        name: config.channels.find(({ id }) => id === channelId)?.name ?? channelId,
        text,
      })),
    },
    printer: {
      name: printer.name,
      state: printer.linkStatus,
      reason: printer.linkReason,
      unattended: config.unattended,
      takeUp: config.takeUp,
      freeHangMm: config.freeHangMm,
      collectsMm: config.collectsMm,
      collectedMm: measured?.collectedMm ?? 0,
    },
    loaded: loadedOn(db, printer),
    attended: isAttended(shop),
    nowMs: now,
  });
}

/** The spool that a run is meant for, unless it is gone, in another printer, or too short by now: then any will do. */
function meantSpool(
  db: Reader,
  run: RunRow,
  needMm: number,
): { readonly id: string; readonly label: string; readonly place: string } | null {
  if (run.meantSpoolId === null) return null;
  const [spool] = spoolViews(db, { id: run.meantSpoolId });
  if (!spool || spool.stockId !== run.ticket.stockId) return null;
  if (spool.printerId !== null && spool.printerId !== run.printerId) return null;
  if (spool.leftMm - spool.takenMm < needMm - 1e-6) return null;
  return { id: spool.id, label: spool.label, place: spool.printerId === null ? spool.place : 'in the printer' };
}

function backState(db: Reader, run: RunRow): 'no' | 'front not printed' | 'not confirmed' | 'confirmed' {
  if (!isBack(run) || run.pairId === null) return 'no';
  if (otherSide(db, run.pairId, run.id)?.state !== 'printed') return 'front not printed';
  if (run.side?.confirmedMs == null) return 'not confirmed';
  // What was confirmed may have been taken out again.
  const spool = run.spoolId === null ? undefined : db.select().from(spools).where(eq(spools.id, run.spoolId)).get();
  return spool?.printerId === run.printerId ? 'confirmed' : 'not confirmed';
}

/** What is loaded, as the device has measured it where it can measure. */
function loadedOn(db: Reader, { id, config, measured }: typeof printers.$inferSelect): LoadedSpool[] {
  return spoolViews(db, { printerId: id }).map((spool) => {
    const told = measured?.media.find((media) => media.sourceId === spool.sourceId && media.tag === spool.id);
    return {
      id: spool.id,
      label: spool.label,
      lot: spool.lot,
      stockId: spool.stockId,
      stockName: spool.stockName,
      sourceName: config.sources.find((source) => source.id === spool.sourceId)?.name ?? '',
      widthMm: told?.widthMm ?? spool.widthMm,
      // What the run on the printer still takes is not there for the next.
      leftMm: spool.leftMm - spool.takenMm,
      takeUp: spool.takeUp,
    };
  });
}
