import { X } from 'lucide-react';
import { sendJson } from '../../api/client.ts';
import { useQueues, useRefusals } from '../../api/data.ts';
import { useNotice } from '../../app/notice.tsx';
import { StateShape } from '../../draw/StateShape.tsx';
import { May } from '../../people/May.tsx';

const SHOWN = 3;

/** Files that could not become jobs: what is wrong, and where they lie now. */
export function Refusals() {
  const { data: refusals } = useRefusals();
  const { data: queues } = useQueues();
  const { tell } = useNotice();
  if (!refusals || refusals.length === 0) return null;
  const dismiss = (ids: readonly string[]): void => {
    Promise.all(ids.map((id) => sendJson('POST', `/api/refusals/${id}/dismiss`))).catch(tell);
  };
  return (
    <section aria-label="Refused files" className="border-b border-rule bg-stop/5 px-5 py-2">
      <ul>
        {refusals.slice(0, SHOWN).map((refusal) => (
          <li key={refusal.id} className="flex items-center gap-2 py-0.5">
            <span className="text-stop">
              <StateShape shape="fault" />
            </span>
            <span className="shrink-0 font-medium">{refusal.sourceName}</span>
            <span className="min-w-0 flex-1 truncate" title={`${refusal.reason} It lies in ${refusal.sidePath}`}>
              {refusal.reason}{' '}
              <span className="text-soft">
                {queues?.find((queue) => queue.id === refusal.queueId)?.name}; kept in {refusal.sidePath}
              </span>
            </span>
            <May right="coordinate">
              <button
                type="button"
                aria-label={`Put ${refusal.sourceName} away`}
                onClick={() => {
                  dismiss([refusal.id]);
                }}
                className="text-soft hover:text-ink"
              >
                <X size={16} />
              </button>
            </May>
          </li>
        ))}
      </ul>
      {refusals.length > SHOWN && (
        <p className="mt-1 text-soft">
          and {refusals.length - SHOWN} more.{' '}
          <May right="coordinate">
            <button
              type="button"
              className="text-tide underline"
              onClick={() => {
                dismiss(refusals.map((refusal) => refusal.id));
              }}
            >
              Put all away
            </button>
          </May>
        </p>
      )}
    </section>
  );
}
