import { useMemo } from 'react';
import useSWR from 'swr';
import type { StockUse } from '../../../contract/api/media.ts';
import { type Outlook, outlook } from '../../../core/stock/outlook.ts';
import { getJson } from '../../api/client.ts';
import { useShopSetup, useSpools, useStocks } from '../../api/data.ts';

const AGAIN_MS = 60_000;

/**
 * How long each stock lasts at the pace of the last weeks.
 * @param queued what the queued runs will take of each (mm)
 */
export function useOutlooks(queued: ReadonlyMap<string, number>): ReadonlyMap<string, Outlook> {
  const { data: use } = useSWR<StockUse, Error>('/api/stock-use', () => getJson<StockUse>('/api/stock-use'), {
    refreshInterval: AGAIN_MS,
  });
  const { data: stocks } = useStocks();
  const { data: spools } = useSpools();
  const { data: setup } = useShopSetup();
  return useMemo(() => {
    if (!use || !stocks || !spools || !setup) return new Map<string, Outlook>();
    return new Map(
      stocks.map(({ id }) => [
        id,
        outlook({
          leftMm: spools.filter(({ stockId }) => stockId === id).reduce((sum, { leftMm }) => sum + leftMm, 0),
          queuedMm: queued.get(id) ?? 0,
          usedMm: use.uses.find(({ stockId }) => stockId === id)?.usedMm ?? 0,
          openDays: use.openDays,
          aheadDays: setup.orderAheadDays,
        }),
      ]),
    );
  }, [use, stocks, spools, setup, queued]);
}
