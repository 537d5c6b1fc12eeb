import { alongText } from '../../ui/text/lengths.ts';
import { number } from '../../ui/text/number.ts';
import { useState } from 'react';
import useSWR from 'swr';
import type { OrderProposal } from '../../../contract/api/fit.ts';
import { errorText, getJson, sendJson } from '../../api/client.ts';
import { useNotice } from '../../app/notice.tsx';
import { durationText } from '../../../core/units/durationText.ts';
import { clockText, useZone } from '../../app/shopTime.ts';
import { Button } from '../../ui/Button.tsx';
import { type Column, DataTable } from '../../ui/DataTable.tsx';
import { Section, Sheet } from '../../ui/Sheet.tsx';
import type { FloorLine } from './useFloor.ts';
import { May, useMay } from '../../people/May.tsx';

/** A better order for each line beside today's; taken line by line or all at once. */
export function OrderSheet({
  lines,
  nowMs,
  onClose,
}: {
  readonly lines: readonly FloorLine[];
  readonly nowMs: number;
  readonly onClose: () => void;
}) {
  // Asked once each time that the sheet is opened, or again by hand.
  const [asked, setAsked] = useState(0);
  const { data, error, isLoading } = useSWR<OrderProposal[], Error>(['orders', asked], () =>
    getJson<OrderProposal[]>('/api/order-proposals'),
  );
  const { tell } = useNotice();
  const mayOrder = useMay('coordinate');
  const [taken, setTaken] = useState<ReadonlySet<string>>(new Set());
  const better = (data ?? []).filter((each) => isBetter(each) && !taken.has(each.printerId));
  const take = async (proposals: readonly OrderProposal[]): Promise<void> => {
    for (const { printerId, order } of proposals) {
      try {
        await sendJson('PUT', `/api/printers/${printerId}/line`, { runIds: order });
        setTaken((old) => new Set([...old, printerId]));
      } catch (problem) {
        tell(problem);
        return;
      }
    }
  };
  return (
    <Sheet
      title="Proposed order"
      under={<p className="text-soft">Fewer change-overs within due dates, unattended hours and fixed starts.</p>}
      onClose={onClose}
      wide
    >
      {isLoading && <p className="text-soft">Working it out …</p>}
      {error && (
        <p className="text-stop" role="alert">
          {errorText(error)}
        </p>
      )}
      {data && better.length === 0 && (
        <p className="mb-3 text-soft">
          {data.length === 0 ? 'No line has two runs to put in order.' : 'No better order than today’s was found.'}
        </p>
      )}
      {better.map((proposal) => {
        const floorLine = lines.find(({ printer }) => printer.id === proposal.printerId);
        return floorLine ? (
          <ProposedLine
            key={proposal.printerId}
            proposal={proposal}
            floorLine={floorLine}
            nowMs={nowMs}
            onTake={() => void take([proposal])}
          />
        ) : null;
      })}
      <div className="flex gap-2">
        {better.length > 1 && mayOrder && (
          <Button kind="main" onClick={() => void take(better)}>
            Take all {better.length}
          </Button>
        )}
        <Button
          onClick={() => {
            setTaken(new Set());
            setAsked((n) => n + 1);
          }}
        >
          Propose again
        </Button>
      </div>
    </Sheet>
  );
}

function isBetter({ today, proposed }: OrderProposal): boolean {
  return proposed.totalMinor < today.totalMinor - 0.5;
}

type OrderRow = readonly [label: string, today: string, proposed: string];

const ORDER: readonly Column<OrderRow>[] = [
  { id: 'what', title: '', className: 'text-soft', cell: ([label]) => label },
  { id: 'today', title: 'today', right: true, cell: ([, today]) => today },
  {
    id: 'proposed',
    title: 'proposed',
    right: true,
    cell: ([, today, proposed]) => <span className={today === proposed ? '' : 'font-semibold'}>{proposed}</span>,
  },
];

function ProposedLine({
  proposal,
  floorLine: { printer, runs },
  nowMs,
  onTake,
}: {
  readonly proposal: OrderProposal;
  readonly floorLine: FloorLine;
  readonly nowMs: number;
  readonly onTake: () => void;
}) {
  const zone = useZone();
  const { today, proposed } = proposal;
  const name = (id: string): string => runs.find((run) => run.id === id)?.name ?? id;
  const lengthMm = runs.filter((run) => run.state === 'queued').reduce((sum, run) => sum + run.lengthMm, 0);
  const rows: readonly OrderRow[] = [
    ['Late, by its price', number(today.lateMinor / 100, 2), number(proposed.lateMinor / 100, 2)],
    ['Change-over', `${number(today.changeOverMin)} min`, `${number(proposed.changeOverMin)} min`],
    ['Done', clockText(today.freeMs, nowMs, zone), clockText(proposed.freeMs, nowMs, zone)],
    ['Takes', durationText(today.freeMs - nowMs), durationText(proposed.freeMs - nowMs)],
    ['Media', alongText(lengthMm), alongText(lengthMm)],
  ];
  return (
    <Section
      title={printer.name}
      aside={
        <May right="coordinate">
          <Button onClick={onTake}>Take this order</Button>
        </May>
      }
    >
      <DataTable label={`${printer.name}, today and proposed`} columns={ORDER} rows={rows} rowId={([label]) => label} />
      <ol className="dense mt-2 flex flex-wrap gap-x-1.5 text-soft">
        {proposal.order.map((id, i) => (
          <li key={id}>
            {name(id)}
            {i < proposal.order.length - 1 ? ' →' : ''}
          </li>
        ))}
      </ol>
    </Section>
  );
}
