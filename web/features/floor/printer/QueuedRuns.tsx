import { alongText } from '../../../ui/text/lengths.ts';
import { ArrowDown, ArrowUp, Flag } from 'lucide-react';
import { useState } from 'react';
import { Link } from 'react-router';
import useSWR from 'swr';
import type { FitAnswer } from '../../../../contract/api/fit.ts';
import { errorText, getJson, sendJson } from '../../../api/client.ts';
import { useSpools, type RunItem } from '../../../api/data.ts';
import { useNotice } from '../../../app/notice.tsx';
import { durationText } from '../../../../core/units/durationText.ts';
import { clockText, useShopNow, useZone } from '../../../app/shopTime.ts';
import { steppedTogether, togetherOf } from '../../../../core/schedule/lineUnits.ts';
import { FitListView } from '../../../draw/FitListView.tsx';
import { Button } from '../../../ui/Button.tsx';
import type { FloorLine } from '../useFloor.ts';
import { Select } from '../../../ui/fields/Select.tsx';
import type { FinishRange } from '../../../../core/schedule/finishRanges.ts';
import type { FinishNews } from '../../../workers/finish.worker.ts';
import { FinishText } from './FinishText.tsx';
import { May } from '../../../people/May.tsx';

/** The line of a printer: each run earlier, later, elsewhere, or back on the Bench. */
export function QueuedRuns({
  floorLine: { printer, runs, line },
  finishes,
}: {
  readonly floorLine: FloorLine;
  readonly finishes: FinishNews;
}) {
  const { tell } = useNotice();
  const queued = runs.filter((run) => run.state === 'queued');
  const starts = new Map(line.events.flatMap((event) => (event.kind === 'run' ? [[event.id, event] as const] : [])));
  const move = (index: number, by: -1 | 1): void => {
    const line = queued.map((run) => ({ id: run.id, together: togetherOf(run) }));
    const ids = steppedTogether(line, line[index]?.id ?? '', by);
    sendJson('PUT', `/api/printers/${printer.id}/line`, { runIds: ids }).catch(tell);
  };
  return (
    <ol aria-label={`Line of ${printer.name}`}>
      {queued.map((run, i) => (
        <QueuedRun
          key={run.id}
          run={run}
          sideText={sideText(run, runs)}
          startMs={starts.get(run.id)?.fromMs}
          finish={finishes.get(run.id)}
          lateMs={starts.get(run.id)?.lateMs ?? 0}
          held={printer.held?.runId === run.id ? printer.held : null}
          onEarlier={
            i === 0
              ? undefined
              : () => {
                  move(i, -1);
                }
          }
          onLater={
            i === queued.length - 1
              ? undefined
              : () => {
                  move(i, 1);
                }
          }
        />
      ))}
    </ol>
  );
}

function sideText({ pair }: RunItem, runs: readonly RunItem[]): string {
  if (!pair) return '';
  const other = runs.find(({ id }) => id === pair.otherRunId)?.name;
  if (pair.side === 'back') return other === undefined ? 'back, ' : `back of ${other}, `;
  return other === undefined ? 'front, ' : `front, its back is ${other}, `;
}

interface QueuedRunProps {
  readonly run: RunItem;
  /** Of two sides: which, and of what. */
  readonly sideText: string;
  readonly startMs: number | undefined;
  readonly finish: FinishRange | undefined;
  readonly lateMs: number;
  readonly held: FloorLine['printer']['held'];
  readonly onEarlier: (() => void) | undefined;
  readonly onLater: (() => void) | undefined;
}

/** One run of the line: when it starts, why it does not, and what else can become of it. */
function QueuedRun({ run, sideText: side, startMs, finish, lateMs, held, onEarlier, onLater }: QueuedRunProps) {
  const { tell } = useNotice();
  const [fitting, setFitting] = useState(false);
  const now = useShopNow(10_000) ?? 0;
  const zone = useZone();
  const step = 'rounded p-1 text-soft hover:bg-rule/50 hover:text-ink disabled:opacity-30';
  return (
    <li className="border-b border-rule/70 py-1.5 last:border-0">
      <div className="flex items-center gap-1">
        <Link to={`/bench/${run.id}`} className="min-w-0 flex-1 truncate hover:underline">
          <span className="font-medium">{run.name}</span>{' '}
          <span className="text-soft">
            {alongText(run.lengthMm)}, {durationText(run.estimateMs)}
          </span>
        </Link>
        <May right="coordinate">
          <button
            type="button"
            className={`${step} aria-pressed:text-wait`}
            aria-pressed={run.important}
            aria-label={`${run.name} is important`}
            title={run.important ? 'Important: rules may ask for care before it' : 'Mark as important'}
            onClick={() => {
              sendJson('PUT', `/api/runs/${run.id}/important`, { important: !run.important }).catch(tell);
            }}
          >
            <Flag size={15} fill={run.important ? 'currentColor' : 'none'} />
          </button>
          <button
            type="button"
            className={step}
            disabled={!onEarlier}
            onClick={onEarlier}
            aria-label={`${run.name} earlier`}
          >
            <ArrowUp size={15} />
          </button>
          <button type="button" className={step} disabled={!onLater} onClick={onLater} aria-label={`${run.name} later`}>
            <ArrowDown size={15} />
          </button>
        </May>
      </div>
      <p className={`dense ${lateMs > 0 ? 'text-stop' : 'text-soft'}`}>
        {side}
        {startMs === undefined ? '' : `starts ${clockText(startMs, now, zone)}`}
        {run.fixedStartMs !== null && run.fixedStartMs > now ? ', fixed' : ''}
        {run.important ? ', important' : ''}
        {lateMs > 0 ? `, late by ${durationText(lateMs)}` : ''}
      </p>
      {startMs !== undefined && (
        <p className="dense text-soft">
          likely done <FinishText finish={finish} nowMs={now} />
        </p>
      )}
      {held && (
        <p className={`dense ${held.hand ? 'text-wait' : 'text-soft'}`}>
          {held.text}. {held.way}
        </p>
      )}
      {run.meantSpoolId !== null && <MeantSpool run={run} spoolId={run.meantSpoolId} />}
      <May right="coordinate">
        <div className="flex flex-wrap items-center gap-x-1">
          <Button
            kind="quiet"
            className="!h-7 !px-1.5"
            onClick={() => {
              sendJson('POST', `/api/runs/${run.id}/take-back`).catch(tell);
            }}
          >
            Remove from line
          </Button>
          <Button
            kind="quiet"
            className="!h-7 !px-1.5"
            aria-expanded={fitting}
            onClick={() => {
              setFitting(!fitting);
            }}
          >
            Elsewhere
          </Button>
          <StartField run={run} now={now} />
        </div>
      </May>
      {run.pair?.side === 'back' && run.pair.frontPrinted && !run.pair.confirmed && (
        <div className="mt-1 rounded border border-wait px-2 py-1.5">
          <p>Take the roll out, turn it {run.pair.turn}, load it, then say which one it is.</p>
          <May right="operate">
            <ConfirmBack run={run} turn={run.pair.turn} />
          </May>
        </div>
      )}
      {fitting && (
        <RunFits
          run={run}
          now={now}
          onMoved={() => {
            setFitting(false);
          }}
        />
      )}
    </li>
  );
}

