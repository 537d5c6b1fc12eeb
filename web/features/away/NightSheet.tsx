import { useState } from 'react';
import useSWR from 'swr';
import type { NightProposal } from '../../../contract/api/away.ts';
import { errorText, sendJson } from '../../api/client.ts';
import { usePrinterName } from '../../api/data.ts';
import { useNotice } from '../../app/notice.tsx';
import { moneyText } from '../../draw/money.ts';
import { May } from '../../people/May.tsx';
import { Button } from '../../ui/Button.tsx';
import { type Column, DataTable } from '../../ui/DataTable.tsx';
import { Checkbox } from '../../ui/fields/Checkbox.tsx';
import { Select } from '../../ui/fields/Select.tsx';
import { Row, Section, Sheet } from '../../ui/Sheet.tsx';
import { counted } from '../../ui/text/counted.ts';
import { number } from '../../ui/text/number.ts';
import type { Period } from './useSimulation.ts';

const CONFIDENCES = ['0.8', '0.9', '0.95'] as const;

/** A better night beside the plan as it stands: promises first, then worth. Nothing is moved until it is taken. */
export function NightSheet({ period, onClose }: { readonly period: Period; readonly onClose: () => void }) {
  const [asked, setAsked] = useState(0);
  const [promised, setPromised] = useState<readonly string[]>([]);
  const [confidence, setConfidence] = useState<(typeof CONFIDENCES)[number]>('0.9');
  const ask = { ...period, promised, confidence: Number(confidence) };
  const { data, error, isLoading } = useSWR<NightProposal, Error>(
    ['night', JSON.stringify(ask), asked],
    () => sendJson<NightProposal>('POST', '/api/away/propose', ask),
    { keepPreviousData: true, revalidateOnFocus: false, revalidateIfStale: false },
  );
  return (
    <Sheet
      title="Proposed night"
      under={
        <p className="text-soft">What waits and what is queued, from now on, as it would be worth most by morning.</p>
      }
      onClose={onClose}
      wide
    >
      {isLoading && (
        <p className="mb-2 text-soft">Trying thousands of nights; it takes about a quarter of a minute …</p>
      )}
      {error && (
        <p className="text-stop" role="alert">
          {errorText(error)}
        </p>
      )}
      <Row label="Promises are kept with">
        <Select
          label="Confidence of promises"
          value={confidence}
          choices={CONFIDENCES.map((value) => ({ value, text: `${number(Number(value) * 100)} %` }))}
          onChange={setConfidence}
        />
      </Row>
      {data && (
        <Proposed
          proposal={data}
          busy={isLoading}
          onAgain={() => {
            setAsked((n) => n + 1);
          }}
          onTaken={onClose}
        />
      )}
      {data && <Promises proposal={data} promised={promised} onChange={setPromised} />}
    </Sheet>
  );
}

type SideRow = readonly [label: string, standing: string, proposed: string];

const SIDES: readonly Column<SideRow>[] = [
  { id: 'what', title: '', className: 'text-soft', cell: ([label]) => label },
  { id: 'standing', title: 'as it stands', right: true, cell: ([, standing]) => standing },
  {
    id: 'proposed',
    title: 'proposed',
    right: true,
    cell: ([, standing, proposed]) => <span className={standing === proposed ? '' : 'font-semibold'}>{proposed}</span>,
  },
];

