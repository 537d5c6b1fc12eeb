import { and, eq, inArray } from 'drizzle-orm';
import type { CareReport } from '../../../contract/machine/protocol.ts';
import { wallTimeOf } from '../../../core/care/wallTime.ts';
import { device } from '../../../core/events/actor.ts';
import { CARE_STATES_ON_PRINTER } from '../../../core/flow/care.ts';
import { careItems } from '../../db/tables/careTables.ts';
import { type InkPurpose, channelFirings, inkLedger, spoolLedger } from '../../db/tables/records.ts';
import { type Shop, type Work, transact } from '../../shop.ts';
import { type CareRow, findCare, printerOfCare, transitionCare } from './careItems.ts';
import { keepExercise } from './exercise.ts';
import { checkPrinted, headsCleaned, takeReading } from '../heads/checks.ts';
import { feedPrinted } from '../heads/feed.ts';
import { addCareInk } from '../heads/careInk.ts';

const ENDS: readonly string[] = ['done', 'failed', 'cancelled'];

/** Brings care in line with its printer's report. Reports of another attempt, of ended care, or older ones change nothing. */
export function recordCareReport(shop: Shop, report: CareReport): void {
  const row = findCare(shop.db, report.careId);
  if (!row || row.attempt !== report.attempt || !CARE_STATES_ON_PRINTER.includes(row.state)) return;
  const isEnd = ENDS.includes(report.status);
  if (report.seq < row.reportSeq && !isEnd) return;
  if (report.status === row.state) {
    const { msLeft, seq: reportSeq } = report;
    if (row.msLeft === msLeft) return;
    shop.db
      .update(careItems)
      .set({ msLeft, reportSeq, progressMs: shop.clock.now() })
      .where(and(eq(careItems.id, row.id), inArray(careItems.state, [...CARE_STATES_ON_PRINTER])))
      .run();
    shop.bus.committed([], [{ type: 'printer', id: row.printerId }]);
    return;
  }
  transact(shop, (work) => {
    step(work, row, report, shop.clock.zone);
  });
  if (isEnd) shop.wakeDispatcher();
}

function step(work: Work, row: CareRow, report: CareReport, zone: string): void {
  const printer = printerOfCare(work.tx, row);
  const startedMs = row.startedMs ?? Math.round(report.startedMs);
  const common = { startedMs, reportSeq: report.seq, msLeft: report.msLeft, progressMs: work.nowMs };
  const actor = device(printer.id, printer.name);
  const said = { care: row.title, printer: printer.name };
  if (report.status === 'caring') {
    transitionCare(work, row.id, 'start', common);
    work.note({ kind: 'care.began', subject: ['printer', printer.id], actor, data: said });
    return;
  }
  const endedMs = Math.round(report.endedMs ?? work.nowMs);
  const { inkMl, fedMm, reason, status } = report;
  const action = { done: 'finish', failed: 'fail', cancelled: 'cancel' } as const;
  transitionCare(work, row.id, action[status], { ...common, msLeft: 0, endedMs, reason, inkMl, fedMm });
  book(work, row, report, startedMs, endedMs, wallTimeOf(endedMs, zone).slice(0, 7));
  if (status === 'done') headsAfter(work, printer, row, report, endedMs);
  const kind = ({ done: 'care.done', failed: 'care.failed', cancelled: 'care.stopped' } as const)[status];
  const ml = Object.values(inkMl).reduce((sum, each) => sum + each, 0);
  work.note({ kind, subject: ['printer', printer.id], actor, data: { ...said, ml, reason } });
}

/** What care that is done says of the heads, or did to them. */
function headsAfter(
  work: Work,
  printer: ReturnType<typeof printerOfCare>,
  { id, what, inkMl, spoolId }: CareRow,
  { nozzles, measuredMm }: CareReport,
  printedMs: number,
): void {
  if (what.kind === 'clean') headsCleaned(work, printer, what.channelIds, what.rested ? 'rest' : what.strength);
  if (what.kind === 'feed') {
    const actor = device(printer.id, printer.name);
    feedPrinted(work, printer, what.stockId, { spoolId, atMs: printedMs, measuredMm }, actor);
  }
  if (what.kind !== 'check') return;
  const channelIds = Object.keys(inkMl);
  const check = checkPrinted(work, printer, { careId: id, channelIds, printedMs });
  if (!check || !nozzles) return;
  const found = Object.fromEntries(
    Object.entries(nozzles)
      .filter(([channelId]) => channelIds.includes(channelId))
      .map(([channelId, faults]) => [channelId, { ...faults, unjudged: [] }]),
  );
  takeReading(work, printer, check, { by: 'device', confidence: 1, found }, device(printer.id, printer.name));
}

/** Ink and media that were used, whatever became of the care; keyed by attempt, so that a report that comes twice is booked once. */
function book(
  work: Work,
  row: CareRow,
  { inkMl, fedMm, attempt }: CareReport,
  fromMs: number,
  toMs: number,
  month: string,
): void {
  const { tx } = work;
  const printer = printerOfCare(tx, row);
  const { kind } = row.what;
  const purpose: InkPurpose = kind === 'stir' || kind === 'release' ? 'care' : kind === 'feed' ? 'check' : kind;
  for (const [channelId, ml] of Object.entries(inkMl)) {
    if (ml <= 0) continue;
    const key = { printerId: printer.id, channelId, runId: row.id, attempt, purpose };
    const booked = tx
      .insert(inkLedger)
      .values({ ...key, ml: -ml, atMs: toMs })
      .onConflictDoNothing()
      .run();
    if (booked.changes > 0) addCareInk(tx, { printerId: printer.id, channelId, month, ml });
    tx.insert(channelFirings)
      .values({ ...key, ml, fromMs, toMs })
      .onConflictDoNothing()
      .run();
    keepExercise(work, printer, channelId, fromMs);
  }
  if (row.spoolId !== null && fedMm > 0) {
    tx.insert(spoolLedger)
      .values({
        spoolId: row.spoolId,
        kind: 'purge',
        mm: -fedMm,
        runId: row.id,
        attempt,
        atMs: toMs,
        reason: row.title,
      })
      .onConflictDoNothing()
      .run();
    work.touch({ type: 'spool', id: row.spoolId });
  }
}
