import { LANES, stepOf } from '../../../core/coats/inkTable.ts';
import { INK_KERNELS } from './inkKernels.ts';

/** What the kernels can do; `kernels/inks.ts` says what each takes. All numbers are places in their memory, or counts. */
export interface KernelExports {
  convert(
    src: number,
    count: number,
    table: number,
    steps: number,
    e0: number,
    e1: number,
    e2: number,
    out: number,
    over: number,
  ): void;
  between(above: number, below: number, share: number, count: number, out: number): void;
  enlarge(row: number, steps: number, count: number, out: number): void;
  diffuse(
    inks: number,
    words: number,
    back: number,
    errors: number,
    maskRow: number,
    screen: number,
    out: number,
    plane: number,
    counts: number,
    cells: number,
  ): void;
  ordered(
    inks: number,
    words: number,
    maskRow: number,
    screen: number,
    out: number,
    plane: number,
    counts: number,
    cells: number,
  ): void;
}

const PAGE_BYTES = 65_536;
export const VECTOR_BYTES = 16;
/** Bytes of a node: two for each lane. */
const NODE_BYTES = LANES * 2;
/** Bytes of what {@link stepsOf} gives. */
export const STEP_BYTES = 3 * 256 * 8;

/** Gives out memory piece by piece, each at a whole vector. */
export class Arena {
  private next = 1024;

  take(bytes: number): number {
    const at = this.next;
    this.next = Math.ceil((at + bytes) / VECTOR_BYTES) * VECTOR_BYTES;
    return at;
  }

  /** Memory that holds all that was given out, for kernels of its own. */
  memory(): WebAssembly.Memory {
    return new WebAssembly.Memory({ initial: Math.ceil(this.next / PAGE_BYTES), maximum: 4096 });
  }
}

let compiled: WebAssembly.Module | undefined;

export function kernelsOver(memory: WebAssembly.Memory): KernelExports {
  compiled ??= new WebAssembly.Module(Buffer.from(INK_KERNELS, 'base64'));
  const { exports } = new WebAssembly.Instance(compiled, {
    env: {
      memory,
      abort: () => {
        throw new Error('a kernel gave up');
      },
    },
  });
  return exports as unknown as KernelExports;
}

/** Bytes from a node to the next along red, green and blue. */
export function edgesOf(nodes: number): readonly [number, number, number] {
  return [nodes * nodes * NODE_BYTES, nodes * NODE_BYTES, NODE_BYTES];
}

/** Of each axis and each value of 8 bits: the place of the lower node, and the share of the way to the next. */
export function stepsOf(nodes: number): Int32Array {
  const steps = new Int32Array(STEP_BYTES / 4);
  edgesOf(nodes).forEach((edge, axis) => {
    for (let value = 0; value < 256; value += 1) {
      const { node, fraction } = stepOf(value, nodes);
      steps[(axis * 256 + value) * 2] = node * edge;
      steps[(axis * 256 + value) * 2 + 1] = fraction;
    }
  });
  return steps;
}