function Proposed({
  proposal,
  busy,
  onAgain,
  onTaken,
}: {
  readonly proposal: NightProposal;
  readonly busy: boolean;
  readonly onAgain: () => void;
  readonly onTaken: () => void;
}) {
  const { tell } = useNotice();
  const [taking, setTaking] = useState(false);
  const { id, standing, proposed, currency, moves, isBetter, fallsShort, gainMinor, gainError, confidence } = proposal;
  const percent = (share: number | null): string => (share === null ? '–' : `${number(share * 100)} %`);
  const rows: readonly SideRow[] = [
    ['Runs', number(standing.runs), number(proposed.runs)],
    ['Pieces', number(standing.pieces), number(proposed.pieces)],
    ['Metres', number(standing.metres, 1), number(proposed.metres, 1)],
    ['Worth', moneyText(standing.worthMinor, currency), moneyText(proposed.worthMinor, currency)],
    ['Promises kept', percent(standing.promised), percent(proposed.promised)],
    ['With a date, not printed', number(standing.late), number(proposed.late)],
    ['Purges, skipped', purgesText(standing), purgesText(proposed)],
  ];
  const take = async (): Promise<void> => {
    if (id === null) return;
    setTaking(true);
    try {
      await sendJson('POST', `/api/away/proposals/${id}/accept`);
      onTaken();
    } catch (problem) {
      tell(problem);
      onAgain();
    } finally {
      setTaking(false);
    }
  };
  return (
    <Section title={isBetter ? 'A better night' : 'Tonight’s plan is as good as we can make it'}>
      <DataTable label="The night, as it stands and proposed" columns={SIDES} rows={rows} rowId={([label]) => label} />
      {isBetter && (
        <p className="mt-1 text-soft">
          {moneyText(gainMinor, currency)} ± {moneyText(2 * gainError, currency)} more, by 2,000 nights with the same
          luck.
        </p>
      )}
      {fallsShort && (
        <p className="mt-1 text-wait">No plan keeps the promises with {percent(confidence)}; this one comes nearest.</p>
      )}
      {moves.length > 0 && <Moves moves={moves} />}
      <div className="mt-3 flex gap-2">
        {isBetter && (
          <May right="coordinate">
            <Button kind="main" disabled={busy || taking} onClick={() => void take()}>
              {taking ? 'Taking it …' : 'Take this night'}
            </Button>
          </May>
        )}
        <Button disabled={busy || taking} onClick={onAgain}>
          Propose again
        </Button>
      </div>
    </Section>
  );
}

/** Purges that are printed, and those that work makes needless. */
function purgesText({ purges }: NightProposal['standing']): string {
  return `${number(purges.printed)}, ${number(purges.skipped)}`;
}

function Moves({ moves }: { readonly moves: NightProposal['moves'] }) {
  const name = usePrinterName();
  return (
    <ul className="mt-2 flex flex-col gap-1">
      {moves.map(({ unitId, name: what, fromPrinterId, toPrinterId, at }) => (
        <li key={unitId}>
          <strong className="font-semibold">{what}</strong>{' '}
          {fromPrinterId === null
            ? `is queued on ${name(toPrinterId)}`
            : fromPrinterId === toPrinterId
              ? `on ${name(toPrinterId)}`
              : `goes from ${name(fromPrinterId)} to ${name(toPrinterId)}`}
          <span className="text-soft">, place {at + 1}</span>
        </li>
      ))}
    </ul>
  );
}

/** What must be there in the morning: those whose dates say so, and those that a person ticks. */
function Promises({
  proposal: { units, promise, currency },
  promised,
  onChange,
}: {
  readonly proposal: NightProposal;
  readonly promised: readonly string[];
  readonly onChange: (promised: readonly string[]) => void;
}) {
  const percent = (share: number | null): string => (share === null ? 'not planned' : `${number(share * 100)} %`);
  return (
    <Section title="Promised for the morning">
      <ul className="flex flex-col gap-1.5">
        {units.map(({ id, name, pieces, valueMinor, promised: isPromised, chanceThen }) => (
          <li key={id}>
            <Checkbox
              value={isPromised}
              disabled={isPromised && !promised.includes(id)}
              text={
                <span className="min-w-0">
                  {name}{' '}
                  <span className="text-soft">
                    {counted(pieces, 'piece')}, {moneyText(valueMinor, currency)}, {percent(chanceThen)}
                  </span>
                </span>
              }
              onChange={(on) => {
                onChange(on ? [...promised, id] : promised.filter((each) => each !== id));
              }}
            />
          </li>
        ))}
      </ul>
      {promise.length > 0 && (
        <p className="mt-2 text-soft">
          Together you could promise: {promise.map((id) => units.find((unit) => unit.id === id)?.name ?? id).join(', ')}
          .
        </p>
      )}
    </Section>
  );
}
