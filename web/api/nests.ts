import useSWRImmutable from 'swr/immutable';
import type { RunNestView } from '../../contract/api/run.ts';
import { getJson } from './client.ts';
import type { RunItem } from './data.ts';

/** The server answers so many at once. */
const AT_ONCE = 60;
/** Bars that come into sight together are asked for together. */
const GATHER_MS = 15;

interface Waiting {
  readonly done: (nest: RunNestView) => void;
  readonly failed: (error: unknown) => void;
}

let waiting = new Map<string, Waiting[]>();

function nestOf(runId: string): Promise<RunNestView> {
  return new Promise((done, failed) => {
    if (waiting.size === 0) {
      setTimeout(() => {
        const taken = waiting;
        waiting = new Map();
        const ids = [...taken.keys()];
        for (let from = 0; from < ids.length; from += AT_ONCE) void ask(ids.slice(from, from + AT_ONCE), taken);
      }, GATHER_MS);
    }
    waiting.set(runId, [...(waiting.get(runId) ?? []), { done, failed }]);
  });
}

/** Asks for many nests at once and hands each to whoever waits for it; one that is not there fails alone. */
async function ask(ids: readonly string[], of: ReadonlyMap<string, readonly Waiting[]>): Promise<void> {
  try {
    const nests = new Map(
      (await getJson<RunNestView[]>(`/api/run-nests?ids=${ids.join(',')}`)).map((nest) => [nest.runId, nest]),
    );
    for (const id of ids) {
      const nest = nests.get(id);
      for (const each of of.get(id) ?? []) {
        if (nest) each.done(nest);
        else each.failed(new Error(`there is no run ${id}`));
      }
    }
  } catch (error) {
    for (const id of ids) for (const each of of.get(id) ?? []) each.failed(error);
  }
}

/** How a run lies. A layout that is queued stays as it is, so it is read once for each length and number of pieces. */
export function useNestOf({ id, lengthMm, pieceCount }: RunItem): RunNestView | undefined {
  const key = ['nest', id, lengthMm, pieceCount] as const;
  return useSWRImmutable<RunNestView, Error>(key, () => nestOf(id)).data;
}
