import { useState } from 'react';
import { type ChannelCurve, INPUT_CHANNELS, curveOf, isInputCurve } from '../../../../core/coats/curves.ts';
import { Button } from '../../../ui/Button.tsx';
import { NumberInput } from '../../../ui/fields/NumberInput.tsx';
import { Select } from '../../../ui/fields/Select.tsx';

interface CurveFieldsProps {
  readonly channels: readonly { readonly id: string; readonly name: string; readonly colour: string }[];
  readonly curves: readonly ChannelCurve[];
  readonly onChange: (curves: ChannelCurve[]) => void;
}

/** Places that have a field; an ink may end below full, which is its own limit. */
const PLACES = [0.25, 0.5, 0.75] as const;
const SIDE = 112;
const STEPS = 32;

/** Channels bent one by one: those of the artwork before colours become inks, the printer's after it. */
export function CurveFields({ channels, curves, onChange }: CurveFieldsProps) {
  const [chosen, setChosen] = useState<string>(curves[0]?.channel ?? channels[0]?.id ?? 'red');
  const curve: ChannelCurve = curves.find(({ channel }) => channel === chosen) ?? { channel: chosen, points: [] };
  const bend = curveOf(curve.points);
  const places = isInputCurve(curve) ? PLACES : [...PLACES, 1];
  const set = (at: number, to: number): void => {
    const points = [...curve.points.filter((point) => point.at !== at), { at, to }].sort((a, b) => a.at - b.at);
    // A point that is where the straight line is says nothing at the end.
    const kept = points.filter((point) => point.at !== 1 || point.to !== 1);
    const others = curves.filter(({ channel }) => channel !== chosen);
    onChange(kept.length === 0 ? others : [...others, { channel: chosen, points: kept }]);
  };
  const line = Array.from({ length: STEPS + 1 }, (_, i) => i / STEPS)
    .map((value) => `${String(value * SIDE)},${String((1 - bend(value)) * SIDE)}`)
    .join(' ');
  const bent = new Set(curves.map(({ channel }) => channel));
  const mark = (id: string): string => (bent.has(id) ? ', bent' : '');
  return (
    <div className="flex items-start gap-3">
      <svg
        viewBox={`-1 -1 ${String(SIDE + 2)} ${String(SIDE + 2)}`}
        width={SIDE}
        height={SIDE}
        role="img"
        aria-label={`Curve of ${chosen}`}
        className="shrink-0 border border-rule bg-paper"
      >
        <path d={`M0 ${String(SIDE)}L${String(SIDE)} 0`} className="stroke-rule" fill="none" />
        {[0.25, 0.5, 0.75].map((at) => (
          <path
            key={at}
            d={`M${String(at * SIDE)} 0V${String(SIDE)}M0 ${String(at * SIDE)}H${String(SIDE)}`}
            className="stroke-rule/60"
          />
        ))}
        <polyline points={line} fill="none" className="stroke-tide" strokeWidth={2} />
      </svg>
      <div className="min-w-0">
        <Select
          label="Channel of the curve"
          value={chosen}
          choices={[
            ...channels.map(({ id, name }) => ({ value: id, text: `${name}${mark(id)}` })),
            ...INPUT_CHANNELS.map((id) => ({ value: id, text: `${id} of the artwork${mark(id)}` })),
          ]}
          onChange={setChosen}
        />
        {places.map((at) => (
          <label key={at} className="mt-1 flex items-center gap-2">
            <span className="w-14 text-soft">{at === 1 ? 'full' : `${String(at * 100)} %`}</span>
            <NumberInput
              label={`${chosen} at ${String(at * 100)} %`}
              value={Math.round(bend(at) * 1000) / 10}
              most={100}
              unit="%"
              className="w-16"
              onChange={(percent) => {
                set(at, percent / 100);
              }}
            />
          </label>
        ))}
        {bent.has(chosen) && (
          <Button
            kind="quiet"
            className="mt-1"
            onClick={() => {
              onChange(curves.filter(({ channel }) => channel !== chosen));
            }}
          >
            Straighten
          </Button>
        )}
      </div>
    </div>
  );
}
