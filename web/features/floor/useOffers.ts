import useSWR from 'swr';
import type { RunOffer } from '../../../contract/api/fit.ts';
import { isStopped } from '../../../core/flow/stopped.ts';
import { getJson } from '../../api/client.ts';
import type { FloorLine } from './useFloor.ts';

const AGAIN_MS = 30_000;

/** What printers that stand could give to others, by printer; renewed with their lines. */
export function useOffers(lines: readonly FloorLine[]): ReadonlyMap<string, readonly RunOffer[]> {
  const standing = lines.filter(
    // One whose heads can't print its next run stands as well.
    ({ printer: { state, reason, held } }) => isStopped(state, reason) || held?.code === 'heads',
  );
  const key = standing.map(({ printer, runs }) => {
    const open = runs.filter(({ state }) => state === 'queued' || state === 'failed').map(({ id }) => id);
    return [printer.id, ...open].join(' ');
  });
  // A rest that was taken up is a run more somewhere.
  const everywhere = lines.reduce((sum, { runs }) => sum + runs.length, 0);
  const { data } = useSWR<ReadonlyMap<string, readonly RunOffer[]>, Error>(
    key.length === 0 ? null : ['offers', everywhere, ...key],
    async () =>
      new Map(
        await Promise.all(
          standing.map(
            async ({ printer: { id } }) => [id, await getJson<RunOffer[]>(`/api/printers/${id}/offers`)] as const,
          ),
        ),
      ),
    { refreshInterval: AGAIN_MS, keepPreviousData: true },
  );
  return (key.length > 0 && data) || NONE;
}

const NONE: ReadonlyMap<string, readonly RunOffer[]> = new Map();
