import { number } from '../../../ui/text/number.ts';
import { eventText } from '../../../ui/text/inUnits.ts';
import { useMemo } from 'react';
import { Link } from 'react-router';
import type { JobChange, TicketPartView } from '../../../../contract/api/ticket.ts';
import { presetIsChanged } from '../../../../core/ticket/ticket.ts';
import { errorText, sendJson } from '../../../api/client.ts';
import { useJob, type JobDetail, type Queue } from '../../../api/data.ts';
import { useNotice } from '../../../app/notice.tsx';
import { durationText } from '../../../../core/units/durationText.ts';
import { clockText, dayText, useShopNow, useZone } from '../../../app/shopTime.ts';
import { PriceRow } from './PriceRow.tsx';
import { JobCostView } from '../../../draw/CostViews.tsx';
import { StateWord } from '../../../draw/StateShape.tsx';
import { TicketForm } from '../../../ticket/TicketForm.tsx';
import { oneTicket } from '../../../ticket/model.ts';
import { Button } from '../../../ui/Button.tsx';
import { Row, Section, Sheet } from '../../../ui/Sheet.tsx';
import { FindingList } from './FindingList.tsx';
import { JobDrawing } from './JobDrawing.tsx';
import { PresetRow } from './PresetRow.tsx';
import { WorkFits } from './WorkFits.tsx';
import { isOver } from '../table/filter.ts';
import { useRisk } from '../table/lateness.ts';
import { mediaOf, useSurroundings } from '../table/jobPlace.ts';
import { Select } from '../../../ui/fields/Select.tsx';
import { Changeable, May, useMay } from '../../../people/May.tsx';

interface JobSheetProps {
  readonly jobId: string;
  readonly queues: readonly Queue[];
  readonly onClose: () => void;
}

/** The ticket of one job, as one scrolling sheet; every change is kept at once and can be undone on the wire. */
export function JobSheet({ jobId, queues, onClose }: JobSheetProps) {
  const { data: job, error } = useJob(jobId);
  if (error)
    return (
      <Sheet title="Ticket" onClose={onClose}>
        <p className="text-stop" role="alert">
          {errorText(error)}
        </p>
      </Sheet>
    );
  if (!job)
    return (
      <Sheet title="Ticket" onClose={onClose} wide>
        <p className="text-soft">Reading…</p>
      </Sheet>
    );
  return (
    <Sheet
      wide
      title={job.sourceName}
      under={
        <span className="flex items-center gap-4">
          <StateWord state={job.state} />
          <Link to={`/story/job/${job.id}`} className="text-tide underline">
            Story
          </Link>
        </span>
      }
      onClose={onClose}
    >
      {job.pages === null ? (
        <p className="mb-4 text-soft">
          Still arriving: {number(job.bytes / 1024)} kB so far. It is taken when it is whole.
        </p>
      ) : (
        <>
          <Lateness job={job} />
          <Ticket job={job} queues={queues} />
        </>
      )}
      <PriceRow job={job} />
      <JobCostView jobId={job.id} version={`${job.state} ${String(job.runs.length)}`} />
      <History job={job} />
      <JobActions job={job} />
    </Sheet>
  );
}

/** That it will miss its date, with how much and by what: the row in the table has room for the first only. */
function Lateness({ job }: { readonly job: JobDetail }) {
  const risk = useRisk(job, true);
  if (!risk || isOver(job)) return null;
  return (
    <p className="mb-3 text-stop">
      Will be late by {durationText(risk.lateMs)}: {risk.why}.
    </p>
  );
}

