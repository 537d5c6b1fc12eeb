import { setPriority } from 'node:os';
import type { WorkerTask } from './kinds.ts';
import { runTask } from './runTask.ts';

// On Linux this reaches the calling thread only: the server's own thread goes first whenever both want the processor.
try {
  setPriority(0, 4);
} catch {
  // Not allowed here; the work is the same, only less polite.
}

// The pool calls the module's default export; every other module of the project exports by name.
export default (task: WorkerTask): Promise<unknown> => runTask(task);
