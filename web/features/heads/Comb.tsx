import type { HeadChannel, Heads } from './useHeads.ts';

/** Between the combs of two heads (share of the width). */
const HEAD_GAP = 0.012;
/** A mark is at least so wide (px): one of 48,000 nozzles would not be seen. */
const MARK_PX = 2;

interface Mark {
  readonly n: number;
  readonly fault: 'missing' | 'weak' | 'crooked';
}

/**
 * A channel as a comb: each nozzle at its place along its head, heads beside one another. Below the teeth stand marks: a full one is a
 * nozzle that fires nothing, a short one fires too little, a slanted one beside its place.
 */
export function Comb({ channel, bars }: { readonly channel: HeadChannel; readonly bars: number }) {
  const { heads, nozzles, faults, colour, name, counts } = channel;
  const width = (1 - HEAD_GAP * (heads - 1)) / heads;
  const at = (n: number): number => {
    const head = Math.floor(n / nozzles);
    return head * (width + HEAD_GAP) + ((n % nozzles) / nozzles) * width;
  };
  const marks: Mark[] = (['missing', 'weak', 'crooked'] as const).flatMap((fault) =>
    (faults?.[fault] ?? []).map((n) => ({ n, fault })),
  );
  const percent = (share: number): string => `${(share * 100).toFixed(3)}%`;
  return (
    <svg
      role="img"
      aria-label={`${name}: ${faults ? countsText(counts) : 'not checked yet'}`}
      width="100%"
      height="20"
      className="block overflow-visible"
    >
      <defs>
        <pattern id={`teeth-${channel.id}`} width="3" height="12" patternUnits="userSpaceOnUse">
          <rect width="3" height="12" fill={colour} />
          <rect x="2" width="1" height="12" fill="var(--card)" fillOpacity="0.35" />
        </pattern>
      </defs>
      {Array.from({ length: heads }, (_, head) => (
        <rect
          key={head}
          x={percent(head * (width + HEAD_GAP))}
          y="0.5"
          width={percent(width)}
          height="11"
          fill={`url(#teeth-${channel.id})`}
          stroke="var(--soft)"
          strokeWidth="1"
          opacity={faults ? 1 : 0.45}
        />
      ))}
      {Array.from({ length: bars - 1 }, (_, bar) => (
        <line
          key={bar}
          x1={percent((bar + 1) / bars)}
          x2={percent((bar + 1) / bars)}
          y1="0"
          y2="12"
          stroke="var(--ink)"
          strokeWidth="1"
        />
      ))}
      {marks.map(({ n, fault }) => (
        <FaultMark key={`${fault}-${String(n)}`} x={percent(at(n))} fault={fault} />
      ))}
    </svg>
  );
}

function FaultMark({ x, fault }: { readonly x: string; readonly fault: Mark['fault'] }) {
  if (fault === 'missing') {
    return (
      <>
        <rect x={x} y="1" width={MARK_PX} height="10" fill="var(--card)" />
        <rect x={x} y="13" width={MARK_PX} height="7" fill="var(--stop)" />
      </>
    );
  }
  if (fault === 'weak') return <rect x={x} y="13" width={MARK_PX} height="3.5" fill="var(--wait)" />;
  return (
    <svg x={x} y="13" width="6" height="7" overflow="visible">
      <line x1="0" y1="7" x2="4" y2="0" stroke="var(--ink)" strokeWidth="1.5" />
    </svg>
  );
}

/** `2 missing, 1 weak`; of a channel with nothing wrong `all print`. */
export function countsText({ missing, weak, crooked }: Heads['channels'][number]['counts']): string {
  const parts = [
    missing > 0 ? `${String(missing)} missing` : '',
    weak > 0 ? `${String(weak)} weak` : '',
    crooked > 0 ? `${String(crooked)} crooked` : '',
  ].filter((part) => part !== '');
  return parts.length === 0 ? 'all print' : parts.join(', ');
}
