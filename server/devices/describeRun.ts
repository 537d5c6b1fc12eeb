import { eq } from 'drizzle-orm';
import type { MachineRun } from '../../contract/machine/protocol.ts';
import { correctedAdvanceMm } from '../../core/heads/feedCheck.ts';
import { feedingOf } from '../db/feeding.ts';
import { spools } from '../db/tables/floorTables.ts';
import type { LaidPdf } from '../render/out/layPdf.ts';
import type { Shop } from '../shop.ts';
import { deviceLink } from '../usecases/device/deviceLink.ts';
import { feedFactorOf } from '../usecases/heads/feed.ts';
import { laidPieces, timeOfRun } from '../usecases/layout/measureRun.ts';
import { isBack } from '../usecases/layout/relayBack.ts';
import { modeOf, printerOf } from '../usecases/run/runRows.ts';
import type { RunRow } from '../usecases/run/transitionRun.ts';

/** What is made of a run that its printer has never heard of although it was printing: it ended where it was last seen. */
export function forgotten(run: RunRow, nowMs: number) {
  return {
    runId: run.id,
    attempt: run.attempt,
    seq: run.reportSeq,
    status: 'failed' as const,
    phase: 'print' as const,
    lengthMm: run.reachedMm ?? 0,
    fedMm: run.fedMm ?? 0,
    msLeft: 0,
    inkMl: {},
    reason: 'the printer no longer knows this run',
    startedMs: run.startedMs ?? nowMs,
    endedMs: nowMs,
  };
}

/** A run as its printer is told of it: what to feed, how long it takes, and which file it prints. The printer knows no jobs. */
export function describe(shop: Shop, run: RunRow, pdf: LaidPdf): MachineRun {
  const { config } = printerOf(shop.db, run);
  const time = timeOfRun(run, config, laidPieces(shop.db, run.id));
  const spool =
    run.spoolId === null ? undefined : shop.db.select().from(spools).where(eq(spools.id, run.spoolId)).get();
  const factor = feedFactorOf(shop.db, run.printerId, run.ticket.stockId);
  return {
    lengthMm: run.lengthMm,
    trailerMm: feedingOf(shop.db)(run).trailerMm,
    advanceMm: correctedAdvanceMm(time.advanceMm, factor),
    feedFactor: factor,
    passes: modeOf(config, run.ticket.modeId).lineMmPerS === null ? modeOf(config, run.ticket.modeId).passes : 1,
    startUpMs: time.startUpMs,
    strokesMs: [...time.strokesMs],
    block: time.block,
    dryOutMs: time.dryOutMs,
    dryingMs: time.dryingMs,
    heaterC: run.ticket.heaterC,
    cutMs: time.cutMs + time.contourMs,
    inkMl: run.inkMl,
    // A back goes through on what its front has fed.
    sourceId: isBack(run) ? null : (spool?.sourceId ?? null),
    pdf: { url: deviceLink(shop, `/api/runs/${run.id}/pdf`), sha256: pdf.sha256, bytes: pdf.bytes },
  };
}
