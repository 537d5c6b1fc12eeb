import { findPrinter, findRun } from '../db/findRows.ts';
import { printerOf } from '../usecases/run/runRows.ts';
import { PROGRAM } from '../../core/events/actor.ts';
import { and, asc, eq, inArray, sql } from 'drizzle-orm';
import { prepared } from '../db/prepared.ts';
import type { MachineState, RunReport } from '../../contract/machine/protocol.ts';
import { RUN_STATES_ON_PRINTER } from '../../core/flow/run.ts';
import { runs } from '../db/tables/schema.ts';
import { printers } from '../db/tables/floorTables.ts';
import { runName } from '../../core/flow/runName.ts';
import type { RunCommand } from '../ports/machineLink.ts';
import { putCareBefore } from '../usecases/care/careBefore.ts';
import { careOnPrinter } from '../usecases/care/nextCare.ts';
import { CareFeeder, printersWithCare } from './careFeeder.ts';
import { Refused, type Shop, transact } from '../shop.ts';
import { syncMedia } from '../usecases/device/syncMedia.ts';
import { armedAway } from '../usecases/away/armed.ts';
import type { StartTrouble } from '../../core/flow/startCheck.ts';
import { queuedLine } from '../usecases/plan/lineOrder.ts';
import { isAttended } from '../usecases/setup/shopSetup.ts';
import { startAnswer } from '../usecases/plan/mayStart.ts';
import { recordPrinterState, recordRunReport } from '../usecases/device/machineReports.ts';
import { type RunRow, transitionRun } from '../usecases/run/transitionRun.ts';
import { ensurePdf } from '../usecases/output/runPdf.ts';
import { describe, forgotten } from './describeRun.ts';
import { RunRenderer } from './runRenderer.ts';

/** Looks again so often even when nothing was reported: sends that got no answer are tried again. */
const LOOK_MS = 1000;
/** Progress of a run is kept and shown so often. */
const PROGRESS_MS = 300;
/** A printer that works on nothing of the shop is asked so often what it does. */
const ASK_AGAIN_MS = 5000;

const runOnPrinter = prepared((db) =>
  db
    .select()
    .from(runs)
    .where(and(eq(runs.printerId, sql.placeholder('printerId')), inArray(runs.state, [...RUN_STATES_ON_PRINTER])))
    .prepare(),
);

const firstInLine = prepared((db) =>
  db
    .select()
    .from(runs)
    .where(and(eq(runs.printerId, sql.placeholder('printerId')), eq(runs.state, 'queued')))
    .orderBy(asc(runs.position), asc(runs.seq))
    .limit(1)
    .prepare(),
);

/** The others have nothing to be served with. */
const printersWithRuns = prepared((db) =>
  db
    .selectDistinct({ printerId: runs.printerId })
    .from(runs)
    .where(inArray(runs.state, ['queued', ...RUN_STATES_ON_PRINTER]))
    .prepare(),
);

/**
 * Feeds each printer its line of runs, one at a time. All it knows is in the database, so that it goes on after a crash:
 * a run that was sent is sent again under the same attempt, and the printer tells what became of it.
 */
export class Dispatcher {
  private readonly busy = new Set<string>();
  readonly renderer: RunRenderer;
  readonly care: CareFeeder;
  private readonly syncing = new Set<string>();
  /** Since when, or when last, printers that work on nothing of the shop were asked. */
  private readonly asked = new Map<string, number>();
  private readonly stops = new Map<string, () => void>();
  private timer: NodeJS.Timeout | undefined;
  private closed = false;
  private readonly taken = new Map<string, { readonly what: string | undefined; readonly at: number }>();
  /** Printers whose line is alive, and what each said last. */
  private readonly heard = new Map<string, MachineState>();
  /** Printers that have been heard, or whose line was found dead. */
  private readonly known = new Set<string>();
  /** What printers said while it could not be written down; the latest of each is taken when it can. */
  private readonly untaken = new Map<string, MachineState | undefined>();

  constructor(private readonly shop: Shop) {
    this.care = new CareFeeder(shop);
    this.renderer = new RunRenderer(shop, () => {
      if (!this.closed) this.look();
    });
  }

