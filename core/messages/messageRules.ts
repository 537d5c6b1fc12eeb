import { instantOf, wallTimeOf } from '../care/wallTime.ts';

/** What people are told of: a fault, a printer that stops for somebody, a supply that ends early, a plan that can't finish, one that has. */
export const CAUSE_KINDS = ['fault', 'stop', 'supply', 'at risk', 'finished'] as const;
export type CauseKind = (typeof CAUSE_KINDS)[number];

/** Something that people are told of once, however many events come of it. Instants in ms. */
export interface Cause {
  readonly id: string;
  readonly kind: CauseKind;
  readonly openedMs: number;
  /** It is over: nobody needs to be told any more. */
  readonly closedMs: number | null;
  /** Somebody has seen it. */
  readonly seenMs: number | null;
}

/** Who is told of what. */
export interface Subscription {
  readonly personId: string;
  readonly kinds: readonly CauseKind[];
  /** Told again so often until it is seen; null: once. */
  readonly repeatMin: number | null;
  /** Where nobody has seen it after so long, this person is told as well; null: nobody else. */
  readonly escalate: { readonly afterMin: number; readonly personId: string } | null;
}

/** Hours in which a person is sent nothing, local time; they may go past midnight. */
export interface QuietHours {
  readonly from: string;
  readonly to: string;
}

/** A message that was sent, or is on its way. */
export interface Told {
  readonly personId: string;
  readonly atMs: number;
}

const MIN = 60_000;
const DAY = 86_400_000;

/**
 * When a person who would be told at an instant is told: then, or when their quiet hours end.
 * @param zone IANA name
 */
export function afterQuiet(ms: number, quiet: QuietHours | null, zone: string): number {
  if (!quiet || quiet.from === quiet.to) return ms;
  const [date = '', time = ''] = wallTimeOf(ms, zone).split('T');
  const pastMidnight = quiet.from > quiet.to;
  const isQuiet = pastMidnight ? time >= quiet.from || time < quiet.to : time >= quiet.from && time < quiet.to;
  if (!isQuiet) return ms;
  const endsNextDay = pastMidnight && time >= quiet.from;
  const day = endsNextDay ? wallTimeOf(ms + DAY, zone).slice(0, 10) : date;
  return instantOf(`${day}T${quiet.to}`, zone);
}

/** A person whose turn it is to be told of a cause. */
export interface Due {
  readonly personId: string;
  /** They are told since nobody else has seen it. */
  readonly escalated: boolean;
}

/**
 * Who is to be told of a cause now: whoever wants to know of its kind, once; again after a while until somebody has seen it; the second
 * person where nobody has. Quiet hours put it off. What is seen or over is told to nobody.
 * @param told what was sent of this cause already
 */
export function dueFor(
  cause: Cause,
  subscriptions: readonly Subscription[],
  quietOf: (personId: string) => QuietHours | null,
  told: readonly Told[],
  nowMs: number,
  zone: string,
): Due[] {
  if (cause.seenMs !== null || cause.closedMs !== null) return [];
  const wanted = subscriptions.filter(({ kinds }) => kinds.includes(cause.kind));
  const due = new Map<string, Due>();
  const ask = (personId: string, fromMs: number, repeatMin: number | null, escalated: boolean): void => {
    const last = Math.max(-Infinity, ...told.filter((each) => each.personId === personId).map(({ atMs }) => atMs));
    // What has ended by itself needs no second word.
    const repeats = repeatMin !== null && cause.kind !== 'finished';
    const nextMs = last === -Infinity ? fromMs : repeats ? last + repeatMin * MIN : Infinity;
    if (nextMs > nowMs || afterQuiet(nowMs, quietOf(personId), zone) > nowMs) return;
    if (due.get(personId)?.escalated !== false) due.set(personId, { personId, escalated });
  };
  for (const { personId, repeatMin, escalate } of wanted) {
    ask(personId, cause.openedMs, repeatMin, false);
    if (escalate) ask(escalate.personId, cause.openedMs + escalate.afterMin * MIN, repeatMin, true);
  }
  return [...due.values()];
}
