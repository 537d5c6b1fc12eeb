import { TESTER } from '../../testing/tester.ts';
import { eq, inArray } from 'drizzle-orm';
import fc from 'fast-check';
import { jobStateFromPieces } from '../../../core/flow/job.ts';
import { LIVE_RUN_STATES, RUN_STATES_ON_PRINTER } from '../../../core/flow/run.ts';
import { pieceCounts } from '../../db/views.ts';
import { spoolViews } from '../../db/printerViews.ts';
import { events, inkLedger, spoolLedger } from '../../db/tables/records.ts';
import { CARE_STATES_ON_PRINTER } from '../../../core/flow/care.ts';
import { careItems } from '../../db/tables/careTables.ts';
import { createCareRule } from '../care/careRules.ts';
import { jobs, pieces, runPieces, runs } from '../../db/tables/schema.ts';
import { spools } from '../../db/tables/floorTables.ts';
import { Refused } from '../../shop.ts';
import { idle, openTestShop } from '../../testing/shopFixture.ts';
import { recordPrinterState } from '../device/machineReports.ts';
import { PRINTERS, type World, anyStep } from '../../testing/floorSteps.ts';
import { allFacts, factsMustHold } from '../../testing/factsCheck.ts';
import { headStep } from '../../testing/headSteps.ts';
import { unfitFor, unfitModes } from '../../../core/heads/printerHeads.ts';
import { faultsOf } from '../../db/headStates.ts';
import { nozzleChecks } from '../../db/tables/headTables.ts';
import { printerOf } from '../run/runRows.ts';

/*
 * People and faults in random order against the whole shop, without HTTP: after every step nothing may be lost, doubled or
 * unaccounted for.
 */

/** A check comes before the longer runs. */
const LONG_RUNS = {
  what: { kind: 'check' as const },
  overMm: 600,
  onlyImportant: false,
  printerIds: null,
  paused: false,
};

/** Attempts that were sent before, and those that heads were asked for. */
interface Heads {
  readonly sent: Set<string>;
  spoiled: number;
}

/** What is sent now, its heads can print; a check that is done is one check, whatever becomes of it. */
function headsMustHold({ shop: { db } }: World, heads: Heads): void {
  for (const run of db.select().from(runs).all()) {
    const attempt = `${run.id}/${String(run.attempt)}`;
    if (run.attempt === 0 || heads.sent.has(attempt)) continue;
    heads.sent.add(attempt);
    const printer = printerOf(db, run);
    const unfit = unfitModes(printer.config, faultsOf(db, printer.id));
    expect(unfitFor(unfit, { modeId: run.ticket.modeId, inkMl: run.inkMl })).toEqual([]);
  }
  const printed = db.select().from(careItems).where(eq(careItems.state, 'done')).all();
  const checks = printed.filter(({ what }) => what.kind === 'check').map(({ id }) => id);
  const kept = db.select().from(nozzleChecks).all();
  expect(kept.flatMap(({ careId }) => careId ?? []).sort()).toEqual(checks.sort());
  const states = PRINTERS.map((id) => Object.values(faultsOf(db, id)).some(({ missing }) => missing.length > 0));
  heads.spoiled += states.filter(Boolean).length;
}

