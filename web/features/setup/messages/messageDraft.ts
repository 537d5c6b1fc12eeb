import type { MessageRuleView, MessageSetup, MessageSetupAnswer } from '../../../../contract/api/messages.ts';
import { CAUSE_KINDS, type CauseKind } from '../../../../core/messages/messageRules.ts';

/** What each kind of message is about, in words. */
export const KIND_TEXTS: Readonly<Record<CauseKind, string>> = {
  fault: 'a fault',
  stop: 'a printer waits',
  supply: 'a supply ends early',
  'at risk': 'the plan can’t finish',
  finished: 'the time away is over',
};

/** How somebody is told who is told for the first time: of all, every half hour until it is seen. */
export function newRule(personId: string): MessageRuleView {
  return { personId, kinds: [...CAUSE_KINDS], repeatMin: 30, escalate: null };
}

/** What is sent of what was read: what is only shown is left out. */
export function sentOf({ mail, week = null, rules, webhooks }: MessageSetupAnswer): MessageSetup {
  return { mail, week, rules, webhooks: webhooks.map(({ id, url, kinds }) => ({ id, url, kinds })) };
}

/** A kind is told or no longer told. */
export function withKind(kinds: readonly CauseKind[], kind: CauseKind, on: boolean): CauseKind[] {
  return CAUSE_KINDS.filter((each) => (each === kind ? on : kinds.includes(each)));
}
