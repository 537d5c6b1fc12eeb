import { CAUSE_KINDS } from '../../../../core/messages/messageRules.ts';
import { KIND_TEXTS, newRule, sentOf, withKind } from './messageDraft.ts';

test('kinds keep their order whatever is ticked first, and each has words', () => {
  expect(withKind(['finished'], 'fault', true)).toEqual(['fault', 'finished']);
  expect(withKind(['fault', 'finished'], 'fault', false)).toEqual(['finished']);
  expect(withKind(['fault'], 'fault', true)).toEqual(['fault']);
  for (const kind of CAUSE_KINDS) expect(KIND_TEXTS[kind].length).toBeGreaterThan(3);
});

test('somebody new is told of everything; what is only shown is not sent', () => {
  expect(newRule('person-ida')).toEqual({
    personId: 'person-ida',
    kinds: [...CAUSE_KINDS],
    repeatMin: 30,
    escalate: null,
  });
  const sent = sentOf({
    ...{ mail: null, rules: [], people: [{ id: 'a', name: 'Ida', mail: null }], standInUrl: 'http://127.0.0.1:1/mail' },
    webhooks: [{ id: 'w', url: 'https://a.example', kinds: ['fault'], secret: 'told once' }],
  });
  expect(sent).toEqual({
    mail: null,
    week: null,
    rules: [],
    webhooks: [{ id: 'w', url: 'https://a.example', kinds: ['fault'] }],
  });
});
