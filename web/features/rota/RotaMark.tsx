import { useDraggable } from '@dnd-kit/core';
import { TriangleAlert } from 'lucide-react';
import type { KeyboardEvent } from 'react';
import type { RotaItem } from '../../../contract/api/care.ts';
import { clockText, timeText } from '../../app/shopTime.ts';
import { CARE_SIGNS } from '../../draw/careSigns.tsx';
import { OUTCOMES } from './outcomes.ts';
import type { Moves } from './useMoves.ts';
import { useMay } from '../../people/May.tsx';

interface RotaMarkProps {
  readonly item: RotaItem;
  /** Where an instant and a span of time lie, as shares of the strip. */
  readonly left: (ms: number) => string;
  readonly width: (fromMs: number, toMs: number) => string;
  readonly nowMs: number;
  readonly zone: string;
  readonly isChosen: boolean;
  readonly moves: Moves;
  readonly onChoose: (item: RotaItem) => void;
}

/** One thing that happens by itself: a run as long as it takes, care as a sign at its instant. Drawn elsewhere while it is moved. */
export function RotaMark({ item, left, width, nowMs, zone, isChosen, moves, onChoose }: RotaMarkProps) {
  const movable = useMay('coordinate') && item.movable;
  const { setNodeRef, listeners } = useDraggable({ id: item.id, data: { item }, disabled: !movable });
  const pendingMs = moves.pending?.item.id === item.id ? moves.pending.toMs : undefined;
  const text = label(item, nowMs, zone);
  const onKeyDown = (event: KeyboardEvent): void => {
    const steps = event.shiftKey ? { ArrowLeft: -1, ArrowRight: 1 }[event.key] : undefined;
    if (steps !== undefined && movable) moves.step(item, steps);
    else if (pendingMs !== undefined && event.key === 'Enter') moves.keep();
    else if (pendingMs !== undefined && event.key === 'Escape') moves.leave();
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const isRun = item.kind === 'run';
  const fromMs = pendingMs ?? item.fromMs;
  const look = pendingMs === undefined ? '' : 'z-10 border-dashed! shadow-md';
  return (
    <button
      ref={setNodeRef}
      {...listeners}
      type="button"
      data-rove
      data-item={item.id}
      aria-pressed={isChosen}
      aria-label={text}
      aria-keyshortcuts={movable ? 'Shift+ArrowLeft Shift+ArrowRight' : undefined}
      title={text}
      onKeyDown={onKeyDown}
      onBlur={() => {
        if (pendingMs !== undefined) moves.leave();
      }}
      onClick={() => {
        onChoose(item);
      }}
      className={`${isRun ? runLook(item) : `absolute bottom-1.5 flex size-6 -translate-x-1/2 items-center justify-center rounded-full border aria-pressed:outline-2 aria-pressed:outline-offset-1 aria-pressed:outline-tide ${OUTCOMES[item.outcome].look}`} ${movable ? 'cursor-grab touch-none' : ''} ${look}`}
      style={{
        left: left(fromMs),
        ...(isRun ? { width: width(fromMs, fromMs + item.toMs - item.fromMs), minWidth: 4 } : {}),
      }}
    >
      {isRun ? <span className="@max-[52px]:hidden">{item.title}</span> : <Sign item={item} />}
    </button>
  );
}

function runLook({ outcome }: RotaItem): string {
  const shared =
    'dense @container absolute top-1 h-6 overflow-hidden rounded-[3px] border px-1 text-left whitespace-nowrap aria-pressed:outline-2 aria-pressed:outline-tide';
  const own =
    outcome === 'late'
      ? 'border-wait bg-wait/15 text-ink'
      : outcome === 'failed'
        ? 'border-stop bg-card text-stop'
        : outcome === 'done'
          ? 'border-rule bg-rule/50 text-soft'
          : 'border-ink bg-card text-ink';
  return `${shared} ${own}`;
}

function Sign({ item }: { readonly item: RotaItem }) {
  if (item.outcome === 'conflict') return <TriangleAlert size={14} aria-hidden="true" />;
  if (item.kind === 'run') return null;
  const { icon: Icon } = CARE_SIGNS[item.kind];
  return <Icon size={14} aria-hidden="true" />;
}

/** All of an item in a sentence, as a screen reader says it. */
function label(item: RotaItem, nowMs: number, zone: string): string {
  const when = `${clockText(item.fromMs, nowMs, zone)}${item.toMs > item.fromMs + 60_000 ? ` to ${timeText(item.toMs, zone)}` : ''}`;
  const why = item.why === '' ? '' : `: ${item.why}`;
  return `${item.title}, ${when}, ${OUTCOMES[item.outcome].word}${why}`;
}
