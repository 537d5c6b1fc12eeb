import { callsForCare, careRuleText, careTitle } from './careRule.ts';

const RUN = { outMm: 25_000, important: false, inkMl: { cyan: 3, white: 0 } };

test('a rule names runs by their length, their mark, or both; white is stirred only for white', () => {
  const check = { kind: 'check' } as const;
  const cases = [
    { what: check, overMm: 20_000, onlyImportant: false },
    { what: check, overMm: 25_000, onlyImportant: false },
    { what: check, overMm: null, onlyImportant: true },
    { what: { kind: 'stir' } as const, overMm: 20_000, onlyImportant: false },
  ];
  expect(cases.map((rule) => callsForCare(rule, RUN))).toEqual([true, false, false, false]);
  const white = { ...RUN, important: true, inkMl: { white: 1 } };
  expect(cases.map((rule) => callsForCare(rule, white))).toEqual([true, false, true, true]);
  // Both must hold.
  expect(callsForCare({ what: check, overMm: 30_000, onlyImportant: true }, white)).toBe(false);
});

test('rules are said as a person says them, and their care is called by what it is', () => {
  expect([
    careRuleText({ what: { kind: 'check' }, overMm: 20_000, onlyImportant: false }),
    careRuleText({ what: { kind: 'clean', strength: 'deep' }, overMm: null, onlyImportant: true }),
    careRuleText({ what: { kind: 'stir' }, overMm: 7_500, onlyImportant: true }),
  ]).toEqual([
    'nozzle check before every run over 20\u00a0m',
    'deep clean before every important run',
    'stir white before every important run over 7.50\u00a0m',
  ]);
  const planned = { care: [{ id: 'care-1', title: 'White' }], careRules: [{ id: 'rule-1', title: 'nozzle check' }] };
  expect(['care-1', 'rule-1@run-2', 'rule-10@run-2'].map((id) => careTitle(planned, id))).toEqual([
    'White',
    'nozzle check',
    'care',
  ]);
});