  open(): void {
    this.follow();
    this.look();
  }

  /** Listens to printers that are new, and no more to those that are gone. */
  follow(): void {
    const ids = new Set(
      this.shop.db
        .select({ id: printers.id })
        .from(printers)
        .all()
        .map(({ id }) => id),
    );
    for (const [id, stop] of this.stops) {
      if (ids.has(id)) continue;
      stop();
      this.stops.delete(id);
      this.heard.delete(id);
    }
    for (const id of ids) {
      if (this.stops.has(id)) continue;
      const listen = (state: MachineState | undefined): void => {
        this.known.add(id);
        if (state) this.heard.set(id, state);
        else this.heard.delete(id);
        if (this.untaken.has(id) || this.isNews(id, state)) this.take(id, state);
      };
      this.stops.set(id, this.shop.link.watch(id, listen));
    }
  }

  /** Writes down what a printer said. Where that fails, it is kept and written down later: nothing that was printed is forgotten. */
  private take(id: string, state: MachineState | undefined): void {
    try {
      recordPrinterState(this.shop, id, state);
      this.untaken.delete(id);
    } catch (error) {
      this.untaken.set(id, state);
      if (!this.shop.storage.noticed(error)) {
        this.shop.log.error({ err: error, printerId: id }, 'what a printer said could not be taken');
      }
      return;
    }
    if (state) this.sync(id, state);
    this.serve(id);
  }

  /** Whether something is being brought to a printer, or told to it. */
  get isBusy(): boolean {
    return this.busy.size > 0 || this.syncing.size > 0 || this.renderer.isBusy;
  }

  close(): void {
    this.closed = true;
    clearTimeout(this.timer);
    for (const stop of this.stops.values()) stop();
  }

  /** True once every printer has been heard, or is known not to answer. */
  allKnown(): boolean {
    return this.shop.db
      .select({ id: printers.id })
      .from(printers)
      .all()
      .every((printer) => this.known.has(printer.id));
  }

  /** Looks at every line, and again in a while whatever comes of it. */
  look = (): void => {
    if (this.closed) return;
    clearTimeout(this.timer);
    this.timer = setTimeout(this.look, LOOK_MS);
    try {
      for (const [id, state] of this.untaken) this.take(id, state);
      // One that stands says nothing new: it would not hear of a roll that it was not told of when it was loaded.
      for (const [id, state] of this.heard) this.sync(id, state);
      const wanted = printersWithRuns(this.shop.db).all();
      for (const id of new Set([...wanted.map(({ printerId }) => printerId), ...printersWithCare(this.shop)])) {
        this.serve(id);
        this.askAgain(id);
        this.renderFor(id);
      }
    } catch (error) {
      if (!this.shop.storage.noticed(error)) this.shop.log.error({ err: error }, 'the lines could not be looked at');
    }
  };

  /** What a printer prints from, and what it prints next, is rendered meanwhile. */
  private renderFor(printerId: string): void {
    const { db, storage } = this.shop;
    if (!storage.acceptsWork) return;
    const present = runOnPrinter(db).get({ printerId });
    if (present) this.renderer.lookAfter(present);
    const next = firstInLine(db).get({ printerId });
    if (next) this.renderer.lookAfter(next);
  }

  /**
   * A printer that is said to be at work, although nothing of the shop is on it, is asked now and then: should its last word have been
   * lost, its line would stand for ever.
   */
  private askAgain(printerId: string): void {
    const { db, link, log } = this.shop;
    const status = findPrinter(db, printerId)?.linkStatus;
    const works = (status === 'printing' || status === 'caring') && this.heard.has(printerId);
    if (!works || this.busy.has(printerId) || runOnPrinter(db).get({ printerId }) || careOnPrinter(db, printerId)) {
      this.asked.delete(printerId);
      return;
    }
    const now = performance.now();
    const last = this.asked.get(printerId);
    if (last === undefined || now - last < ASK_AGAIN_MS) {
      if (last === undefined) this.asked.set(printerId, now);
      return;
    }
    this.asked.set(printerId, now);
    link.state(printerId).then(
      (state) => {
        if (this.heard.has(printerId)) this.take(printerId, state);
      },
      (error: unknown) => {
        log.warn({ err: error, printerId }, 'the printer could not be asked what it does');
      },
    );
  }

