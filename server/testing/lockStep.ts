import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { NO_DEVIATION } from '../../core/machine/deviation.ts';
import type { MachineAbout } from '../../contract/machine/about.ts';
import type { MachineState } from '../../contract/machine/protocol.ts';
import { StandIn } from '../../simulators/machine.ts';
import { emptyMemory } from '../../simulators/memory.ts';
import { Dispatcher } from '../devices/dispatcher.ts';
import { endDueAway } from '../usecases/away/arm.ts';
import { putDueCare } from '../usecases/care/dueTimers.ts';
import type { TestShop } from './shopFixture.ts';

/** A device of the floor, and what is in its tanks. */
export interface LockedDevice {
  readonly about: MachineAbout;
  readonly inkMl: Readonly<Record<string, number>>;
  /** Hours that its channels have been idle for. */
  readonly idleH?: Readonly<Record<string, number>>;
}

/**
 * A shop and the stand-ins of its printers, in this process and in lock-step: shop time goes on only while nothing is under way, so that
 * what happens depends on no machine's speed. The stand-ins keep exactly to their data sheets.
 */
export class LockStep {
  readonly machines = new Map<string, StandIn>();
  readonly dispatcher: Dispatcher;
  private readonly listeners = new Map<string, (state: MachineState | undefined) => void>();
  /** Calls to printers that have not been answered. */
  private outstanding = 0;

  constructor(
    private readonly shop: TestShop,
    private readonly clock: { nowMs: number },
    devices: readonly LockedDevice[],
  ) {
    for (const { about, inkMl, idleH } of devices) {
      const memory = { ...emptyMemory(), inkMl: { ...inkMl } };
      const world = { now: () => Math.round(clock.nowMs), save: () => undefined, random: () => 0.5 };
      this.machines.set(about.id, new StandIn(about.id, memory, { ...world, about, idleH, deviation: NO_DEVIATION }));
    }
    this.connect();
    this.dispatcher = new Dispatcher(shop);
    this.dispatcher.follow();
  }

  /** Everybody says how they stand, and what follows from it happens. */
  async open(): Promise<void> {
    for (const [id, machine] of this.machines) this.listeners.get(id)?.(machine.state());
    await this.settle();
  }

  /**
   * Lets shop time go on, from one end of a run or of care to the next.
   * @param mostMs however long nothing ends: timers come due in between
   */
  async until(ms: number, mostMs: number): Promise<void> {
    // What can begin at once does.
    this.dispatcher.look();
    await this.settle();
    while (this.clock.nowMs < ms) {
      // Timers come due on the minute.
      const by = Math.min(mostMs - (this.clock.nowMs % mostMs), ms - this.clock.nowMs, this.soonestMs());
      this.clock.nowMs += by;
      for (const machine of this.machines.values()) machine.tick(by, 0);
      putDueCare(this.shop);
      endDueAway(this.shop);
      for (const [id, machine] of this.machines) this.listeners.get(id)?.(machine.state());
      this.dispatcher.look();
      await this.settle();
    }
  }

  /** When something on a printer ends next; a moment beyond it, so that it has. */
  private soonestMs(): number {
    const left = [...this.machines.values()].flatMap((machine) => {
      const { run, care, status } = machine.state();
      if (status === 'printing' && run) return [run.msLeft];
      return status === 'caring' && care ? [care.msLeft] : [];
    });
    return Math.max(BEYOND_MS, Math.min(Infinity, ...left) + BEYOND_MS);
  }

  close(): void {
    this.dispatcher.close();
  }

  /** Until no call is outstanding, nothing is being brought to a printer, and nothing follows from the last answer. */
  private async settle(): Promise<void> {
    for (let quiet = 0; quiet < QUIET; quiet += 1) {
      await new Promise((done) => setImmediate(done));
      if (this.outstanding > 0 || this.dispatcher.isBusy) quiet = 0;
    }
  }

  private connect(): void {
    const { link } = this.shop;
    const called = async <T>(act: () => T): Promise<T> => {
      this.outstanding += 1;
      try {
        await new Promise((done) => setImmediate(done));
        return act();
      } finally {
        this.outstanding -= 1;
      }
    };
    const machine = (id: string): StandIn => {
      const known = this.machines.get(id);
      if (!known) throw new Error(`there is no ${id}`);
      return known;
    };
    const answered = <T>(answer: T | undefined): T => {
      if (answer === undefined) throw new Error('the machine is busy');
      return answer;
    };
    const state = (id: string) => called(() => machine(id).state());
    Object.assign(link, {
      watch: (id: string, listener: (state: MachineState | undefined) => void) => {
        this.listeners.set(id, listener);
        return () => this.listeners.delete(id);
      },
      send: (id: string, runId: string, attempt: number, run: Parameters<StandIn['accept']>[2]) =>
        called(() => answered(machine(id).report(runId, attempt) ?? machine(id).accept(runId, attempt, run))),
      report: (id: string, runId: string, attempt: number) => called(() => machine(id).report(runId, attempt)),
      care: (id: string, careId: string, attempt: number, order: Parameters<StandIn['care']['accept']>[2]) =>
        called(() =>
          answered(machine(id).care.report(careId, attempt) ?? machine(id).care.accept(careId, attempt, order)),
        ),
      careReport: (id: string, careId: string, attempt: number) =>
        called(() => machine(id).care.report(careId, attempt)),
      load: (id: string, sourceId: string, media: Parameters<StandIn['load']>[1]) =>
        called(() => {
          machine(id).load(sourceId, media);
          return machine(id).state();
        }),
      unload: (id: string, sourceId: string) =>
        called(() => {
          machine(id).unload(sourceId);
          return machine(id).state();
        }),
      state,
    });
  }
}

/**
 * A shop whose clock a test turns, and the stand-ins of its demo beside it; PDFs of its runs are not made.
 * @param changed a device otherwise than the demo has it
 */
export async function openLockStep(
  shop: TestShop,
  clock: { nowMs: number },
  changed: (device: LockedDevice) => LockedDevice = (device) => device,
): Promise<LockStep> {
  Object.defineProperty(shop.clock, 'now', { value: () => clock.nowMs });
  shop.work.replace('run pdf', () => Promise.resolve({ sha256: 'f'.repeat(64), bytes: 1 }));
  const devices = JSON.parse(readFileSync(join(shop.paths.standIns, 'floor.json'), 'utf8')) as LockedDevice[];
  const line = new LockStep(shop, clock, devices.map(changed));
  await line.open();
  return line;
}

const BEYOND_MS = 20;
/** So often nothing may happen before everything is taken to have happened. */
const QUIET = 6;
