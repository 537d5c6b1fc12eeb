import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { CareOrder, CareReport, FaultKind, FaultOrder, RunReport } from '../contract/machine/protocol.ts';
import type { ChannelFaults } from '../core/heads/nozzleFaults.ts';
import type { ChannelWear } from '../core/machine/nozzles.ts';
import type { JobDots } from './dotsReader.ts';
import type { PressPlan, PressState } from '../core/machine/press.ts';

export interface PrintJob {
  readonly runId: string;
  readonly attempt: number;
  readonly plan: PressPlan;
  readonly inkMl: Record<string, number>;
  /** What it fires dot by dot; left out: by what is planned. */
  readonly dots?: JobDots;
  /** Missing in what an earlier version has noted: 1. */
  readonly feedFactor?: number;
  readonly sourceId: string | null;
  readonly startedMs: number;
  press: PressState;
  /** Where it stands until more is rendered: with so many rows it goes on. */
  waitsFor?: number;
  paused: string | null;
}

/** Care that is being done. */
export interface CareWork {
  readonly careId: string;
  readonly attempt: number;
  readonly order: CareOrder;
  readonly startedMs: number;
  doneMs: number;
}

export interface LoadedMedia {
  readonly tag: string;
  readonly widthMm: number;
  /** What is truly on it, which nobody else knows. */
  leftMm: number;
}

/** All that a stand-in must remember over a restart. */
export interface MachineMemory {
  seq: number;
  job: PrintJob | null;
  ended: Record<string, RunReport>;
  care: CareWork | null;
  cared: Record<string, CareReport>;
  fault: FaultKind | null;
  due: FaultOrder[];
  /** Slow until somebody looks after it. */
  slow: boolean;
  per100h: number;
  off: boolean;
  sources: Record<string, LoadedMedia>;
  /** Null until its tanks were filled once: then nothing runs out. */
  inkMl: Record<string, number> | null;
  /** In the basket or the stacker (mm). */
  collectedMm: number;
  /** What the check plot that was printed last shows, by channel. */
  printedCheck: Record<string, ChannelFaults> | null;
  /** How far the bars of its last feed check truly lie apart (mm). */
  printedFeedMm: number | null;
  /** By channel; made when it is first switched on. */
  nozzles: Record<string, ChannelWear>;
}

/** A machine that has just been unpacked. */
export function emptyMemory(): MachineMemory {
  return {
    seq: 0,
    job: null,
    ended: {},
    care: null,
    cared: {},
    fault: null,
    due: [],
    slow: false,
    per100h: 0,
    off: false,
    sources: {},
    inkMl: null,
    collectedMm: 0,
    printedCheck: null,
    printedFeedMm: null,
    nozzles: {},
  };
}

interface Stored<T> {
  readonly clean: boolean;
  readonly memory: T;
}

/** Each machine's memory as one small file, replaced whole. */
export class MemoryFiles {
  private readonly unsaved = new Map<string, object>();

  /** @param said told when notes can't be written, and when they can again */
  constructor(
    private readonly dir: string,
    private readonly said: (text: string) => void = () => undefined,
  ) {
    mkdirSync(dir, { recursive: true });
  }

  /**
   * @param empty what there is before anything was remembered
   * @returns the memory, and whether the process that wrote it stopped in order
   */
  load<T extends object>(machineId: string, empty: T): { memory: T; clean: boolean } {
    const file = this.file(machineId);
    if (!existsSync(file)) return { memory: empty, clean: true };
    const stored = JSON.parse(readFileSync(file, 'utf8')) as Stored<T>;
    // What an earlier version did not know of is as in an empty one.
    return { memory: Object.assign(empty, stored.memory), clean: stored.clean };
  }

  /**
   * Notes a memory. What can't be noted, on a full disk, is kept and noted by `saveUnsaved` later: a printer prints on
   * whether its notes can be written or not.
   */
  save(machineId: string, memory: object, clean: boolean): void {
    const file = this.file(machineId);
    try {
      writeFileSync(`${file}.part`, JSON.stringify({ clean, memory } satisfies Stored<object>));
      renameSync(`${file}.part`, file);
      if (this.unsaved.delete(machineId)) this.said(`notes of ${machineId} are written again`);
    } catch (error) {
      if (!this.unsaved.has(machineId)) {
        this.said(`notes of ${machineId} can't be written: ${error instanceof Error ? error.message : 'unknown'}`);
      }
      this.unsaved.set(machineId, memory);
    }
  }

  /** Tries again to note what could not be. */
  saveUnsaved(): void {
    for (const [machineId, memory] of [...this.unsaved]) this.save(machineId, memory, false);
  }

  private file(machineId: string): string {
    return join(this.dir, `${machineId}.json`);
  }
}