  /** Passes a person's word to the printer that has the run. */
  async command(runId: string, command: RunCommand): Promise<void> {
    const run = findRun(this.shop.db, runId);
    if (!run) throw new Refused(404, 'no-such-run', `There is no run ${runId}.`);
    if (!RUN_STATES_ON_PRINTER.includes(run.state)) {
      throw new Refused(409, 'wrong-state', `${runName(run.number)} is ${run.state}; it is not on the printer.`, {
        state: run.state,
      });
    }
    const answer = await this.pass(run, command);
    recordRunReport(this.shop, answer);
    if (command !== 'resume' || answer.status !== 'paused') return;
    const { name } = printerOf(this.shop.db, run);
    throw new Refused(
      409,
      'still-waits',
      `${name} still waits: ${answer.reason ?? 'paused'}.`,
      { reason: answer.reason },
      'See to it at the printer, then let the run go on.',
    );
  }

  private async pass(run: RunRow, command: RunCommand): Promise<RunReport> {
    try {
      return await this.shop.link.command(run.printerId, run.id, run.attempt, command);
    } catch (error) {
      this.shop.log.warn({ err: error, run: run.id, command }, 'the printer did not take the word');
      const { name } = printerOf(this.shop.db, run);
      throw new Refused(
        503,
        'no-answer',
        `${name} does not answer, so ${runName(run.number)} can't ${command} now.`,
        undefined,
        'Try again when it does.',
      );
    }
  }

  /** A printer that only moved on a little since it was last listened to is no news: each takes a write to disk. */
  private isNews(printerId: string, state: MachineState | undefined): boolean {
    const what =
      state &&
      `${state.status} ${state.reason ?? ''} ${state.run?.runId ?? ''} ${state.run?.status ?? ''} ${state.care?.careId ?? ''} ${state.care?.status ?? ''}`;
    const last = this.taken.get(printerId);
    const now = performance.now();
    if (last?.what === what && now - (last?.at ?? 0) < PROGRESS_MS) return false;
    this.taken.set(printerId, { what, at: now });
    return true;
  }

  /** What the shop has put into a printer and the printer doesn't know of yet, after a line that was dead. */
  private sync(printerId: string, state: MachineState): void {
    if (this.syncing.has(printerId)) return;
    this.syncing.add(printerId);
    syncMedia(this.shop, printerId, state)
      .catch((error: unknown) => {
        this.shop.log.warn({ err: error, printerId }, 'the printer did not take what was loaded; it is tried again');
      })
      .finally(() => this.syncing.delete(printerId));
  }

  private serve(printerId: string): void {
    if (this.closed || this.busy.has(printerId) || !this.heard.has(printerId)) return;
    // What is on the printer comes first, then care that is due, then the line.
    const onPrinter = runOnPrinter(this.shop.db).get({ printerId });
    const caring = onPrinter ? undefined : this.care.serve(printerId);
    if (caring) {
      this.busy.add(printerId);
      caring
        .catch((error: unknown) => {
          if (this.shop.storage.noticed(error)) return;
          this.shop.log.warn({ err: error, printerId }, 'the printer did not take the care; it is tried again');
        })
        .finally(() => this.busy.delete(printerId));
      return;
    }
    const run = this.nextFor(printerId);
    if (!run) return;
    // What comes before it is in the line then, once: it is served, or given up and the run goes on.
    if (run.state === 'queued' && putCareBefore(this.shop, run)) {
      this.serve(printerId);
      return;
    }
    this.busy.add(printerId);
    this.bring(run)
      .catch((error: unknown) => {
        if (this.shop.storage.noticed(error)) return;
        this.shop.log.warn({ err: error, run: run.id }, 'the printer did not take the run; it is tried again');
      })
      .finally(() => this.busy.delete(printerId));
  }

