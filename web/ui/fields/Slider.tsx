import { NumberInput } from './NumberInput.tsx';

interface SliderProps {
  readonly label: string;
  readonly value: number;
  readonly least: number;
  readonly most: number;
  readonly step: number;
  readonly digits?: number;
  readonly unit?: string;
  /** Told at every move. */
  readonly onChange: (value: number) => void;
}

/** A figure that is found by looking at what it does: moved, or typed. */
export function Slider({ label, value, least, most, step, digits = 0, unit, onChange }: SliderProps) {
  return (
    <div className="grid min-h-8 grid-cols-[92px_minmax(0,1fr)_auto] items-center gap-2">
      <span data-term className="text-soft">
        {label}
      </span>
      <input
        type="range"
        aria-label={`${label}, slider`}
        min={least}
        max={most}
        step={step}
        value={value}
        className="w-full min-w-0 accent-[var(--tide)]"
        onChange={(event) => {
          onChange(Number(event.target.value));
        }}
      />
      <NumberInput
        label={label}
        value={value}
        least={least}
        most={most}
        digits={digits}
        className="w-16 text-right"
        unitClass="w-4"
        {...(unit === undefined ? {} : { unit })}
        onChange={onChange}
      />
    </div>
  );
}
