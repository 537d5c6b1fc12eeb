import { useState } from 'react';
import { Link } from 'react-router';
import type { JobChange } from '../../../contract/api/job.ts';
import { errorText, sendJson } from '../../api/client.ts';
import {
  pictureUrl,
  useJob,
  usePrinters,
  useSpools,
  type JobDetail,
  type Printer,
  type Queue,
} from '../../api/data.ts';
import { useNotice } from '../../app/notice.tsx';
import { clockText, dayText, useShopNow, useZone } from '../../app/shopTime.ts';
import { FindingSign, findingWord } from '../../draw/FindingSign.tsx';
import { StateWord } from '../../draw/StateShape.tsx';
import { Button } from '../../ui/Button.tsx';
import { number, sizeText } from '../../ui/Figure.tsx';
import { Row, Section, Sheet } from '../../ui/Sheet.tsx';
import { ChoiceField, CountField, DueField, TextField, TicketRow, YesField } from './TicketFields.tsx';

interface JobSheetProps {
  readonly jobId: string;
  readonly queues: readonly Queue[];
  readonly onClose: () => void;
}

/** The ticket of one job, as one scrolling sheet; every change is kept at once and can be undone on the wire. */
export function JobSheet({ jobId, queues, onClose }: JobSheetProps) {
  const { data: job, error, mutate } = useJob(jobId);
  const { tell } = useNotice();
  const change = (values: JobChange): void => {
    sendJson<JobDetail>('PATCH', `/api/jobs/${jobId}`, values)
      .then((next) => mutate(next, { revalidate: false }))
      .catch((why: unknown) => {
        tell(why);
        void mutate();
      });
  };
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
    <Sheet wide title={job.sourceName} under={<StateWord state={job.state} />} onClose={onClose}>
      <Pages job={job} />
      {job.findings.length > 0 && (
        <Section title="Findings">
          {job.findings.map((finding) => (
            <p key={finding.code + finding.text} className="flex gap-2 py-0.5">
              <span className="mt-0.5">
                <FindingSign severity={finding.severity} />
              </span>
              <span>
                <span className="font-medium">{findingWord(finding.severity)}:</span> {finding.text}
              </span>
            </p>
          ))}
        </Section>
      )}
      {job.pages !== null && <TicketSections job={job} queues={queues} onChange={change} />}
      <History job={job} />
      <JobActions job={job} />
    </Sheet>
  );
}

function Pages({ job }: { readonly job: JobDetail }) {
  const [page, setPage] = useState(0);
  if (job.pages === null)
    return (
      <p className="mb-4 text-soft">
        Still arriving: {number(job.bytes / 1024)} kB so far. It is taken when it is whole.
      </p>
    );
  const shown = job.pageList[page];
  return (
    <figure className="mb-4">
      <img
        src={pictureUrl(job.id, page, 'view')}
        alt={`Page ${String(page + 1)} of ${job.sourceName}`}
        className="mx-auto max-h-64 max-w-full border border-rule bg-[repeating-conic-gradient(var(--rule)_0_25%,transparent_0_50%)] bg-[length:14px_14px]"
      />
      <figcaption className="mt-2 flex items-center justify-between">
        <span>
          {shown && (
            <>
              <span className="font-medium">{sizeText(shown.widthMm, shown.heightMm)}</span>{' '}
              <span className="text-soft">
                mm{shown.bleedMm.leftMm > 0 ? `, bleed ${number(shown.bleedMm.leftMm, 1)} mm` : ''}
              </span>
            </>
          )}
        </span>
        {job.pages > 1 && (
          <span className="flex items-center gap-1">
            <Button
              kind="quiet"
              disabled={page === 0}
              onClick={() => {
                setPage(page - 1);
              }}
              aria-label="Page before"
            >
              ‹
            </Button>
            <span className="text-soft">
              page {page + 1} of {job.pages}
            </span>
            <Button
              kind="quiet"
              disabled={page === job.pages - 1}
              onClick={() => {
                setPage(page + 1);
              }}
              aria-label="Next page"
            >
              ›
            </Button>
          </span>
        )}
      </figcaption>
    </figure>
  );
}

const SPANS = ['whole bed', 'media', 'artwork'] as const;

function modeText(mode: Printer['config']['modes'][number]): string {
  return `${mode.name}, ${mode.dpiX} × ${mode.dpiY}, ${mode.passes} passes`;
}

