import { useState } from 'react';
import { TZDate } from '@date-fns/tz';
import type { AwayEventView, AwaySimulation, SupplyView } from '../../../contract/api/away.ts';
import { attendedSpans } from '../../../core/schedule/shopHours.ts';
import { usePrinters, useShopSetup } from '../../api/data.ts';
import { clockText, timeText, useZone } from '../../app/shopTime.ts';
import { CARE_SIGNS } from '../../draw/careSigns.tsx';
import { ENDS } from './outcomes.tsx';
import { Supplies } from './Supplies.tsx';

interface Span {
  readonly fromMs: number;
  readonly toMs: number;
}

const HOUR = 3_600_000;
const percent = (share: number): string => `${(share * 100).toFixed(3)}%`;
const shareOf = (ms: number, { fromMs, toMs }: Span): number =>
  Math.min(1, Math.max(0, (ms - fromMs) / Math.max(1, toMs - fromMs)));

/** The time away of each printer, to scale, and its supplies as they are at an instant that a person draws along it. */
export function AwayStrips({ simulation, nowMs }: { readonly simulation: AwaySimulation; readonly nowMs: number }) {
  const zone = useZone();
  const { data: printers } = usePrinters();
  const { data: setup } = useShopSetup();
  const span = { fromMs: simulation.fromMs, toMs: simulation.toMs };
  const [share, setShare] = useState(1);
  const atMs = span.fromMs + share * (span.toMs - span.fromMs);
  const there = setup ? attendedSpans(setup, span.fromMs, span.toMs) : [];
  const shown = (printers ?? []).filter(
    ({ id }) =>
      simulation.events.some(({ printerId }) => printerId === id) ||
      simulation.supplies.some(({ printerId, endsMs }) => printerId === id && endsMs !== null),
  );
  return (
    <section aria-label="Time of the printers">
      <div className="flex">
        <span className="w-24 shrink-0 max-phone:hidden" />
        <Ruler span={span} zone={zone} />
      </div>
      {shown.map((printer) => (
        <div key={printer.id} className="flex border-b border-rule py-1.5 max-phone:flex-col">
          <h3 className="w-24 shrink-0 truncate pr-2 font-semibold max-phone:w-full">{printer.name}</h3>
          <div className="min-w-0 flex-1">
            <Strip
              events={simulation.events.filter(({ printerId }) => printerId === printer.id)}
              supplies={simulation.supplies.filter(({ printerId }) => printerId === printer.id)}
              span={span}
              there={there}
              atMs={atMs}
              nowMs={nowMs}
              zone={zone}
            />
            <Supplies
              supplies={simulation.supplies.filter(({ printerId }) => printerId === printer.id)}
              fromMs={span.fromMs}
              atMs={atMs}
              nowMs={nowMs}
            />
          </div>
        </div>
      ))}
      {shown.length > 0 && (
        <label className="flex items-center py-1.5">
          <span className="w-24 shrink-0 text-soft">Supplies at</span>
          <input
            type="range"
            min={0}
            max={1000}
            value={Math.round(share * 1000)}
            aria-label="Instant at which supplies are shown"
            aria-valuetext={clockText(atMs, nowMs, zone)}
            onChange={(event) => {
              setShare(Number(event.target.value) / 1000);
            }}
            className="min-w-0 flex-1 accent-tide"
          />
          <span className="ml-2 shrink-0 text-right font-semibold whitespace-nowrap">
            {clockText(atMs, nowMs, zone)}
          </span>
        </label>
      )}
    </section>
  );
}

/** Hours, or days where the time is long. */
function Ruler({ span, zone }: { readonly span: Span; readonly zone: string }) {
  const hours = (span.toMs - span.fromMs) / HOUR;
  const everyH = [1, 2, 3, 6, 12, 24, 48].find((each) => hours / each <= 12) ?? 48;
  const ticks: number[] = [];
  const first = new TZDate(span.fromMs, zone);
  first.setHours(everyH >= 24 ? 0 : Math.floor(first.getHours() / everyH) * everyH, 0, 0, 0);
  for (let at = first; at.getTime() <= span.toMs; at = later(at, everyH)) {
    if (at.getTime() >= span.fromMs) ticks.push(at.getTime());
  }
  return (
    <div aria-hidden="true" className="dense relative h-5 min-w-0 flex-1 overflow-hidden text-soft">
      {ticks.map((ms) => (
        <span
          key={ms}
          className="absolute border-l border-rule pl-1 whitespace-nowrap"
          style={{ left: percent(shareOf(ms, span)) }}
        >
          {everyH >= 24 ? clockText(ms, 0, zone).slice(0, 6) : timeText(ms, zone)}
        </span>
      ))}
    </div>
  );
}

