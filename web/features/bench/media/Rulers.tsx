import { rulerSteps } from '../../../ui/text/lengths.ts';
import { number } from '../../../ui/text/number.ts';
import { preferences } from '../../../ui/preferences.ts';
import { memo } from 'react';

export const RULER_PX = 28;

/** In least steps of the ruler. */
const STEPS = [1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000, 10_000, 20_000, 50_000, 100_000];

/** Labelled step so that labels stay apart, and the small one between. */
function stepsFor(scale: number, apartPx: number): { label: number; small: number } {
  const label = STEPS.find((step) => step * scale >= apartPx) ?? 100_000;
  const small = [...STEPS].reverse().find((step) => step < label && label % step === 0 && step * scale >= 5) ?? label;
  return { label, small };
}

/** The multiples of a step between two places, all in least steps of the ruler. */
function ticks(from: number, to: number, step: number): number[] {
  const first = Math.max(0, Math.ceil(from / step - 1e-9));
  const last = Math.floor(to / step + 1e-9);
  return Array.from({ length: Math.max(0, last - first + 1) }, (_, i) => (first + i) * step);
}

/** Along the media; where nothing else is chosen, metres from one metre on. */
function labelOf(step: number, perUnit: number): string {
  if (preferences().units === 'metric' && step >= 1000 && step % 100 === 0)
    return `${number(step / 1000, step % 1000 === 0 ? 0 : 1)} m`;
  return number(step / perUnit, 0, 3);
}

interface FeedRulerProps {
  readonly scale: number;
  readonly lengthMm: number;
  readonly offsetPx: number;
  readonly widthPx: number;
  readonly usedMm: number;
}

/** Along the feed, from the leading edge at the left. Scrolling moves what is drawn; only every window's width it is drawn anew. */
export function FeedRuler({ scale, lengthMm, offsetPx, widthPx, usedMm }: FeedRulerProps) {
  const block = Math.max(1, widthPx);
  const startPx = Math.floor(offsetPx / block) * block;
  return (
    <div className="overflow-hidden border-b border-rule bg-card" aria-hidden="true">
      <div style={{ transform: `translateX(${String(startPx - offsetPx)}px)`, width: block * 2 }}>
        <FeedTicks scale={scale} lengthMm={lengthMm} startPx={startPx} widthPx={block * 2} usedMm={usedMm} />
      </div>
    </div>
  );
}

const FeedTicks = memo(function FeedTicks({
  scale,
  lengthMm,
  startPx,
  widthPx,
  usedMm,
}: Omit<FeedRulerProps, 'offsetPx'> & { readonly startPx: number }) {
  const { leastMm, perUnit } = rulerSteps();
  const { label, small } = stepsFor(scale * leastMm, 64);
  const to = Math.min(lengthMm, (startPx + widthPx) / scale);
  const at = (mm: number): number => mm * scale - startPx;
  return (
    <svg className="block" width={widthPx} height={RULER_PX}>
      {ticks(startPx / scale / leastMm, to / leastMm, small).map((step) => {
        const x = at(step * leastMm);
        const long = step % label === 0;
        return (
          <g key={step}>
            <line x1={x} x2={x} y1={long ? 10 : 20} y2={RULER_PX} stroke="var(--soft)" strokeWidth={1} />
            {long && (
              <text x={x + 4} y={16} fontSize={12} fill="var(--soft)">
                {labelOf(step, perUnit)}
              </text>
            )}
          </g>
        );
      })}
      <line x1={at(usedMm)} x2={at(usedMm)} y1={0} y2={RULER_PX} stroke="var(--tide)" strokeWidth={3} />
    </svg>
  );
});

interface AcrossRulerProps {
  readonly scale: number;
  readonly widthMm: number;
  readonly offsetPx: number;
  readonly heightPx: number;
}

/** Across the media, from its left edge, which is at the foot of the picture. */
export const AcrossRuler = memo(function AcrossRuler({ scale, widthMm, offsetPx, heightPx }: AcrossRulerProps) {
  const { leastMm, perUnit } = rulerSteps();
  const { label, small } = stepsFor(scale * leastMm, 44);
  const yOf = (mm: number): number => (widthMm - mm) * scale - offsetPx;
  return (
    <svg className="block border-r border-rule bg-card" width={RULER_PX} height={heightPx} aria-hidden="true">
      {ticks(0, widthMm / leastMm, small).map((step) => {
        const y = yOf(step * leastMm);
        if (y < -20 || y > heightPx + 20) return null;
        const long = step % label === 0;
        return (
          <g key={step}>
            <line y1={y} y2={y} x1={long ? 14 : 21} x2={RULER_PX} stroke="var(--soft)" strokeWidth={1} />
            {long && (
              <text x={12} y={y - 4} fontSize={12} fill="var(--soft)" transform={`rotate(-90 12 ${String(y - 4)})`}>
                {number(step / perUnit, 0, 3)}
              </text>
            )}
          </g>
        );
      })}
    </svg>
  );
});
