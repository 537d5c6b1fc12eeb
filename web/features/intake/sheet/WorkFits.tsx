import useSWR from 'swr';
import type { FitAnswer } from '../../../../contract/api/fit.ts';
import type { JobChange } from '../../../../contract/api/ticket.ts';
import { errorText, sendJson } from '../../../api/client.ts';
import type { Queue } from '../../../api/data.ts';
import { useShopNow } from '../../../app/shopTime.ts';
import { FitListView } from '../../../draw/FitListView.tsx';
import { Section } from '../../../ui/Sheet.tsx';

/** Who can print these jobs together, in money; chosen, they go to that printer's queue. */
export function WorkFits({
  jobIds,
  queueId,
  stockId,
  version,
  queues,
  onChange,
}: {
  readonly jobIds: readonly string[];
  /** Where all of them are now; undefined: not in one queue. */
  readonly queueId: string | undefined;
  /** The stock of all of them. */
  readonly stockId: string;
  /** Another text whenever the list has to be made anew. */
  readonly version: string;
  readonly queues: readonly Queue[];
  readonly onChange: (change: JobChange) => void;
}) {
  const now = useShopNow(20_000) ?? 0;
  const { data, error } = useSWR<FitAnswer, Error>(
    ['work-fit', ...jobIds, version],
    () => sendJson<FitAnswer>('POST', '/api/fit', { jobIds }),
    { keepPreviousData: true },
  );
  const queueOf = (printerId: string): Queue | undefined => {
    const own = queues.filter((queue) => queue.printerId === printerId);
    return own.find((queue) => queue.settings.stockId === stockId) ?? own[0];
  };
  return (
    <Section title="Fit list">
      {error && <p className="text-stop">{errorText(error)}</p>}
      {!data && !error && <p className="text-soft">Looking who can take it …</p>}
      {data && (
        <FitListView
          answer={data}
          nowMs={now}
          here={queues.find((queue) => queue.id === queueId)?.printerId ?? null}
          chooseText={(fit) => `To ${queueOf(fit.printerId)?.name ?? fit.printerName}`}
          onChoose={(fit) => {
            const queue = queueOf(fit.printerId);
            // The same work on the same stock, in the mode that the list reckoned with.
            if (queue && fit.can) onChange({ queueId: queue.id, stockId, modeId: fit.modeId });
          }}
        />
      )}
    </Section>
  );
}