function TicketSections({
  job,
  queues,
  onChange,
}: {
  readonly job: JobDetail;
  readonly queues: readonly Queue[];
  readonly onChange: (values: JobChange) => void;
}) {
  const { data: printers } = usePrinters();
  const { data: spools } = useSpools();
  const zone = useZone();
  const { values, origins } = job.ticket;
  const queue = queues.find((each) => each.id === job.queueId);
  const printer = printers?.find((each) => each.id === queue?.printerId);
  const mode = printer?.config.modes.find((each) => each.id === values.modeId);
  const stocks = [...new Map((spools ?? []).map((spool) => [spool.stockId, spool])).values()].filter(
    (spool) => !printer || spool.widthMm <= printer.config.widestMediaMm,
  );
  return (
    <>
      <Section title="Copies">
        <TicketRow label="Copies" origin={origins.copies}>
          <CountField
            label="Copies"
            value={values.copies}
            most={10_000}
            onChange={(copies) => {
              onChange({ copies });
            }}
          />
        </TicketRow>
        <TicketRow label="Quarter turn" origin={origins.quarterTurn}>
          <YesField
            text="allowed"
            value={values.quarterTurn}
            onChange={(quarterTurn) => {
              onChange({ quarterTurn });
            }}
          />
        </TicketRow>
      </Section>
      <Section title="Media and mode">
        <TicketRow label="Queue">
          <ChoiceField
            label="Queue of this job"
            value={job.queueId}
            choices={queues.map((each) => ({ value: each.id, text: each.name }))}
            onChange={(queueId) => {
              onChange({ queueId });
            }}
          />
        </TicketRow>
        <TicketRow label="Stock" origin={origins.stockId}>
          <ChoiceField
            label="Stock"
            value={values.stockId}
            choices={stocks.map((each) => ({ value: each.stockId, text: each.stockName }))}
            onChange={(stockId) => {
              onChange({ stockId });
            }}
          />
        </TicketRow>
        <TicketRow label="Print mode" origin={origins.modeId}>
          <ChoiceField
            label="Print mode"
            value={values.modeId}
            choices={(printer?.config.modes ?? []).map((each) => ({ value: each.id, text: modeText(each) }))}
            onChange={(modeId) => {
              onChange({ modeId });
            }}
          />
        </TicketRow>
        {mode && mode.passes !== mode.profilePasses && (
          <p className="text-stop">
            The profile {mode.profile} was made for {mode.profilePasses} passes; this mode prints {mode.passes}.
          </p>
        )}
        <TicketRow label="Carriage span" origin={origins.span}>
          <ChoiceField
            label="Carriage span"
            value={values.span}
            choices={SPANS.map((span) => ({ value: span, text: span }))}
            onChange={(value) => {
              const span = SPANS.find((each) => each === value);
              if (span) onChange({ span });
            }}
          />
        </TicketRow>
        <TicketRow label="Dry-out feed" origin={origins.dryOut}>
          <YesField
            text="on"
            value={values.dryOut}
            onChange={(dryOut) => {
              onChange({ dryOut });
            }}
          />
        </TicketRow>
        <TicketRow label="Cut off" origin={origins.cutOff}>
          <ChoiceField
            label="Cut off"
            value={values.cutOff}
            choices={[
              { value: 'none', text: 'none' },
              { value: 'full', text: 'full' },
            ]}
            onChange={(value) => {
              onChange({ cutOff: value === 'full' ? 'full' : 'none' });
            }}
          />
        </TicketRow>
      </Section>
      <Section title="Order">
        <TicketRow label="Customer" origin={origins.customer}>
          <TextField
            label="Customer"
            value={values.customer ?? ''}
            onChange={(customer) => {
              onChange({ customer: customer === '' ? null : customer });
            }}
          />
        </TicketRow>
        <TicketRow label="Order" origin={origins.orderNo}>
          <TextField
            label="Order"
            value={values.orderNo ?? ''}
            onChange={(orderNo) => {
              onChange({ orderNo: orderNo === '' ? null : orderNo });
            }}
          />
        </TicketRow>
        <TicketRow label="Due" origin={origins.dueMs}>
          <DueField
            valueMs={values.dueMs}
            zone={zone}
            onChange={(dueMs) => {
              onChange({ dueMs });
            }}
          />
        </TicketRow>
      </Section>
    </>
  );
}

function History({ job }: { readonly job: JobDetail }) {
  const now = useShopNow(20_000);
  const zone = useZone();
  return (
    <Section title="History">
      {job.runs.map((run) => (
        <Row key={run.id} label={run.name}>
          <Link to={`/bench/${run.id}`} className="text-tide hover:underline">
            <StateWord state={run.state} />
          </Link>
        </Row>
      ))}
      <Row label="Arrived">{dayText(job.arrivedMs, zone)}</Row>
      {job.history.map((event) => (
        <p key={event.id} className="dense py-0.5">
          <span className="text-soft">{clockText(event.atMs, now ?? event.atMs, zone)}</span> {event.text}
        </p>
      ))}
    </Section>
  );
}

function JobActions({ job }: { readonly job: JobDetail }) {
  const { tell } = useNotice();
  const act = (step: string) => () => {
    sendJson('POST', `/api/jobs/${job.id}/${step}`).catch(tell);
  };
  return (
    <div className="flex gap-2 pb-4">
      {job.state === 'cancelled' && <Button onClick={act('restore')}>Take back</Button>}
      {(job.state === 'ready' || job.state === 'blocked') && (
        <Button kind="danger" onClick={act('cancel')}>
          Cancel the job
        </Button>
      )}
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
