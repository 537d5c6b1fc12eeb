import { careTitle } from '../../../core/care/careRule.ts';
import { alongFigure, alongText } from '../../ui/text/lengths.ts';
import { useDraggable, useDroppable } from '@dnd-kit/core';
import { memo } from 'react';
import { useNavigate } from 'react-router';
import type { LineEvent, Shortage } from '../../../core/schedule/plan.ts';
import { useSpools, type RunItem } from '../../api/data.ts';
import { useNestOf } from '../../api/nests.ts';
import { durationText } from '../../../core/units/durationText.ts';
import { clockText, useShopNow, useZone } from '../../app/shopTime.ts';
import { StateShape, shapeOf } from '../../draw/StateShape.tsx';
import { NestThumb } from './NestThumb.tsx';
import { BETWEEN, shortageText, WAITS } from './lineTexts.ts';
import type { FloorLine } from './useFloor.ts';
import { StripGround } from './TimeRuler.tsx';
import { type Drawn, place } from './timeView.ts';
import { useMay } from '../../people/May.tsx';

/** Below this width a run is a bar with a colour; its nest could not be made out (px). */
const THUMB_PX = 22;
const HOUR = 3_600_000;
const SEEN_PX = 0.6;

interface StripProps {
  readonly floorLine: FloorLine;
  readonly drawn: Drawn;
  readonly baseMs: number;
  /** When nobody is there. */
  readonly away: readonly { readonly fromMs: number; readonly toMs: number }[];
  /** Where a run that is dragged would be put in. */
  readonly landing: { readonly ms: number; readonly wrong: boolean } | null;
}

/** The line of one printer at its true times: runs, change-overs, waits, and where a supply ends. */
export function Strip({ floorLine, drawn, baseMs, away, landing }: StripProps) {
  const { printer, runs, line } = floorLine;
  const { setNodeRef } = useDroppable({ id: printer.id });
  const byId = new Map(runs.map((run) => [run.id, run]));
  const seen = line.events.filter((event) => event.toMs > drawn.fromMs && event.fromMs < drawn.toMs);
  const { shortages } = line;
  const [first] = shortages;
  const zone = useZone();
  const { data: spools } = useSpools();
  const titleOf = (careId: string): string => careTitle(printer, careId);
  return (
    <div ref={setNodeRef} className="absolute inset-0 overflow-hidden" data-strip={printer.id}>
      <div className="strip-layer">
        <StripGround drawn={drawn} baseMs={baseMs} zone={zone} away={away} />
        {seen.map((event) => {
          if (event.kind !== 'run')
            return (
              <Between
                key={`${event.kind}-${String(event.fromMs)}-${String(event.toMs)}`}
                event={event}
                baseMs={baseMs}
                titleOf={titleOf}
              />
            );
          const run = byId.get(event.id);
          return (
            run && (
              <RunBar
                key={event.id}
                run={run}
                event={event}
                baseMs={baseMs}
                drawn={drawn}
                afterShortage={first !== undefined && event.fromMs >= first.atMs}
              />
            )
          );
        })}
        {shortages
          .filter(({ atMs }) => atMs < drawn.toMs && atMs > drawn.fromMs)
          .map((shortage) => (
            <ShortageSign
              key={`${shortage.runId} ${String(shortage.atMs)}`}
              shortage={shortage}
              baseMs={baseMs}
              printer={printer}
              spools={spools ?? printer.spools}
            />
          ))}
        {landing && (
          <span
            className={`pointer-events-none absolute inset-y-1 z-10 w-[3px] rounded ${landing.wrong ? 'bg-stop' : 'bg-spool outline outline-ink'}`}
            style={place(baseMs, landing.ms)}
          />
        )}
      </div>
      <div className="now-mark pointer-events-none absolute inset-y-0 left-0 flex items-center border-l-2 border-ink">
        {!runs.some((run) => run.state !== 'draft' && run.endedMs === null) && (
          <span className="pl-3 whitespace-nowrap text-soft">Nothing queued on {printer.name}</span>
        )}
      </div>
    </div>
  );
}

type RunEvent = Extract<LineEvent, { kind: 'run' }>;

