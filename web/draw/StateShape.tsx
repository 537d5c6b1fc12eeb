import { Droplet, Hand, OctagonAlert } from 'lucide-react';

/** What printers, runs and jobs have in common: a shape for each state that means the same, always beside its word. */
export type Shape = 'printing' | 'idle' | 'caring' | 'waiting' | 'fault' | 'off' | 'done' | 'queued' | 'draft';

const TONES: Record<Shape, string> = {
  printing: 'text-go',
  idle: 'text-soft',
  caring: 'text-tide',
  waiting: 'text-wait',
  fault: 'text-stop',
  off: 'text-soft',
  done: 'text-go',
  queued: 'text-ink',
  draft: 'text-soft',
};

/** Words of states, and the shape that stands for each. Form tells them apart, not colour alone. */
const SHAPES: Record<string, Shape> = {
  printing: 'printing',
  idle: 'idle',
  caring: 'caring',
  waiting: 'waiting',
  paused: 'waiting',
  faulted: 'fault',
  failed: 'fault',
  blocked: 'fault',
  off: 'off',
  cancelled: 'off',
  dropped: 'off',
  printed: 'done',
  shelved: 'done',
  queued: 'queued',
  sent: 'queued',
  placed: 'queued',
  draft: 'draft',
  arriving: 'draft',
  arrived: 'idle',
  checked: 'idle',
  ready: 'idle',
};

/** The shape of a state; what is not known looks idle. */
export function shapeOf(state: string): Shape {
  return SHAPES[state] ?? 'idle';
}

/** A state as a shape. Its word stands beside it, so that it is nothing to a screen reader. */
export function StateShape({ shape, size = 14 }: { readonly shape: Shape; readonly size?: number }) {
  return (
    <svg
      width={size}
      height={size}
      viewBox="0 0 16 16"
      aria-hidden="true"
      className={`shrink-0 overflow-visible ${TONES[shape]}`}
      fill="currentColor"
    >
      {DRAWINGS[shape]}
    </svg>
  );
}

/** Drawn of thick lines, to be told apart at 12 px. */
const DRAWINGS: Record<Shape, React.ReactNode> = {
  printing: (
    <>
      <rect x="1" y="5" width="14" height="6" rx="1" fill="none" stroke="currentColor" strokeWidth="1.5" />
      <rect x="1" y="5" width="9" height="6" rx="1" />
    </>
  ),
  idle: <circle cx="8" cy="8" r="5" fill="none" stroke="currentColor" strokeWidth="2" />,
  caring: <Droplet size={16} strokeWidth={2.2} />,
  waiting: <Hand size={16} strokeWidth={2.2} fill="none" />,
  fault: <OctagonAlert size={16} strokeWidth={2.2} fill="none" />,
  off: <rect x="3" y="7" width="10" height="2.4" rx="1" />,
  done: <rect x="1" y="5" width="14" height="6" rx="1" />,
  queued: (
    <>
      <rect x="1" y="5" width="14" height="6" rx="1" fill="none" stroke="currentColor" strokeWidth="1.5" />
      <rect x="4" y="7.2" width="8" height="1.6" />
    </>
  ),
  draft: (
    <rect
      x="1.5"
      y="5"
      width="13"
      height="6"
      rx="1"
      fill="none"
      stroke="currentColor"
      strokeWidth="1.5"
      strokeDasharray="2.4 1.8"
    />
  ),
};

/** Shape and word together. */
export function StateWord({ state, children }: { readonly state: string; readonly children?: React.ReactNode }) {
  const shape = shapeOf(state);
  return (
    <span className={`inline-flex min-w-0 items-center gap-1.5 ${TONES[shape]}`}>
      <StateShape shape={shape} />
      <span className="min-w-0">{children ?? state}</span>
    </span>
  );
}
