import { useEffect, useRef, useState } from 'react';
import { useSWRConfig } from 'swr';
import type { RotaItem } from '../../../contract/api/care.ts';
import { moveTarget, movedStart } from '../../../core/care/moveTimer.ts';
import { recurrenceText } from '../../../core/care/timerText.ts';
import { sendJson } from '../../api/client.ts';
import { useNotice } from '../../app/notice.tsx';
import { clockText } from '../../app/shopTime.ts';
import type { RotaSpan } from './rotaTime.ts';
import { useTimers } from './useRota.ts';

const MIN = 60_000;
const DAY_MS = 86_400_000;

/** Something that is being moved, and where it would come. */
interface Pending {
  readonly item: RotaItem;
  readonly toMs: number;
}

/** Moving what happens by itself: a timer with all its occurrences, or a queued run by its fixed start. */
export interface Moves {
  readonly pending: Pending | undefined;
  /** What keeping it would come to, in a sentence. */
  readonly text: string;
  /** Later by so many steps; earlier where negative. */
  readonly step: (item: RotaItem, steps: number) => void;
  /** To where a pointer has drawn it, as so much time from where it was (ms). */
  readonly draw: (item: RotaItem, byMs: number) => void;
  readonly keep: () => void;
  readonly leave: () => void;
}

/** To so many minutes things are moved, by how much is in view. */
function stepOf({ fromMs, toMs }: RotaSpan): number {
  const days = (toMs - fromMs) / DAY_MS;
  return days < 2 ? 5 * MIN : days < 10 ? 15 * MIN : 60 * MIN;
}

/**
 * @param onMoved what has become of it: its new id
 */
export function useMoves(
  span: RotaSpan,
  nowMs: number,
  zone: string,
  onMoved: (before: string, id: string) => void,
): Moves {
  const { data: timers = [], mutate: timersAnew } = useTimers();
  const { mutate } = useSWRConfig();
  const { tell } = useNotice();
  const [pending, setPending] = useState<Pending>();
  const focus = useRef<string>(undefined);
  // After it has been kept it is another item: who moved it by keys goes on from there.
  useEffect(() => {
    if (focus.current === undefined) return;
    const next = document.querySelector<HTMLElement>(`[data-item="${CSS.escape(focus.current)}"]`);
    if (!next) return;
    focus.current = undefined;
    next.focus();
  });
  const stepMs = stepOf(span);
  const timerOf = (item: RotaItem) => timers.find(({ id }) => id === item.timerId);
  const baseOf = (item: RotaItem): number => (item.kind === 'run' ? item.fromMs : (item.dueMs ?? item.fromMs));
  const to = (item: RotaItem, wantedMs: number): void => {
    const baseMs = baseOf(item);
    const timer = timerOf(item);
    const toMs = timer ? moveTarget(timer, baseMs, wantedMs, zone, stepMs) : Math.round(wantedMs / stepMs) * stepMs;
    // Nothing is moved into the past.
    setPending({ item, toMs: Math.max(toMs, Math.ceil(nowMs / MIN) * MIN) });
  };
  const keep = async ({ item, toMs }: Pending): Promise<void> => {
    const timer = timerOf(item);
    try {
      if (item.kind === 'run') {
        await sendJson('PUT', `/api/runs/${item.id}/start`, { fixedStartMs: toMs });
        focus.current = item.id;
      } else if (timer) {
        const startLocal = movedStart(timer, baseOf(item), toMs, zone);
        await sendJson('PATCH', `/api/timers/${timer.id}`, { startLocal }, { 'if-match': String(timer.version) });
        const id = `${timer.id}@${String(toMs)}`;
        focus.current = id;
        onMoved(item.id, id);
      }
    } catch (error) {
      tell(error);
    }
    await Promise.all([timersAnew(), mutate((key) => typeof key === 'string' && key.startsWith('/api/rota'))]);
    setPending(undefined);
  };
  return {
    pending,
    text: pending ? textOf(pending, timerOf(pending.item), baseOf(pending.item), nowMs, zone) : '',
    step: (item, steps) => {
      to(item, (pending?.item.id === item.id ? pending.toMs : baseOf(item)) + steps * stepMs);
    },
    draw: (item, byMs) => {
      to(item, baseOf(item) + byMs);
    },
    keep: () => {
      if (pending) void keep(pending);
    },
    leave: () => {
      setPending(undefined);
    },
  };
}

function textOf(
  { item, toMs }: Pending,
  timer: Parameters<typeof recurrenceText>[0] | undefined,
  baseMs: number,
  nowMs: number,
  zone: string,
): string {
  if (!timer) return `${item.title}: not before ${clockText(toMs, nowMs, zone)}`;
  return `${item.title}: ${recurrenceText({ ...timer, startLocal: movedStart(timer, baseMs, toMs, zone) })}`;
}