/** The ticket of the job; each change goes to the server by itself and shows at once. */
function Ticket({ job, queues }: { readonly job: JobDetail; readonly queues: readonly Queue[] }) {
  const { mutate } = useJob(job.id);
  const { tell } = useNotice();
  const queue = queues.find((each) => each.id === job.queueId);
  // A spot can be had alone where the file keeps it as a channel.
  const file = useMemo(
    () => ({
      spots: job.format === 'tiff' ? (job.nature?.spots ?? []) : [],
      cutLines: job.pageList[0]?.cutLines ?? [],
    }),
    [job.format, job.nature, job.pageList],
  );
  const { place, names } = useSurroundings(queue, file);
  const media = mediaOf(job, place.printer, place.stocks);
  const change = (values: JobChange): void => {
    sendJson<JobDetail>('PATCH', `/api/jobs/${job.id}`, values)
      .then((next) => mutate(next, { revalidate: false }))
      .catch((why: unknown) => {
        tell(why);
        void mutate();
      });
  };
  const here = job.ticket.layers['set here'] ?? {};
  const setHere = Object.keys(here).length;
  return (
    <Changeable right="coordinate" what="this ticket">
      <JobDrawing job={job} media={media} edge={place.printer?.config.registeredEdge ?? 'left'} onChange={change} />
      {job.state === 'checked' && <Accept job={job} />}
      <FindingList job={job} media={media} onChange={change} />
      <PresetRow
        preset={job.ticket.preset}
        changed={presetIsChanged(job.ticket)}
        toSave={setHere > 0 ? { ...job.ticket.layers.preset, ...savable(here) } : undefined}
        onChange={change}
      />
      <div className="mb-3 flex items-center gap-2 border-b border-rule pb-3">
        <span className="w-[92px] text-soft">Queue</span>
        <Select
          label="Queue of this job"
          value={job.queueId}
          choices={queues.map((each) => ({ value: each.id, text: each.name }))}
          onChange={(queueId) => {
            change({ queueId });
          }}
        />
        {setHere > 0 && (
          <Button
            kind="quiet"
            title="Resets every value to where it came from"
            onClick={() => {
              change({ putBack: 'all' });
            }}
          >
            Put all {setHere} back
          </Button>
        )}
      </div>
      {job.pieces.owed > 0 && (
        <WorkFits
          jobIds={[job.id]}
          queueId={job.queueId}
          stockId={job.ticket.values.stockId}
          version={JSON.stringify(job.ticket.values)}
          queues={queues}
          onChange={change}
        />
      )}
      <TicketForm
        model={oneTicket(job.ticket, names, change)}
        place={{ ...place, colourPath: `/intake/${job.id}/colour` }}
      />
      <p className="dense mb-4 text-soft">
        {[job.format?.toUpperCase(), ...(job.nature?.colourSpaces ?? []), job.nature?.profile]
          .filter(Boolean)
          .join(', ')}
        . Ticket as{' '}
        {(['jdf', 'json', 'csv'] as const).map((format, index) => (
          <span key={format}>
            {index > 0 ? ', ' : ''}
            <a className="text-tide hover:underline" href={`/api/jobs/${job.id}/ticket?format=${format}`}>
              {format.toUpperCase()}
            </a>
          </span>
        ))}
      </p>
    </Changeable>
  );
}

/** Customer, order and date belong to one job, not to a preset. */
function savable(part: TicketPartView): TicketPartView {
  const { customer: _customer, orderNo: _orderNo, dueMs: _dueMs, charges: _charges, ...rest } = part;
  return rest;
}

/** Where the queue wants a person to look first: nothing of the job is laid out before. */
function Accept({ job }: { readonly job: JobDetail }) {
  const { tell } = useNotice();
  return (
    <div className="mb-4 flex items-center justify-between gap-2 rounded border border-rule bg-paper px-3 py-2">
      <span>Waits until a person has looked at it.</span>
      <Button
        kind="main"
        onClick={() => {
          sendJson('POST', `/api/jobs/${job.id}/accept`).catch(tell);
        }}
      >
        It is fine
      </Button>
    </div>
  );
}

/** What became of the job so far, with the way back where there is one. */
function History({ job }: { readonly job: JobDetail }) {
  const now = useShopNow(20_000);
  const zone = useZone();
  const { tell } = useNotice();
  const mayUndo = useMay('coordinate');
  return (
    <Section title="History">
      {job.runs.map((run) => (
        <Row key={run.id} label={run.name}>
          <Link to={`/bench/${run.id}`} className="text-tide hover:underline">
            <StateWord state={run.state} />
          </Link>
          {' · '}
          <Link to={`/bench/${run.id}/channels`} className="text-tide hover:underline">
            channels
          </Link>
        </Row>
      ))}
      <Row label="Arrived">{dayText(job.arrivedMs, zone)}</Row>
      {job.history.map((event) => (
        <p key={event.id} className="dense flex items-baseline gap-1 py-0.5">
          <span className="text-soft">{clockText(event.atMs, now ?? event.atMs, zone)}</span>
          <span className="min-w-0 flex-1">{eventText(event)}</span>
          {mayUndo && event.undo?.path.startsWith('/api/changes/') && (
            <button
              type="button"
              className="text-tide hover:underline"
              onClick={() => {
                if (event.undo) sendJson(event.undo.method, event.undo.path, event.undo.body).catch(tell);
              }}
            >
              undo
            </button>
          )}
        </p>
      ))}
    </Section>
  );
}

/** What can be done with the job as a whole, by its state. */
function JobActions({ job }: { readonly job: JobDetail }) {
  const { tell } = useNotice();
  const act = (step: string) => () => {
    sendJson('POST', `/api/jobs/${job.id}/${step}`).catch(tell);
  };
  return (
    <div className="flex gap-2 pb-4">
      <May right="coordinate">
        {job.state === 'cancelled' && <Button onClick={act('restore')}>Restore the job</Button>}
        {(job.state === 'ready' || job.state === 'checked' || job.state === 'blocked') && (
          <Button kind="danger" onClick={act('cancel')}>
            Cancel the job
          </Button>
        )}
      </May>
      {job.pages !== null && (
        <a
          href={`/api/jobs/${job.id}/file`}
          className="inline-flex h-8 items-center rounded-md px-3 font-medium text-tide hover:bg-rule/50"
        >
          Source file
        </a>
      )}
    </div>
  );
}
