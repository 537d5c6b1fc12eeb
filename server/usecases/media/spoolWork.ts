import { seededRandom } from '../../../core/random.ts';
import { type SpoolProposalAnswer, proposeSpools } from '../../../core/spools/proposeSpools.ts';
import { choosableSpool, loadMinorOf } from '../../../core/spools/choosableSpool.ts';
import { type Floor, snapshotFor } from '../plan/plannedFloor.ts';

/** The floor whose runs want spools, as plain data. */
export interface SpoolOrder {
  readonly floor: Floor;
  readonly timeLimitMs: number;
}

const MAX_STEPS = 200_000;

/** Spools for all queued runs of a floor; in a worker. */
export function spoolsFor(
  { floor, timeLimitMs }: SpoolOrder,
  clock: () => number,
  tell: (share: number) => void,
): SpoolProposalAnswer {
  const start = clock();
  const { stocks, printers, spools } = floor;
  const choosable = spools.map((spool) => choosableSpool(spool, stocks[spool.stockId]?.pricePerM2Minor ?? 0));
  return proposeSpools(
    {
      floor: snapshotFor(floor),
      spools: choosable,
      stocks: new Map(
        Object.values(stocks).map(({ id, usableMm, partDiscount, form, leaderMm }) => [
          id,
          { usableMm, partDiscount, leaderMm: form === 'roll' ? leaderMm : 0 },
        ]),
      ),
      loadMinor: (printerId) => {
        const config = printers.find(({ id }) => id === printerId)?.config;
        return config ? loadMinorOf(config) : 0;
      },
      notOn: new Map(
        printers.map(({ id, config }) => {
          const tooWide = spools.filter(({ widthMm }) => widthMm > config.widestMediaMm);
          return [id, new Set(tooWide.map((spool) => spool.id))];
        }),
      ),
      oneLotFor: new Map(floor.runs.flatMap(({ id, oneLot }) => (oneLot ? [[id, oneLot] as const] : []))),
    },
    {
      random: seededRandom(1),
      maxSteps: MAX_STEPS,
      shouldStop: () => {
        tell(Math.min(1, (clock() - start) / timeLimitMs));
        return clock() - start > timeLimitMs;
      },
    },
  );
}