function later(at: TZDate, hours: number): TZDate {
  const next = new TZDate(at.getTime(), at.timeZone ?? 'UTC');
  next.setHours(next.getHours() + hours);
  return next;
}

interface StripProps {
  readonly events: readonly AwayEventView[];
  readonly supplies: readonly SupplyView[];
  readonly span: Span;
  readonly there: readonly Span[];
  readonly atMs: number;
  readonly nowMs: number;
  readonly zone: string;
}

function Strip({ events, supplies, span, there, atMs, nowMs, zone }: StripProps) {
  const left = (ms: number): string => percent(shareOf(ms, span));
  const width = (fromMs: number, toMs: number): string => percent(shareOf(toMs, span) - shareOf(fromMs, span));
  const text = ({ what, atMs: ms, outcome, why }: AwayEventView): string =>
    `${what}, ${clockText(ms, nowMs, zone)}, ${ENDS[outcome].word}${why === '' ? '' : `: ${why}`}`;
  const drawn = events.filter(({ atMs: ms }) => ms < span.toMs);
  return (
    <div className="relative h-14 overflow-hidden rounded-[3px] border border-rule">
      <div aria-hidden="true" className="hatched absolute inset-0" />
      {there.map(({ fromMs, toMs }) => (
        <span
          key={fromMs}
          aria-hidden="true"
          className="absolute inset-y-0 bg-card"
          style={{ left: left(fromMs), width: width(fromMs, toMs) }}
        />
      ))}
      {drawn.map((event) =>
        event.kind === 'run' ? (
          <span
            key={event.id}
            role="img"
            aria-label={text(event)}
            title={text(event)}
            className={`dense absolute top-1 h-6 overflow-hidden rounded-[3px] border px-1 leading-[22px] whitespace-nowrap ${ENDS[event.outcome].bar}`}
            style={{
              left: left(event.atMs),
              width: width(event.atMs, event.outcome === 'hand' ? event.atMs : event.toMs),
              minWidth: event.outcome === 'hand' ? 22 : 4,
            }}
          >
            {event.outcome === 'hand' ? <Sign outcome="hand" /> : event.what}
          </span>
        ) : (
          <CareMark key={event.id} event={event} left={left(event.atMs)} text={text(event)} />
        ),
      )}
      {supplies.flatMap(({ endsMs, name, kind, id }) =>
        endsMs === null || endsMs < span.fromMs || endsMs > span.toMs
          ? []
          : [
              <span
                key={`${kind} ${id}`}
                className="dense absolute bottom-0 border-l-2 border-stop pl-1 font-semibold whitespace-nowrap text-stop"
                style={{ left: left(endsMs), height: '100%', paddingTop: 36 }}
              >
                {name} {kind === 'basket' ? 'full' : 'ends'} {timeText(endsMs, zone)}
              </span>,
            ],
      )}
      <span aria-hidden="true" className="absolute inset-y-0 border-l-2 border-spool" style={{ left: left(atMs) }} />
    </div>
  );
}

function Sign({ outcome }: { readonly outcome: AwayEventView['outcome'] }) {
  const Icon = ENDS[outcome].icon;
  return <Icon size={14} aria-hidden="true" className="mt-1" />;
}

function CareMark({
  event,
  left,
  text,
}: {
  readonly event: AwayEventView;
  readonly left: string;
  readonly text: string;
}) {
  if (event.kind === 'run') return null;
  const Icon = event.outcome === 'impossible' ? ENDS.impossible.icon : CARE_SIGNS[event.kind].icon;
  return (
    <span
      role="img"
      aria-label={text}
      title={text}
      className={`absolute bottom-0.5 flex size-5 -translate-x-1/2 items-center justify-center rounded-full border ${ENDS[event.outcome].bar}`}
      style={{ left }}
    >
      <Icon size={12} aria-hidden="true" />
    </span>
  );
}
