import { sql } from 'drizzle-orm';
import { events, inkLedger, spoolLedger } from '../db/tables/records.ts';
import { jobPages, jobs, pieces, refusals, runPieces, runs, ticketChanges } from '../db/tables/schema.ts';
import type { Shop } from '../shop.ts';

/** Prepared once: a million rows are written by them. */
export function statements({ db }: Shop) {
  const p = sql.placeholder;
  const none = { leftMm: 0, topMm: 0, rightMm: 0, bottomMm: 0 };
  return {
    job: db
      .insert(jobs)
      .values({
        id: p('id'),
        queueId: p('queueId'),
        sourceName: p('sourceName'),
        sha256: p('sha256'),
        format: 'pdf',
        bytes: 120_000,
        widthMm: p('widthMm'),
        heightMm: p('heightMm'),
        pages: 1,
        nature: p('nature'),
        state: p('state'),
        ticket: p('ticket'),
        findings: [],
        arrivedMs: p('arrivedMs'),
        keepDueMs: p('keepDueMs'),
      })
      .prepare(),
    page: db
      .insert(jobPages)
      .values({
        jobId: p('jobId'),
        page: 0,
        widthMm: p('widthMm'),
        heightMm: p('heightMm'),
        bleed: none,
        coverage: p('coverage'),
      })
      .prepare(),
    piece: db
      .insert(pieces)
      .values({ id: p('id'), jobId: p('jobId'), page: 0, copy: p('copy'), state: p('state'), runId: p('runId') })
      .prepare(),
    place: db
      .insert(runPieces)
      .values({ runId: p('runId'), pieceId: p('pieceId'), xMm: p('xMm'), yMm: p('yMm'), placed: true })
      .prepare(),
    run: db
      .insert(runs)
      .values({
        id: p('id'),
        printerId: p('printerId'),
        queueId: p('queueId'),
        spoolId: p('spoolId'),
        state: 'printed',
        position: 0,
        attempt: 1,
        settings: p('settings'),
        ticket: p('ticket'),
        mediaWidthMm: p('mediaWidthMm'),
        lengthMm: p('lengthMm'),
        reachedMm: p('lengthMm'),
        fedMm: p('lengthMm'),
        estimateMs: p('estimateMs'),
        inkMl: p('inkMl'),
        createdMs: p('createdMs'),
        startedMs: p('startedMs'),
        endedMs: p('endedMs'),
      })
      .prepare(),
    ledger: db
      .insert(spoolLedger)
      .values({ spoolId: p('spoolId'), kind: 'run', mm: p('mm'), runId: p('runId'), attempt: 1, atMs: p('atMs') })
      .prepare(),
    ink: db
      .insert(inkLedger)
      .values({
        printerId: p('printerId'),
        channelId: p('channelId'),
        ml: p('ml'),
        runId: p('runId'),
        attempt: 1,
        atMs: p('atMs'),
      })
      .prepare(),
    event: db
      .insert(events)
      .values({
        atMs: p('atMs'),
        kind: p('kind'),
        subjectType: p('subjectType'),
        subjectId: p('subjectId'),
        who: 'system',
        text: p('text'),
      })
      .prepare(),
    change: db
      .insert(ticketChanges)
      .values({
        changeId: p('changeId'),
        jobId: p('jobId'),
        queueId: p('queueId'),
        ticket: p('ticket'),
        keys: ['copies'],
      })
      .prepare(),
    refusal: db
      .insert(refusals)
      .values({
        id: p('id'),
        claimId: p('claimId'),
        queueId: p('queueId'),
        sourceName: p('sourceName'),
        reason: 'The PDF is damaged.',
        sidePath: '/nowhere',
        atMs: p('atMs'),
        dismissed: true,
      })
      .prepare(),
  };
}