/** Printers that could take a run; chosen, it is moved there. */
export function RunFits({
  run,
  now,
  onMoved,
}: {
  readonly run: RunItem;
  readonly now: number;
  readonly onMoved: () => void;
}) {
  const { tell, say } = useNotice();
  const { data, error } = useSWR<FitAnswer, Error>(['fit', run.id], () =>
    getJson<FitAnswer>(`/api/runs/${run.id}/fit`),
  );
  if (error) return <p className="text-stop">{errorText(error)}</p>;
  if (!data) return <p className="text-soft">Looking for printers that can take it …</p>;
  return (
    <div className="mt-1.5">
      <FitListView
        answer={data}
        nowMs={now}
        here={run.printerId}
        chooseText={(fit) => `Move ${run.name} to ${fit.printerName}`}
        onChoose={(fit) => {
          say(`Moving ${run.name}: it is laid out for ${fit.printerName}`);
          sendJson('POST', `/api/runs/${run.id}/move`, { printerId: fit.printerId }).then(onMoved).catch(tell);
        }}
      />
    </div>
  );
}

/** Hours from now; none: when its turn comes. */
const STARTS = [
  { value: '0', text: 'when its turn comes' },
  ...[1, 2, 4, 8].map((hours) => ({ value: String(hours), text: `not before ${String(hours)} h from now` })),
];

/** Not before: in so many hours, or tonight when nobody is there. */
function StartField({ run, now }: { readonly run: RunItem; readonly now: number }) {
  const { tell } = useNotice();
  const fixed = run.fixedStartMs !== null && run.fixedStartMs > now;
  return (
    <Select
      label={`Start of ${run.name}`}
      value={undefined}
      unchosen={fixed ? 'Fixed' : 'Start'}
      choices={STARTS}
      className="w-[88px] border-transparent! bg-transparent! text-tide hover:bg-rule/50!"
      onChange={(value) => {
        const hours = Number(value);
        const fixedStartMs = hours === 0 ? null : Math.round(now + hours * 3_600_000);
        sendJson('PUT', `/api/runs/${run.id}/start`, { fixedStartMs }).catch(tell);
      }}
    />
  );
}

/** Only the person who loaded it knows that it is the same piece of media: they say which spool it is. */
function ConfirmBack({ run, turn }: { readonly run: RunItem; readonly turn: string }) {
  const { data: spools } = useSpools();
  const { tell } = useNotice();
  const loaded = (spools ?? []).filter((spool) => spool.printerId === run.printerId);
  const confirm = (spoolId: string): void => {
    sendJson('POST', `/api/runs/${run.id}/confirm-back`, { spoolId }).catch(tell);
  };
  return (
    <Select
      label={`Confirm the media for the back, ${run.name}`}
      value={undefined}
      unchosen={loaded.length === 0 ? 'Nothing is loaded yet' : `Turned ${turn}: which spool is in?`}
      choices={loaded.map((spool) => ({ value: spool.id, text: `${spool.label}, ${spool.stockName}` }))}
      className="mt-1 w-full border-wait! font-medium"
      onChange={confirm}
    />
  );
}

/** The spool that was chosen for a run, and the way to let it take any other. */
function MeantSpool({ run, spoolId }: { readonly run: RunItem; readonly spoolId: string }) {
  const { data: spools } = useSpools();
  const { tell } = useNotice();
  const label = spools?.find(({ id }) => id === spoolId)?.label;
  return (
    <p className="dense flex items-center gap-1 text-soft">
      {label === undefined ? 'Its spool is gone: any will do' : `Meant for ${label}`}
      <May right="coordinate">
        <Button
          kind="quiet"
          className="!h-7 !px-1.5"
          onClick={() => {
            const runs = [{ runId: run.id, spoolId: null }];
            sendJson('POST', '/api/spool-proposal', { runs, orders: [] }).catch(tell);
          }}
        >
          Let it take any
        </Button>
      </May>
    </p>
  );
}
