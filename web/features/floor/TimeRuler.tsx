import { tz } from '@date-fns/tz';
import { format, startOfDay } from 'date-fns';
import { useZone } from '../../app/shopTime.ts';
import { at, type TimeScale } from './timeScale.ts';

/** Ticks on round instants of the shop's own day. */
export function ticksOf(scale: TimeScale, zone: string): number[] {
  const day = startOfDay(scale.fromMs, { in: tz(zone) }).getTime();
  const first = day + Math.ceil((scale.fromMs - day) / scale.stepMs) * scale.stepMs;
  const ticks: number[] = [];
  for (let ms = first; ms < scale.toMs; ms += scale.stepMs) ticks.push(ms);
  return ticks;
}

export function TimeRuler({
  scale,
  nowMs,
  headPx,
}: {
  readonly scale: TimeScale;
  readonly nowMs: number;
  readonly headPx: number;
}) {
  const zone = useZone();
  const inZone = { in: tz(zone) };
  const days = scale.stepMs >= 6 * 3_600_000;
  return (
    <div className="sticky top-0 z-10 flex border-y border-rule bg-card">
      <div style={{ width: headPx }} className="shrink-0 border-r border-rule" />
      <div className="relative h-7 min-w-0 flex-1 overflow-hidden">
        {ticksOf(scale, zone)
          .filter((ms) => Math.abs(ms - nowMs) > scale.stepMs * 0.35)
          .map((ms) => (
            <span
              key={ms}
              className="dense absolute top-1.5 border-l border-rule pl-1 text-soft"
              style={{ left: at(scale, ms) }}
            >
              {format(ms, days ? 'EEE HH:mm' : 'HH:mm', inZone)}
            </span>
          ))}
        <span
          className="dense absolute top-1 -translate-x-1/2 rounded bg-ink px-1.5 py-0.5 font-semibold text-paper"
          style={{ left: at(scale, nowMs) }}
        >
          {format(nowMs, 'HH:mm', inZone)}
        </span>
      </div>
    </div>
  );
}
