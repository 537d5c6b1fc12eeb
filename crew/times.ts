import type { HandView } from '../contract/api/hand.ts';
import type { ShopHours, TimeSpan } from '../core/schedule/shopHours.ts';
import { attendedSpans } from '../core/schedule/shopHours.ts';

const MIN = 60_000;

/** How long people take from a hand being wanted to its being done, least and most (shop minutes). */
const TAKES: Partial<Record<HandView['kind'], readonly [number, number]>> = {
  load: [4, 12],
  'go-on': [1, 4],
  confirm: [5, 12],
  empty: [2, 6],
  ink: [3, 10],
  heads: [3, 9],
};

/** A break in the middle of each span of attendance that is long enough for one (shop ms). */
const BREAK_MS = 30 * MIN;
const BREAK_FROM_MS = 6 * 60 * MIN;

/** How long somebody takes for a hand (ms of shop time); undefined: nobody here can do that. */
export function takesMs(kind: HandView['kind'], random: () => number): number | undefined {
  const range = TAKES[kind];
  if (!range) return undefined;
  const [least, most] = range;
  return (least + random() * (most - least)) * MIN;
}

/** Whether somebody is at work: within the shop's hours, and not in the break. */
export function isAtWork(hours: ShopHours, nowMs: number): boolean {
  const span = attendedSpans(hours, nowMs, nowMs + MIN).find(({ fromMs, toMs }) => fromMs <= nowMs && nowMs < toMs);
  return span !== undefined && !inBreak(span, nowMs);
}

function inBreak({ fromMs, toMs }: TimeSpan, nowMs: number): boolean {
  if (toMs - fromMs < BREAK_FROM_MS) return false;
  const from = fromMs + (toMs - fromMs) / 2 - BREAK_MS / 2;
  return nowMs >= from && nowMs < from + BREAK_MS;
}
