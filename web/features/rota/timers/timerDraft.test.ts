import type { TimerView } from '../../../../contract/api/care.ts';
import { type TimerDraft, bodyOf, draftOf, ruleOf } from './timerDraft.ts';

const DRAFT: TimerDraft = {
  printerIds: ['wren'],
  what: { kind: 'check' },
  when: 'every day',
  date: '2027-03-24',
  time: '04:15',
  every: 6,
  days: ['TH', 'MO'],
  monthDay: -1,
  until: '',
  skipHolidays: false,
  missed: 'report',
  slackMin: 60,
};

test('each choice is a rule, and the form shows the same choice again', () => {
  const rules = {
    once: null,
    'every day': 'FREQ=DAILY',
    'on weekdays': 'FREQ=WEEKLY;BYDAY=MO,TH',
    'every so many hours': 'FREQ=HOURLY;INTERVAL=6',
    'every so many days': 'FREQ=DAILY;INTERVAL=6',
    monthly: 'FREQ=MONTHLY;BYMONTHDAY=-1',
  } as const;
  for (const [when, rrule] of Object.entries(rules)) {
    const draft = { ...DRAFT, when: when as TimerDraft['when'] };
    expect(ruleOf(draft)).toBe(rrule);
    const { printerIds: _, ...body } = bodyOf(draft);
    const timer = {
      ...body,
      id: 't',
      groupId: 'g',
      printerId: 'wren',
      text: '',
      title: '',
      nextMs: null,
      version: 0,
    } satisfies TimerView;
    const shown = draftOf(timer);
    expect(shown && ruleOf(shown)).toBe(rrule);
    expect(shown).toMatchObject({ when, date: '2027-03-24', time: '04:15' });
  }
});

test('the last day counts whole; what another program made and the form can not show is not guessed at', () => {
  expect(bodyOf({ ...DRAFT, until: '2027-04-01' }).untilLocal).toBe('2027-04-01T23:59');
  const { printerIds: _, ...body } = bodyOf(DRAFT);
  const timer = { ...body, id: 't', groupId: 'g', printerId: 'wren', text: '', title: '', nextMs: null, version: 0 };
  expect(draftOf({ ...timer, rrule: 'FREQ=WEEKLY;INTERVAL=2;BYDAY=MO' })).toBeNull();
  expect(draftOf({ ...timer, rrule: 'FREQ=MONTHLY;BYMONTHDAY=1,15' })).toBeNull();
});
