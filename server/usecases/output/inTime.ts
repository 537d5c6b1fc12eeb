import { TaskStopped } from '../../ports/work.ts';
import { Refused, type Shop } from '../../shop.ts';

/**
 * What a task makes of artwork, which may be too large for the time that a task has.
 * @param what takes too long, as a sentence begins
 * @throws Refused where it does, with the way out
 */
export async function inTime<T>(shop: Pick<Shop, 'limits'>, what: string, task: Promise<T>): Promise<T> {
  try {
    return await task;
  } catch (error) {
    if (!(error instanceof TaskStopped) || error.why !== 'time') throw error;
    const seconds = shop.limits.taskMs / 1000;
    throw new Refused(
      422,
      'no-rendering',
      `${what} takes longer than ${String(seconds)} s.`,
      { seconds },
      'Make its pictures smaller.',
    );
  }
}
