import type { MachineAbout } from '../contract/machine/about.ts';
import type { CareOrder, CareReport, FaultKind } from '../contract/machine/protocol.ts';
import type { Deviation } from '../core/machine/deviation.ts';
import { careReport, fedShare } from './careWork.ts';
import type { HeadWear } from './headWear.ts';
import type { CareWork, MachineMemory } from './memory.ts';

/** Ended care is remembered so that a late question still gets its answer. */
const REMEMBERED = 500;

/** What care needs of the machine that does it. */
interface CaringMachine {
  readonly memory: MachineMemory;
  readonly heads: HeadWear;
  readonly deviation: Deviation;
  readonly about: MachineAbout | undefined;
  readonly now: () => number;
  /** Whether something else is on it, or a fault stands. */
  readonly isTaken: () => boolean;
  /** Takes media and ink. */
  readonly draw: (sourceId: string | null, fedMm: number, firedMl: Readonly<Record<string, number>>) => void;
  /** What chance brings in so much time. */
  readonly chance: (elapsedMs: number) => FaultKind | undefined;
  readonly strike: (kind: FaultKind) => void;
  readonly changed: () => void;
}

/** The care of one simulated printer: accepted once by id and attempt, done in shop time, ended by a fault. */
export class MachineCare {
  constructor(private readonly machine: CaringMachine) {}

  report(careId: string, attempt: number): CareReport | undefined {
    const { care, cared, seq } = this.machine.memory;
    if (care?.careId === careId && care.attempt === attempt) return careReport(care, seq);
    return cared[key(careId, attempt)];
  }

  /** What it does, or did last. */
  latest(): CareReport | null {
    const { care, cared, seq } = this.machine.memory;
    return care ? careReport(care, seq) : (Object.values(cared).at(-1) ?? null);
  }

  /** @returns undefined while something else is on the machine or a fault stands */
  accept(careId: string, attempt: number, order: CareOrder): CareReport | undefined {
    const known = this.report(careId, attempt);
    if (known) return known;
    if (this.machine.isTaken()) return undefined;
    const { speed, ink } = this.machine.deviation;
    const care: CareWork = {
      careId,
      attempt,
      order: {
        ...order,
        durationMs: order.durationMs * speed,
        inkMl: Object.fromEntries(Object.entries(order.inkMl).map(([channel, ml]) => [channel, ml * ink])),
      },
      startedMs: this.machine.now(),
      doneMs: 0,
    };
    this.machine.memory.care = care;
    this.machine.changed();
    return careReport(care, this.machine.memory.seq);
  }

  cancel(careId: string, attempt: number): CareReport | undefined {
    const { care } = this.machine.memory;
    if (care?.careId !== careId || care.attempt !== attempt) return this.report(careId, attempt);
    return this.end('cancelled', 'cancelled');
  }

  /** Ends what is under way, if anything is. */
  end(status: 'done' | 'failed' | 'cancelled', reason: string | null): CareReport | undefined {
    const { machine } = this;
    const { care } = machine.memory;
    if (!care) return undefined;
    const report: CareReport = {
      ...careReport(care, machine.memory.seq + 1),
      status,
      reason,
      msLeft: 0,
      endedMs: machine.now(),
    };
    const told: CareReport = status === 'done' ? { ...report, ...this.done(care.order) } : report;
    const ended = Object.entries({ ...machine.memory.cared, [key(care.careId, care.attempt)]: told });
    machine.memory.cared = Object.fromEntries(ended.slice(-REMEMBERED));
    machine.memory.care = null;
    machine.changed();
    return told;
  }

  /** What care leaves behind. @returns what it shows, where the device looks at it itself */
  private done(order: CareOrder): Pick<CareReport, 'nozzles' | 'measuredMm'> {
    const { heads, memory, now, about } = this.machine;
    heads.cared(order, now());
    if (order.kind === 'feed') {
      const measuredMm = Math.round((order.feedMm ?? 0) * this.machine.deviation.feed * 100) / 100;
      memory.printedFeedMm = measuredMm;
      return about?.readsChecks === true ? { measuredMm } : {};
    }
    if (order.kind !== 'check') return {};
    const ids = (about?.channels ?? []).map(({ id }) => id).filter((id) => order.checks?.includes(id) ?? true);
    const shown = Object.fromEntries(ids.map((id) => [id, heads.faults(id)]));
    memory.printedCheck = shown;
    if (about?.readsChecks !== true) return {};
    const nozzles = Object.fromEntries(
      Object.entries(shown).map(([id, { missing, weak, crooked }]) => [
        id,
        { missing: [...missing], weak: [...weak], crooked: [...crooked] },
      ]),
    );
    return { nozzles };
  }

  /** Lets it go on: ink, media and time are used as it gets on. @returns what was fired (ml) */
  tick(elapsedMs: number): Record<string, number> {
    const { machine } = this;
    const { care } = machine.memory;
    if (!care) return {};
    const before = fedShare(care);
    care.doneMs += elapsedMs;
    const share = fedShare(care) - before;
    const { order } = care;
    const fired = Object.fromEntries(Object.entries(order.inkMl).map(([channel, ml]) => [channel, ml * share]));
    machine.draw(order.sourceId, order.fedMm * share, fired);
    const source = order.sourceId === null ? undefined : machine.memory.sources[order.sourceId];
    const fault = source && source.leftMm < 0 ? 'media out' : machine.chance(elapsedMs);
    if (fault) machine.strike(fault);
    else if (care.doneMs >= order.durationMs) this.end('done', null);
    else machine.changed();
    return fired;
  }
}

function key(careId: string, attempt: number): string {
  return `${careId}/${String(attempt)}`;
}
