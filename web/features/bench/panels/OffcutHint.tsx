import { loadMinorOf } from '../../../../core/spools/choosableSpool.ts';
import { offcutOffer } from '../../../../core/spools/offcutOffer.ts';
import { sendJson } from '../../../api/client.ts';
import { type Printer, type RunDetail, useSpools, useStocks } from '../../../api/data.ts';
import { useNotice } from '../../../app/notice.tsx';
import { useRunCost } from '../../../draw/CostViews.tsx';
import { moneyText } from '../../../draw/money.ts';
import { May } from '../../../people/May.tsx';
import { Button } from '../../../ui/Button.tsx';
import { alongText } from '../../../ui/text/lengths.ts';

/** An offcut of the rack that the run fits on, where that is cheaper; a queued run is given it with one click. */
export function OffcutHint({
  run,
  printer,
  needMm,
}: {
  readonly run: RunDetail;
  readonly printer: Printer;
  readonly needMm: number;
}) {
  const { data: spools = [] } = useSpools();
  const { data: stocks = [] } = useStocks();
  const { data: cost } = useRunCost(run.id, `${String(run.version)} ${run.state}`);
  const { tell } = useNotice();
  const stock = stocks.find(({ id }) => id === run.stockId);
  const own = spools.filter(({ stockId }) => stockId === run.stockId);
  const asked = { printerId: printer.id, leastWidthMm: run.byHand ? 0 : run.mediaWidthMm, needMm };
  const offer = stock && offcutOffer(own, asked, stock, () => loadMinorOf(printer.config));
  if (!offer || !cost || run.meantSpoolId === offer.spoolId) return null;
  return (
    <p className="mt-1 flex flex-wrap items-center gap-x-2 text-go">
      It fits on the offcut {offer.label} and saves {moneyText(offer.savedMinor, cost.currency)};{' '}
      {alongText(offer.leftMm)} would be left.
      {run.state === 'queued' && (
        <May right="coordinate">
          <Button
            kind="quiet"
            onClick={() => {
              const runs = [{ runId: run.id, spoolId: offer.spoolId }];
              sendJson('POST', '/api/spool-proposal', { runs, orders: [] }).catch(tell);
            }}
          >
            Take it
          </Button>
        </May>
      )}
    </p>
  );
}
