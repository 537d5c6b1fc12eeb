import { useZone, dateText } from '../../../app/shopTime.ts';
import type { StockOutlook } from '../../../../contract/api/media/supply.ts';

const HIGH = 180;
const WIDE = 368;
const LEFT = 40;
const BOTTOM = 22;
const TOP = 8;
/** Days drawn on each side of today. */
const BACK = 20;
const AHEAD = 30;

/** What was used day by day, and how what is there runs down: the likely course, and the band that holds 8 of 10. */
export function ForecastChart({
  outlook,
  figure,
}: {
  readonly outlook: StockOutlook;
  /** A length in the unit that people count this stock in. */
  readonly figure: (mm: number) => { readonly value: string; readonly unit: string };
}) {
  const zone = useZone();
  const { used, ahead, leftMm, order } = outlook;
  const past = used.slice(-BACK);
  const coming = ahead.slice(0, AHEAD);
  const days = past.length + coming.length;
  const highest = Math.max(leftMm, order.reorderPointMm, ...past.map(({ mm }) => mm)) * 1.05 || 1;
  const x = (day: number): number => LEFT + (day / Math.max(1, days)) * (WIDE - LEFT);
  const y = (mm: number): number => TOP + (1 - Math.max(0, mm) / highest) * (HIGH - TOP - BOTTOM);
  const step = niceStep(highest);
  const course = (need: (day: (typeof coming)[number]) => number): string =>
    coming.map((day, i) => `L${x(past.length + i + 1).toFixed(1)} ${y(leftMm - need(day)).toFixed(1)}`).join(' ');
  const start = `${x(past.length).toFixed(1)} ${y(leftMm).toFixed(1)}`;
  const band = `M${start} ${course(({ lowMm, queuedMm }) => Math.max(lowMm, queuedMm))} ${[...coming]
    .map(
      (day, i) => `L${x(past.length + i + 1).toFixed(1)} ${y(leftMm - Math.max(day.highMm, day.queuedMm)).toFixed(1)}`,
    )
    .reverse()
    .join(' ')} Z`;
  return (
    <svg viewBox={`0 0 ${String(WIDE)} ${String(HIGH)}`} className="w-full" role="img" aria-label="Use and forecast">
      {Array.from({ length: Math.floor(highest / step) + 1 }, (_, i) => i * step).map((mm) => (
        <g key={mm}>
          <line x1={LEFT} x2={WIDE} y1={y(mm)} y2={y(mm)} stroke="var(--rule)" />
          <text x={LEFT - 5} y={y(mm) + 4} textAnchor="end" fontSize="12" fill="var(--soft)">
            {figure(mm).value}
          </text>
        </g>
      ))}
      {past.map(({ atMs, mm }, i) => (
        <rect
          key={atMs}
          x={x(i) + 1}
          width={Math.max(1, x(1) - x(0) - 2)}
          y={y(mm)}
          height={y(0) - y(mm)}
          fill="var(--soft)"
          opacity="0.55"
        />
      ))}
      <path d={band} fill="#f2b90c" opacity="0.35" />
      <path
        d={`M${start} ${course(({ meanMm, queuedMm }) => Math.max(meanMm, queuedMm))}`}
        fill="none"
        stroke="var(--ink)"
        strokeWidth="2"
      />
      <line
        x1={x(past.length)}
        x2={WIDE}
        y1={y(order.reorderPointMm)}
        y2={y(order.reorderPointMm)}
        stroke="var(--wait)"
        strokeDasharray="5 4"
      />
      <text x={WIDE - 2} y={y(order.reorderPointMm) - 4} textAnchor="end" fontSize="12" fill="var(--wait)">
        order below
      </text>
      <line x1={x(past.length)} x2={x(past.length)} y1={TOP} y2={y(0)} stroke="var(--soft)" />
      {[0, past.length, days - 1].map((day, i) => {
        const at = day < past.length ? past[day]?.atMs : coming[day - past.length]?.atMs;
        if (at === undefined || (i === 0 && past.length < 4)) return null;
        return (
          <text key={i} x={x(day)} y={HIGH - 6} textAnchor={i === 2 ? 'end' : 'start'} fontSize="12" fill="var(--soft)">
            {i === 1 ? 'today' : dateText(at, zone)}
          </text>
        );
      })}
    </svg>
  );
}

/** A round step that parts a scale in three to six. */
function niceStep(highest: number): number {
  const raw = highest / 4;
  const power = 10 ** Math.floor(Math.log10(raw));
  return [1, 2, 5, 10].map((each) => each * power).find((each) => each >= raw) ?? raw;
}
