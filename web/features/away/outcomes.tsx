import { Check, Hand, type LucideIcon, SkipForward, X } from 'lucide-react';
import type { AwayEventView } from '../../../contract/api/away.ts';

/** How an event of a time away ends: by a word, a sign and a line, not by colour alone. */
export const ENDS: Readonly<
  Record<
    AwayEventView['outcome'],
    { readonly word: string; readonly icon: LucideIcon; readonly tone: string; readonly bar: string }
  >
> = {
  done: { word: 'done', icon: Check, tone: 'text-go', bar: 'border-ink bg-spool text-on-spool' },
  skipped: {
    word: 'skipped',
    icon: SkipForward,
    tone: 'text-soft',
    bar: 'border-dashed border-soft bg-card text-soft',
  },
  impossible: { word: 'can’t', icon: X, tone: 'text-stop', bar: 'border-stop bg-card text-stop' },
  hand: { word: 'needs a hand', icon: Hand, tone: 'text-wait', bar: 'border-dashed border-wait bg-card text-wait' },
};

/** An outcome as its sign and its word. */
export function End({ outcome }: { readonly outcome: AwayEventView['outcome'] }) {
  const { word, icon: Icon, tone } = ENDS[outcome];
  return (
    <span className={`inline-flex items-center gap-1 whitespace-nowrap ${tone}`}>
      <Icon size={14} aria-hidden="true" /> {word}
    </span>
  );
}
