import { useId, useState } from 'react';
import { parseLength } from '../../core/units/length.ts';

interface LengthFieldProps {
  readonly label: string;
  readonly valueMm: number;
  readonly leastMm?: number;
  readonly mostMm: number;
  readonly disabled?: boolean;
  readonly onChange: (mm: number) => void;
}

/** A length in any unit, with fractions: `1/2 in`, `1,5 cm`. Taken on Enter or on leaving; what can't be read stays to be mended. */
export function LengthField({ label, valueMm, leastMm = 0, mostMm, disabled = false, onChange }: LengthFieldProps) {
  const shown = String(Math.round(valueMm * 100) / 100);
  const [text, setText] = useState(shown);
  const [wrong, setWrong] = useState<string>();
  const id = useId();
  const [kept, setKept] = useState(shown);
  if (kept !== shown) {
    setKept(shown);
    setText(shown);
    setWrong(undefined);
  }
  const take = (): void => {
    const parsed = parseLength(text, 'mm');
    if (!parsed.ok) {
      setWrong('Not a length. Try 12, 1.5 cm or 1/2 in.');
    } else if (parsed.value < leastMm || parsed.value > mostMm) {
      setWrong(`From ${String(leastMm)} to ${String(mostMm)} mm.`);
    } else {
      setWrong(undefined);
      if (Math.abs(parsed.value - valueMm) > 1e-9) onChange(parsed.value);
      else setText(shown);
    }
  };
  return (
    <div>
      <label htmlFor={id} className="flex items-center justify-between gap-2">
        <span className="text-soft">{label}</span>
        <span className="inline-flex items-baseline gap-1">
          <input
            id={id}
            value={text}
            disabled={disabled}
            aria-invalid={wrong !== undefined}
            onChange={(event) => {
              setText(event.target.value);
            }}
            onBlur={take}
            onKeyDown={(event) => {
              if (event.key === 'Enter') take();
              if (event.key === 'Escape') {
                setText(shown);
                setWrong(undefined);
              }
            }}
            className="h-7 w-20 rounded border border-rule bg-card px-2 text-right aria-invalid:border-stop disabled:opacity-60"
          />
          <span className="w-7 text-soft">mm</span>
        </span>
      </label>
      {wrong !== undefined && <p className="text-right text-xs text-stop">{wrong}</p>}
    </div>
  );
}
