import { type InkTable, LANES } from '../../../core/coats/inkTable.ts';
import { Arena, type KernelExports, STEP_BYTES, edgesOf, kernelsOver, stepsOf } from './kernelModule.ts';

/** Reads tables at many pixels, by the kernel: what the reference in `core/coats/inkTable.ts` does one by one. */
export class TableReader {
  private readonly memory: WebAssembly.Memory;
  private readonly kernels: KernelExports;
  private readonly at: Readonly<Record<'table' | 'steps' | 'rgba' | 'lanes', number>>;

  /**
   * @param nodes along each side of the tables
   * @param mostPixels that are read at once
   */
  constructor(
    readonly nodes: number,
    readonly mostPixels: number,
  ) {
    const arena = new Arena();
    this.at = {
      // With the plane of padding behind the end, and a little of the one behind it.
      table: arena.take((nodes ** 3 + nodes ** 2 + nodes + 1) * LANES * 2),
      steps: arena.take(STEP_BYTES),
      rgba: arena.take(mostPixels * 4),
      lanes: arena.take(mostPixels * LANES),
    };
    this.memory = arena.memory();
    this.kernels = kernelsOver(this.memory);
    new Int32Array(this.memory.buffer, this.at.steps, STEP_BYTES / 4).set(stepsOf(nodes));
  }

  /**
   * @param rgba interleaved, 8 bits each, alpha not multiplied in
   * @returns {@link LANES} lanes a pixel, 0 … 255, alpha multiplied in; they hold until the next call
   */
  read({ nodes, values }: InkTable, rgba: Uint8Array): Uint8Array {
    const { buffer } = this.memory;
    const count = rgba.length / 4;
    if (nodes !== this.nodes || count > this.mostPixels) throw new RangeError('a table or a picture that does not fit');
    new Int16Array(buffer, this.at.table, values.length).set(values);
    new Uint8Array(buffer, this.at.rgba, rgba.length).set(rgba);
    this.kernels.convert(this.at.rgba, count, this.at.table, this.at.steps, ...edgesOf(nodes), this.at.lanes, 0);
    return new Uint8Array(buffer, this.at.lanes, count * LANES);
  }
}
