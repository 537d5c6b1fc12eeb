import { number } from '../../../ui/text/number.ts';
import { counted } from '../../../ui/text/counted.ts';
import useSWR from 'swr';
import type { JobChange, JobsChanged } from '../../../../contract/api/ticket.ts';
import { sameValue } from '../../../../core/ticket/ticket.ts';
import { getJson, sendJson } from '../../../api/client.ts';
import type { JobDetail, JobItem, Queue } from '../../../api/data.ts';
import { useNotice } from '../../../app/notice.tsx';
import { TicketForm } from '../../../ticket/TicketForm.tsx';
import { manyTickets } from '../../../ticket/model.ts';
import { Section, Sheet } from '../../../ui/Sheet.tsx';
import { PresetRow } from './PresetRow.tsx';
import { WorkFits } from './WorkFits.tsx';
import { useSurroundings } from '../table/jobPlace.ts';
import { Select } from '../../../ui/fields/Select.tsx';

/** Tickets of more jobs than this are not all read to see where they differ; a change still goes to all of them. */
const COMPARED = 40;
/** As many as one question takes. */
const MOST_FITTED = 500;
const NO_FILE: Parameters<typeof useSurroundings>[1] = { spots: [], cutLines: [] };

/** One ticket for all chosen jobs: mixed values show as mixed, and what is set here is set in all of them. */
export function SelectionSheet({
  jobs,
  queues,
  onClose,
}: {
  readonly jobs: readonly JobItem[];
  readonly queues: readonly Queue[];
  readonly onClose: () => void;
}) {
  const { tell } = useNotice();
  const ids = jobs.map((job) => job.id);
  const compared = ids.slice(0, COMPARED);
  const { data: details, mutate } = useSWR(['tickets', ...compared], () =>
    Promise.all(compared.map((id) => getJson<JobDetail>(`/api/jobs/${id}`))),
  );
  const queueIds = new Set(jobs.map((job) => job.queueId));
  const queue = queueIds.size === 1 ? queues.find((each) => each.id === jobs[0]?.queueId) : undefined;
  const { place } = useSurroundings(queue, NO_FILE);
  const change = (values: JobChange): void => {
    sendJson<JobsChanged>('PATCH', '/api/jobs', { jobIds: ids, change: values })
      .then(({ changed, refused }) => {
        const [first] = refused;
        // What went well the wire says by itself, with its undo.
        if (first) tell(new Error(`${String(changed)} changed, ${String(refused.length)} not: ${first.reason}`));
        return mutate();
      })
      .catch(tell);
  };
  const tickets = details?.map((job) => job.ticket) ?? [];
  const [first] = tickets;
  const onePreset = tickets.every((ticket) => sameValue(ticket.preset, first?.preset));
  return (
    <Sheet wide title={counted(jobs.length, 'job')} under={<Whom jobs={jobs} />} onClose={onClose}>
      {first ? (
        <>
          <PresetRow
            preset={onePreset ? first.preset : undefined}
            changed={false}
            toSave={undefined}
            onChange={change}
          />
          <div className="mb-3 flex items-center gap-2 border-b border-rule pb-3">
            <span className="w-[92px] text-soft">Queue</span>
            <Select
              label="Queue of these jobs"
              value={queue?.id}
              choices={queues.map((each) => ({ value: each.id, text: each.name }))}
              onChange={(queueId) => {
                change({ queueId });
              }}
            />
          </div>
          <TogetherFits jobs={jobs} queueId={queue?.id} queues={queues} onChange={change} />
          <TicketForm model={manyTickets(tickets, change)} place={place} />
        </>
      ) : (
        <p className="text-soft">Reading…</p>
      )}
    </Sheet>
  );
}

/** A run takes one stock: only jobs on one stock can be compared as one piece of work. */
function TogetherFits({
  jobs,
  queueId,
  queues,
  onChange,
}: {
  readonly jobs: readonly JobItem[];
  readonly queueId: string | undefined;
  readonly queues: readonly Queue[];
  readonly onChange: (change: JobChange) => void;
}) {
  const owing = jobs.filter((job) => job.pieces.owed > 0);
  const [first] = owing;
  if (!first) return null;
  const stocks = new Set(owing.map(({ stockId }) => stockId));
  if (stocks.size > 1 || owing.length > MOST_FITTED) {
    return (
      <Section title="Fit list">
        <p className="text-soft">
          {stocks.size > 1
            ? `They are on ${number(stocks.size)} stocks, and a run takes one: choose jobs of one stock to compare printers for them.`
            : `Printers are compared for ${number(MOST_FITTED)} jobs at most.`}
        </p>
      </Section>
    );
  }
  return (
    <WorkFits
      jobIds={owing.map(({ id }) => id)}
      queueId={queueId}
      stockId={first.stockId}
      version={JSON.stringify(
        owing.map(({ queueId: own, copies, widthMm, heightMm, dueMs }) => [own, copies, widthMm, heightMm, dueMs]),
      )}
      queues={queues}
      onChange={onChange}
    />
  );
}

function Whom({ jobs }: { readonly jobs: readonly JobItem[] }) {
  return (
    <p className="dense text-soft">
      What is set here is set in all {number(jobs.length)}; nothing else is touched.
      {jobs.length > COMPARED ? ` Values shown are those of the first ${String(COMPARED)}.` : ''}
    </p>
  );
}
