import useSWR from 'swr';
import type { PaceChanges } from '../../../contract/api/pace/pace.ts';
import { shopChangeWords } from '../../../core/pace/paceWords.ts';
import { getJson } from '../../api/client.ts';
import { dateText, useZone } from '../../app/shopTime.ts';
import { counted } from '../../ui/text/counted.ts';
import { number } from '../../ui/text/number.ts';

const PATH = '/api/pace/changes';

/** What is no longer as it was: runs that take longer than they did, ink beyond what pictures ask for. */
export function Changes() {
  const { data } = useSWR<PaceChanges, Error>(PATH, () => getJson<PaceChanges>(PATH), { refreshInterval: 300_000 });
  const zone = useZone();
  return (
    <section aria-label="What has changed" className="mt-4">
      <h2 className="mb-1 font-semibold">What has changed</h2>
      {!data && <p className="text-soft">Looking …</p>}
      {data?.changes.length === 0 && <p className="text-soft">Nothing that chance would not explain.</p>}
      <ul>
        {data?.changes.map(({ what, printerId, printerName, of, sinceMs, share, runs }) => (
          <li key={`${what} ${printerId} ${of}`} className="border-t border-rule py-1 first:border-0">
            <span className="font-medium">{printerName}</span> {shopChangeWords({ what, of, share }, number)}{' '}
            <span className="text-soft">
              since {dateText(sinceMs, zone)} ({counted(runs, 'run')})
            </span>
          </li>
        ))}
      </ul>
      {data && (
        <p className="dense text-soft">
          Expect one false alarm in {number(data.falseAlarmDays)} days, in which {number(data.values)} values come in.
        </p>
      )}
    </section>
  );
}
