import { rollDiameterMm } from '../../core/stock/roll.ts';

interface SpoolSignProps {
  /** Length on the spool now, and where a plan would leave it (mm). */
  readonly leftMm: number;
  readonly afterMm?: number;
  readonly receivedMm: number;
  readonly coreMm: number;
  readonly thicknessMm: number;
  readonly size: number;
  readonly label: string;
}

/*
 * The sign of the product: the roll seen from its side. The outer circle is the roll as it came, the yellow band what is
 * left of it, both at their real radius; the hole is the core.
 */
export function SpoolSign({ leftMm, afterMm, receivedMm, coreMm, thicknessMm, size, label }: SpoolSignProps) {
  const full = rollDiameterMm(receivedMm, coreMm, thicknessMm) / 2;
  const now = rollDiameterMm(leftMm, coreMm, thicknessMm) / 2;
  const after = afterMm === undefined ? now : rollDiameterMm(afterMm, coreMm, thicknessMm) / 2;
  const core = coreMm / 2;
  const pad = full * 0.06;
  const box = 2 * (full + pad);
  const line = box / size;
  return (
    <svg
      width={size}
      height={size}
      viewBox={`${String(-box / 2)} ${String(-box / 2)} ${String(box)} ${String(box)}`}
      role="img"
      aria-label={label}
      className="shrink-0"
    >
      <circle
        r={full}
        fill="none"
        stroke="var(--soft)"
        strokeWidth={line}
        strokeDasharray={`${String(2 * line)} ${String(2 * line)}`}
      />
      <circle
        r={now}
        fill="var(--color-spool)"
        fillOpacity={afterMm === undefined ? 1 : 0.35}
        stroke="var(--ink)"
        strokeWidth={line}
      />
      {afterMm !== undefined && <circle r={after} fill="var(--color-spool)" stroke="var(--ink)" strokeWidth={line} />}
      <circle r={core} fill="var(--card)" stroke="var(--ink)" strokeWidth={line} />
    </svg>
  );
}
