import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { type MachineMemory, emptyMemory } from './machine.ts';

interface Stored {
  readonly clean: boolean;
  readonly memory: MachineMemory;
}

/** Each machine's memory as one small file, replaced whole. */
export class MemoryFiles {
  constructor(private readonly dir: string) {
    mkdirSync(dir, { recursive: true });
  }

  /** @returns the memory, and whether the process that wrote it stopped in order */
  load(machineId: string): { memory: MachineMemory; clean: boolean } {
    const file = this.file(machineId);
    if (!existsSync(file)) return { memory: emptyMemory(), clean: true };
    const stored = JSON.parse(readFileSync(file, 'utf8')) as Stored;
    return { memory: stored.memory, clean: stored.clean };
  }

  save(machineId: string, memory: MachineMemory, clean: boolean): void {
    const file = this.file(machineId);
    writeFileSync(`${file}.part`, JSON.stringify({ clean, memory } satisfies Stored));
    renameSync(`${file}.part`, file);
  }

  private file(machineId: string): string {
    return join(this.dir, `${machineId}.json`);
  }
}