const RunBar = memo(
  RunBarDrawing,
  (a, b) =>
    a.run === b.run &&
    a.drawn === b.drawn &&
    a.afterShortage === b.afterShortage &&
    // A shift that can't be seen is not drawn.
    Math.abs(a.event.fromMs - b.event.fromMs) < (SEEN_PX * HOUR) / b.drawn.pxPerH &&
    Math.abs(a.event.toMs - b.event.toMs) < (SEEN_PX * HOUR) / b.drawn.pxPerH,
);

interface RunBarProps {
  readonly run: RunItem;
  readonly event: RunEvent;
  readonly baseMs: number;
  readonly drawn: Drawn;
  readonly afterShortage: boolean;
}

/**
 * A run as a bar as long as it takes, with its nest on it. What it can’t hold in words is in its name, for a pointer at rest and
 * for screen readers.
 */
function RunBarDrawing({ run, event, baseMs, drawn, afterShortage }: RunBarProps) {
  const navigate = useNavigate();
  const zone = useZone();
  const mayMove = useMay('coordinate');
  const widthPx = ((event.toMs - event.fromMs) / HOUR) * drawn.pxPerH;
  const onPrinter = run.state === 'printing' || run.state === 'paused' || run.state === 'sent';
  const now = useShopNow(onPrinter ? 500 : 10_000) ?? event.fromMs;
  const { attributes, listeners, setNodeRef, isDragging } = useDraggable({
    id: run.id,
    disabled: run.state !== 'queued' || !mayMove,
  });
  const printed = run.reachedMm ?? 0;
  const done = run.state === 'printed' ? 1 : run.lengthMm > 0 ? Math.min(1, printed / run.lengthMm) : 0;
  const past = run.endedMs !== null;
  const late = event.lateMs > 0;
  const words = wordsOf(run, event, now, zone);
  const side = run.pair ? ` (${run.pair.side})` : '';
  const name = `${run.name}${side}, ${run.state}, ${words}${late ? `, late by ${durationText(event.lateMs)}` : ''}. ${jobsText(run)}`;
  const edge =
    run.state === 'failed'
      ? 'border-stop'
      : run.state === 'paused'
        ? 'border-wait'
        : past
          ? 'border-rule'
          : late
            ? 'border-stop'
            : 'border-ink';
  return (
    <button
      ref={setNodeRef}
      type="button"
      {...(run.state === 'queued' ? { ...attributes, ...listeners } : {})}
      aria-roledescription={run.state === 'queued' ? 'run, can be moved' : undefined}
      title={name}
      aria-label={name}
      onClick={() => void navigate(`/bench/${run.id}`)}
      className={`to-scale @container absolute top-2 bottom-2 rounded-[3px] border bg-card text-left ${edge} ${past ? 'opacity-80' : ''} ${afterShortage ? 'border-dashed opacity-70' : ''} ${isDragging ? 'opacity-40' : ''}`}
      style={{ ...place(baseMs, event.fromMs, event.toMs), minWidth: 5, touchAction: 'none' }}
    >
      <span className="absolute inset-x-0 top-0 bottom-[34px] bg-paper">
        {widthPx >= THUMB_PX && <Nest run={run} widthPx={widthPx} />}
      </span>
      <span
        className={`absolute top-0 bottom-[34px] left-0 border-r-2 ${run.state === 'failed' ? 'border-stop bg-stop/25' : 'border-go bg-go/25'}`}
        style={{ width: `${String(done * 100)}%`, display: done > 0 ? undefined : 'none' }}
      />
      <span className="absolute inset-x-0 bottom-0 h-[34px] border-t border-rule px-1 py-px @max-[20px]:hidden">
        <span className="flex items-center gap-1 truncate font-medium">
          <StateShape shape={shapeOf(run.state)} size={12} />
          <span className="truncate @max-[52px]:hidden">
            {run.name}
            {side}
          </span>
        </span>
        <span className={`dense block truncate @max-[84px]:hidden ${late ? 'text-stop' : 'text-soft'}`}>
          {late ? 'late: ' : ''}
          {words}
        </span>
      </span>
    </button>
  );
}

