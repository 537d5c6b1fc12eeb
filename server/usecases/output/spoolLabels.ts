import { mediaText } from '../../../core/stock/mediaText.ts';
import type { RunHow } from '../../ports/work.ts';
import { tz } from '@date-fns/tz';
import { format } from 'date-fns';
import { spoolViews } from '../../db/printerViews.ts';
import { Refused, type Shop } from '../../shop.ts';

/** So many labels on a sheet: the size of common label sheets. */
const PLACES = { columns: 3, rows: 7 };

/** Labels to stick on spools: a code that a scanner finds them by, what it is, and what was on it when it was printed. */
export async function spoolLabels(shop: Shop, spoolIds: readonly string[], how: RunHow = {}): Promise<Uint8Array> {
  const known = new Map(spoolViews(shop.db).map((spool) => [spool.id, spool]));
  const day = format(shop.clock.now(), 'd MMM yyyy', { in: tz(shop.clock.zone) });
  const entries = spoolIds.map((id) => {
    const spool = known.get(id);
    if (!spool) throw new Refused(404, 'no-such-spool', `There is no spool ${id}.`);
    const left = mediaText(spool.leftMm, spool.sheetMm);
    return { code: id, lines: [`${spool.label}  ${spool.stockName}`, `Lot ${spool.lot}, ${left} on ${day}`] };
  });
  const answer = await shop.work.run(
    'worksheet',
    {
      title: 'Spool labels',
      places: PLACES,
      gapMm: 2,
      kind: 'qr',
      entries,
    },
    how,
  );
  if (!answer.ok) throw new Error(`a label of ${answer.entry} does not fit its place`);
  return answer.bytes;
}
