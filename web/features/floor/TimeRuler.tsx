import { dateText, timeText } from '../../app/shopTime.ts';
import { tz } from '@date-fns/tz';
import { format, startOfDay } from 'date-fns';
import { memo } from 'react';
import { type Drawn, place, stepOf } from './timeView.ts';

/** Ticks on round instants of the shop's own day. */
function ticksOf({ fromMs, toMs, pxPerH }: Drawn, zone: string): number[] {
  const stepMs = stepOf(pxPerH);
  const day = startOfDay(fromMs, { in: tz(zone) }).getTime();
  const first = day + Math.ceil((fromMs - day) / stepMs) * stepMs;
  const ticks: number[] = [];
  for (let ms = first; ms < toMs; ms += stepMs) ticks.push(ms);
  return ticks;
}

export const TimeRuler = memo(function TimeRuler({
  drawn,
  baseMs,
  zone,
}: {
  readonly drawn: Drawn;
  readonly baseMs: number;
  readonly zone: string;
}) {
  const inZone = { in: tz(zone) };
  return (
    <div className="strip-layer">
      {ticksOf(drawn, zone).map((ms) => {
        const midnight = format(ms, 'HH:mm', inZone) === '00:00';
        return (
          <span
            key={ms}
            className={`dense absolute top-1.5 border-l pl-1 whitespace-nowrap ${midnight ? 'border-ink font-medium text-ink' : 'border-rule text-soft'}`}
            style={place(baseMs, ms)}
          >
            {midnight ? dateText(ms, zone) : timeText(ms, zone)}
          </span>
        );
      })}
    </div>
  );
});

/** Behind what lies on a strip, in the same layer: its ticks, and when nobody is there. */
export const StripGround = memo(function StripGround({
  drawn,
  baseMs,
  zone,
  away,
}: {
  readonly drawn: Drawn;
  readonly baseMs: number;
  readonly zone: string;
  readonly away: readonly { readonly fromMs: number; readonly toMs: number }[];
}) {
  return (
    <div className="absolute inset-y-0 left-0" aria-hidden="true">
      {away
        .filter((span) => span.toMs > drawn.fromMs && span.fromMs < drawn.toMs)
        .map((span) => (
          <span
            key={span.fromMs}
            className="hatched absolute inset-y-0"
            style={place(baseMs, span.fromMs, span.toMs)}
          />
        ))}
      {ticksOf(drawn, zone).map((ms) => (
        <span key={ms} className="absolute inset-y-0 border-l border-rule/70" style={place(baseMs, ms)} />
      ))}
    </div>
  );
});