function mustHold({ shop }: World): void {
  const { db } = shop;
  const all = db.select().from(runs).all();
  const stateOf = new Map(all.map((run) => [run.id, run.state]));
  // No piece in two live runs; a placed piece is in the run that it names, and that run is live.
  const live = all.filter((run) => LIVE_RUN_STATES.includes(run.state)).map(({ id }) => id);
  const held = db.select().from(runPieces).where(inArray(runPieces.runId, live)).all();
  expect(new Set(held.map(({ pieceId }) => pieceId)).size).toBe(held.length);
  const byPiece = new Map(held.map(({ pieceId, runId }) => [pieceId, runId]));
  for (const piece of db.select().from(pieces).all()) {
    if (piece.state === 'placed') {
      expect(byPiece.get(piece.id)).toBe(piece.runId);
      expect(LIVE_RUN_STATES).toContain(stateOf.get(piece.runId ?? ''));
    } else expect(byPiece.has(piece.id)).toBe(false);
    if (piece.state === 'printed') expect(['printed', 'failed', 'cancelled']).toContain(stateOf.get(piece.runId ?? ''));
  }
  // Job states follow from their pieces.
  const rows = db.select().from(jobs).all();
  const counts = pieceCounts(
    db,
    rows.map(({ id }) => id),
  );
  for (const job of rows) {
    const own = counts.get(job.id);
    if (own && job.state !== 'blocked') expect([job.id, job.state]).toEqual([job.id, jobStateFromPieces(own)]);
  }
  // One run or one piece of care at most on each printer; no attempt sent twice.
  const care = db.select().from(careItems).all();
  const onPrinters = [
    ...all.filter((run) => RUN_STATES_ON_PRINTER.includes(run.state)),
    ...care.filter(({ state }) => CARE_STATES_ON_PRINTER.includes(state)),
  ].map(({ printerId }) => printerId);
  expect(new Set(onPrinters).size).toBe(onPrinters.length);
  const sent = db.select().from(events).where(eq(events.kind, 'run.sent')).all();
  for (const run of all) expect(sent.filter((event) => event.subjectId === run.id)).toHaveLength(run.attempt);
  // Every metre fed is in the ledger, once, and no spool holds less than nothing.
  for (const run of all.filter(({ endedMs, startedMs }) => endedMs !== null && startedMs !== null)) {
    const booked = db.select().from(spoolLedger).where(eq(spoolLedger.runId, run.id)).all();
    const fed = booked.filter(({ kind }) => kind === 'run').reduce((sum, { mm }) => sum - mm, 0);
    expect(fed).toBeCloseTo(run.fedMm ?? 0, 6);
  }
  // Before every long run that was sent a check was asked for, once.
  const asked = care.filter(({ ruleId }) => ruleId !== null).map(({ runId }) => runId);
  expect(new Set(asked).size).toBe(asked.length);
  for (const run of all) if (run.attempt > 0 && run.lengthMm > LONG_RUNS.overMm) expect(asked).toContain(run.id);
  // Nothing is taken out from under care.
  for (const { state, spoolId } of care) {
    if (!CARE_STATES_ON_PRINTER.includes(state) || spoolId === null) continue;
    expect(db.select().from(spools).where(eq(spools.id, spoolId)).get()?.printerId).not.toBeNull();
  }
  // What care has used is booked once, whatever became of it; what was never begun has used nothing.
  for (const row of care) {
    const ink = db.select().from(inkLedger).where(eq(inkLedger.runId, row.id)).all();
    const media = db.select().from(spoolLedger).where(eq(spoolLedger.runId, row.id)).all();
    const ended = ['done', 'failed', 'cancelled'].includes(row.state) && row.startedMs !== null;
    const used = ended ? Object.values(row.inkMl).reduce((sum, ml) => sum + ml, 0) : 0;
    expect(ink.reduce((sum, { ml }) => sum - ml, 0)).toBeCloseTo(used, 9);
    expect(media.reduce((sum, { mm }) => sum - mm, 0)).toBeCloseTo(ended && row.spoolId !== null ? row.fedMm : 0, 9);
  }
  for (const spool of spoolViews(db)) expect(spool.leftMm).toBeGreaterThanOrEqual(-1e-6);
}

test('people and faults in random order: no piece is lost or doubled, no attempt sent twice, every metre is accounted for', async () => {
  let sent = 0;
  let cared = 0;
  let spoiled = 0;
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.oneof({ weight: 12, arbitrary: anyStep() }, { weight: 1, arbitrary: headStep() }), {
        minLength: 40,
        maxLength: 90,
        size: 'max',
      }),
      async (played) => {
        const opened = openTestShop();
        const laid = { sha256: 'f'.repeat(64), bytes: 1 };
        const { shop } = opened;
        shop.work.replace('run pdf', () => Promise.resolve(laid));
        shop.work.replace('nest', (order, nest) => nest({ ...order, stepBudget: 2 }));
        const world: World = { shop, said: [], careSaid: [], jobs: 0 };
        const done: string[] = [];
        const heads: Heads = { sent: new Set(), spoiled: 0 };
        try {
          createCareRule(shop, LONG_RUNS, TESTER);
          for (const id of PRINTERS) recordPrinterState(shop, id, idle(id));
          for (const [name, step] of played) {
            done.push(name);
            try {
              await step(world);
            } catch (error) {
              // What may not be done now is refused, and changes nothing.
              if (!(error instanceof Refused)) throw error;
            }
            mustHold(world);
            headsMustHold(world, heads);
            // Facts are made while things happen, not only when all is over.
            if (done.length % 7 === 0) allFacts(shop);
          }
          factsMustHold(shop);
        } catch (error) {
          throw new Error(`after: ${done.join(', ')}`, { cause: error });
        } finally {
          spoiled += heads.spoiled;
          sent += shop.db.select().from(events).where(eq(events.kind, 'run.sent')).all().length;
          cared += shop.db.select().from(careItems).where(eq(careItems.state, 'done')).all().length;
          opened.close();
        }
      },
    ),
    // Many more with FLOOR_SCRIPTS=100. A slow machine plays fewer; each is judged in full.
    { numRuns: Number(process.env.FLOOR_SCRIPTS ?? 8), seed: 11, plugins: [fc.interruptAfterTimeLimit(45_000)] },
  );
  // Where nothing is printed nothing can go wrong.
  expect(sent).toBeGreaterThan(0);
  expect(cared).toBeGreaterThan(0);
  expect(spoiled).toBeGreaterThan(0);
}, 180_000);