  /** The run to bring to a printer: one that was sent and not heard of, else the first in line of a free printer. */
  private nextFor(printerId: string): RunRow | undefined {
    const onPrinter = runOnPrinter(this.shop.db).get({ printerId });
    if (onPrinter) return onPrinter.state === 'sent' || this.lost(onPrinter) ? onPrinter : undefined;
    if (careOnPrinter(this.shop.db, printerId)) return undefined;
    const printer = findPrinter(this.shop.db, printerId);
    // What can't be written down is not begun.
    if (printer?.linkStatus !== 'idle' || !this.shop.storage.acceptsWork) return undefined;
    const first = firstInLine(this.shop.db).get({ printerId });
    return first && (this.ready(first) ?? this.aheadOf(first));
  }

  /** With nobody there in a time away, the first run of a line that needs no hand goes before those that do. */
  private aheadOf(first: RunRow): RunRow | undefined {
    const { db, clock } = this.shop;
    const away = armedAway(db);
    if (!away || clock.now() < away.fromMs || clock.now() >= away.toMs || isAttended(this.shop)) return undefined;
    for (const run of queuedLine(db, first.printerId)) {
      const answer = startAnswer(this.shop, run);
      if (answer.ok) return this.ready(run);
      // What waits for its own time keeps its place; a printer that stands does so for all.
      if (!needsHand(answer.trouble)) return undefined;
    }
    return undefined;
  }

  /** A run that may be sent now, with the spool that it is printed from. */
  private ready(first: RunRow): RunRow | undefined {
    const answer = startAnswer(this.shop, first);
    if (!answer.ok) return undefined;
    // Of several spools of its stock it may be another than was planned.
    return answer.spool && answer.spool.id !== first.spoolId ? { ...first, spoolId: answer.spool.id } : first;
  }

  /** A run that should be printing while its printer says it is free. */
  private lost(run: RunRow): boolean {
    const printer = findPrinter(this.shop.db, run.printerId);
    return printer?.linkStatus === 'idle';
  }

  private async bring(run: RunRow): Promise<void> {
    const { shop } = this;
    if (run.state === 'printing' || run.state === 'paused') {
      const report = await shop.link.report(run.printerId, run.id, run.attempt);
      recordRunReport(shop, report ?? forgotten(run, shop.clock.now()));
      return;
    }
    const fired = run.state === 'sent' ? await this.renderer.sentDots(run) : await this.renderer.dotsFor(run);
    // It is being rendered: the line is looked at again when there is news of it.
    if (fired === undefined) return;
    const pdf = await ensurePdf(shop, run.id, { priority: 'the shop waits' });
    const sent = run.state === 'sent' ? run : this.send(run, fired?.rendering ?? null);
    if (!sent) return;
    const report = await shop.link.send(sent.printerId, sent.id, sent.attempt, {
      ...describe(shop, sent, pdf),
      ...(fired && { dots: fired.dots }),
    });
    recordRunReport(shop, report);
  }

  /**
   * Gives a run its attempt. Making its file took a while: what allowed it then is asked again in the same transaction, so that
   * media that was taken out meanwhile, or a line in another order, holds it back.
   */
  private send(run: RunRow, sentRendering: string | null): RunRow | undefined {
    const { shop } = this;
    return transact(shop, (work) => {
      const now = this.nextFor(run.printerId);
      if (now?.id !== run.id || now.state !== 'queued') return undefined;
      const moved = transitionRun(work, run.id, 'send', {
        attempt: now.attempt + 1,
        spoolId: now.spoolId,
        reportSeq: 0,
        sentRendering,
      });
      work.note({
        kind: 'run.sent',
        subject: ['run', run.id],
        actor: PROGRAM,
        data: { run: run.number, printer: printerOf(work.tx, run).name },
      });
      return moved;
    });
  }
}

/** Whether a run waits for a person at all: for hands, for somebody there, or for a front that does. */
function needsHand({ code, hand }: StartTrouble): boolean {
  return code !== 'off' && code !== 'fault' && (hand || code === 'nobody' || code === 'front');
}
