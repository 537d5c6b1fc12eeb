import Piscina from 'piscina';
import type { Batch } from '../../core/layout/arrange/batches.ts';
import type { OrderAnswer } from '../../core/schedule/proposeOrder.ts';
import type { NestLayout } from '../../core/layout/nestLayout.ts';
import type { NestInput } from '../../core/layout/nestInput.ts';
import type { Limits } from '../limits.ts';
import type { FileFormat } from '../../core/ticket/fileFormat.ts';
import type { AssemblyInput } from '../render/out/assemblyMap.ts';
import type { JobSheetInput } from '../render/out/jobSheet.ts';
import type { LayPdfInput } from '../render/out/layPdf.ts';
import type { Appearance } from '../render/picture/pictures.ts';
import type { PictureSize } from '../render/picture/pictureSizes.ts';
import type { WorksheetAnswer, WorksheetInput } from '../render/out/worksheet.ts';
import type { RunPictureInput } from '../render/out/runPicture.ts';
import type { BatchOrder, LayAnswer, LineOrders, FirstLookAnswer, Task } from './tasks.ts';

export interface NestOrder {
  readonly input: NestInput;
  readonly seed: number;
  readonly stepBudget: number;
  readonly timeLimitMs: number;
}

/** Heavy work, off the server's own thread. A task that runs out of time or memory loses its thread, not the server. */
export class RenderPool {
  private readonly pool: Piscina;
  private readonly urgent: Piscina;
  private readonly drawing = new Map<string, Promise<void>>();
  private readonly loaded: Promise<unknown>;

  constructor(
    workerFile: string,
    private readonly root: string,
    private readonly limits: Limits,
    threads: number,
  ) {
    const common = {
      filename: workerFile,
      resourceLimits: { maxOldGenerationSizeMb: limits.taskMemoryMb },
      recordTiming: false,
    };
    this.pool = new Piscina({ ...common, minThreads: 1, maxThreads: threads, idleTimeout: 30_000 });
    // A person waits for these: they never queue behind a thousand arriving files.
    this.urgent = new Piscina({ ...common, minThreads: 0, maxThreads: 1, idleTimeout: 10_000 });
    this.loaded = this.ask(this.pool, { kind: 'ready' }).catch(() => undefined);
  }

  take(path: string): Promise<FirstLookAnswer> {
    return this.ask<FirstLookAnswer>(this.pool, { kind: 'take', path, root: this.root, limits: this.limits });
  }

  /** A picture that several places of a page ask for at once is drawn once. */
  draw(
    sha256: string,
    page: number,
    size: PictureSize,
    format: FileFormat,
    appearance: Appearance | undefined,
  ): Promise<void> {
    const key = `${sha256}/${page}/${size}/${appearance?.key ?? ''}`;
    const under = this.drawing.get(key);
    if (under) return under;
    const task: Task = { kind: 'draw', sha256, page, size, format, appearance, root: this.root, limits: this.limits };
    const drawn = this.ask<undefined>(this.urgent, task).finally(() => this.drawing.delete(key));
    this.drawing.set(key, drawn);
    return drawn;
  }

  lay(input: LayPdfInput): Promise<LayAnswer> {
    return this.ask<LayAnswer>(this.urgent, { kind: 'lay', root: this.root, limits: this.limits, input });
  }

  sheet(input: JobSheetInput): Promise<Uint8Array> {
    return this.ask<Uint8Array>(this.urgent, { kind: 'sheet', input });
  }

  worksheet(input: WorksheetInput): Promise<WorksheetAnswer> {
    return this.ask<WorksheetAnswer>(this.urgent, { kind: 'worksheet', input });
  }

  runPicture(input: RunPictureInput): Promise<Uint8Array> {
    return this.ask<Uint8Array>(this.urgent, { kind: 'run picture', input });
  }

  batches(order: BatchOrder): Promise<Batch[]> {
    return this.ask<Batch[]>(this.urgent, { kind: 'batches', ...order });
  }

  orders(order: LineOrders): Promise<OrderAnswer[]> {
    return this.ask<OrderAnswer[]>(this.urgent, { kind: 'orders', ...order });
  }

  assembly(input: AssemblyInput): Promise<Uint8Array> {
    return this.ask<Uint8Array>(this.urgent, { kind: 'assembly', input });
  }

  nest(order: NestOrder): Promise<NestLayout> {
    return this.ask<NestLayout>(this.urgent, { kind: 'nest', ...order });
  }

  async close(): Promise<void> {
    // A thread that is ended while it still loads its modules takes the whole process down.
    await this.loaded;
    await Promise.all([this.pool.destroy(), this.urgent.destroy()]);
  }

  private async ask<T>(pool: Piscina, task: Task): Promise<T> {
    return (await pool.run(task, { signal: AbortSignal.timeout(this.limits.taskMs) })) as T;
  }
}