/** Which jobs it holds, and for whom. */
function jobsText({ jobNames, jobCount, customers }: RunItem): string {
  const more = jobCount - jobNames.length;
  const names = `${jobNames.join(', ')}${more > 0 ? ` and ${String(more)} more` : ''}`;
  return customers.length > 0 ? `${names}, for ${customers.join(', ')}` : names;
}

function wordsOf(run: RunItem, { fromMs, toMs }: RunEvent, now: number, zone: string): string {
  const printed = alongFigure(run.reachedMm ?? 0).value;
  if (run.state === 'printing' || run.state === 'paused' || run.state === 'sent') {
    return `${printed} of ${alongText(run.lengthMm)}, ${durationText(Math.max(0, toMs - now))} left`;
  }
  if (run.endedMs !== null)
    return `${run.state}${run.state === 'printed' ? '' : ` at ${alongText(run.reachedMm ?? 0)}`}`;
  return `${alongText(run.lengthMm)}, ${clockText(fromMs, now, zone)} to ${clockText(toMs, now, zone)}`;
}

function Nest({ run, widthPx }: { readonly run: RunItem; readonly widthPx: number }) {
  const nest = useNestOf(run);
  return nest ? <NestThumb nest={nest} widthPx={widthPx} /> : null;
}

/** What lies between runs: a change-over, or time in which nothing can happen. */
function Between({
  event,
  baseMs,
  titleOf,
}: {
  readonly event: Exclude<LineEvent, RunEvent>;
  readonly baseMs: number;
  readonly titleOf: (careId: string) => string;
}) {
  if (event.kind === 'wait') {
    return (
      <span
        title={WAITS[event.why]}
        className="absolute top-1/2 border-t-2 border-dotted border-soft"
        style={place(baseMs, event.fromMs, event.toMs)}
      >
        <span className="sr-only">{WAITS[event.why]}</span>
      </span>
    );
  }
  if (event.kind === 'care')
    return (
      <span
        title={titleOf(event.id)}
        className="absolute top-2 bottom-2 rounded-[3px] border border-tide bg-tide/15"
        style={{ ...place(baseMs, event.fromMs, event.toMs), minWidth: 3 }}
      >
        <span className="sr-only">{titleOf(event.id)}</span>
      </span>
    );
  return (
    <span
      title={BETWEEN[event.what]}
      className="@container absolute top-2 bottom-2 flex flex-col items-center justify-center overflow-hidden rounded-[3px] border border-wait bg-wait/15 text-wait"
      style={{ ...place(baseMs, event.fromMs, event.toMs), minWidth: 3 }}
    >
      <span className="sr-only">{BETWEEN[event.what]}</span>
      {event.what !== 'mode' && (
        <span className="@max-[16px]:hidden">
          <StateShape shape="waiting" size={13} />
        </span>
      )}
    </span>
  );
}

/** The torn edge of a strip where media or ink ends. */
function ShortageSign({
  shortage,
  baseMs,
  printer,
  spools,
}: {
  readonly shortage: Shortage;
  readonly baseMs: number;
  readonly printer: FloorLine['printer'];
  /** All of the shop: what ends may be one that is loaded by then. */
  readonly spools: readonly { readonly id: string; readonly label: string }[];
}) {
  const text = shortageText(shortage, printer, spools);
  return (
    <span className="absolute inset-y-0 z-[5]" style={place(baseMs, shortage.atMs)} title={text}>
      <svg
        width="14"
        height="100%"
        viewBox="0 0 14 96"
        preserveAspectRatio="none"
        className="absolute -left-[7px]"
        role="img"
        aria-label={text}
      >
        <path
          d="M7 0 L12 6 L3 12 L11 19 L2 26 L12 33 L4 40 L11 48 L2 55 L12 62 L3 69 L11 76 L4 84 L10 90 L7 96"
          fill="none"
          stroke="var(--stop)"
          strokeWidth="2.5"
          vectorEffect="non-scaling-stroke"
        />
      </svg>
      <span className="dense absolute top-0 left-2 rounded bg-card/90 px-1 font-medium whitespace-nowrap text-stop">
        {text}
      </span>
    </span>
  );
}
