import { rollDiameterMm } from '../../core/stock/roll.ts';

interface SpoolSignProps {
  /** Length on the spool now, and where a plan would leave it (mm). */
  readonly leftMm: number;
  readonly afterMm?: number;
  readonly receivedMm: number;
  readonly coreMm: number;
  readonly thicknessMm: number;
  /** Of a pack: drawn as its stack. */
  readonly sheetMm?: number | null;
  readonly size: number;
  readonly label: string;
}

/*
 * The sign of the product: the roll seen from its side. The outer circle is the roll as it came, the yellow band what is
 * left of it, both at their real radius; the hole is the core.
 */
export function SpoolSign(props: SpoolSignProps) {
  return props.sheetMm == null ? <Roll {...props} /> : <Stack {...props} />;
}

/** A pack from its side: as high as it came, filled as far as it is left. */
function Stack({ leftMm, receivedMm, size, label }: SpoolSignProps) {
  const share = receivedMm > 0 ? Math.min(1, Math.max(0, leftMm / receivedMm)) : 0;
  const high = 70 * share;
  return (
    <svg
      width={size}
      height={size}
      viewBox="0 0 100 100"
      role={label === '' ? undefined : 'img'}
      aria-label={label || undefined}
      aria-hidden={label === '' || undefined}
      className="shrink-0"
    >
      <rect
        x="8"
        y="15"
        width="84"
        height="70"
        fill="none"
        stroke="var(--soft)"
        strokeWidth="3"
        strokeDasharray="6 5"
      />
      <rect x="8" y={85 - high} width="84" height={high} fill="#f2b90c" stroke="var(--sign-line)" strokeWidth="3" />
      {Array.from({ length: Math.floor(high / 10) }, (_, i) => (
        <line key={i} x1="8" x2="92" y1={75 - i * 10} y2={75 - i * 10} stroke="var(--sign-line)" strokeWidth="1.5" />
      ))}
    </svg>
  );
}

/**
 * A roll from its end: what is left now, and inside it what is left after the queued runs. Diameters are true to its length and
 * thickness, so that it looks as it looks on the rack.
 */
function Roll({ leftMm, afterMm, receivedMm, coreMm, thicknessMm, size, label }: SpoolSignProps) {
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
      {...(label === '' ? { 'aria-hidden': true } : { role: 'img', 'aria-label': label })}
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
