import { isTooShort, queryWords } from './jobQuery.ts';

test('words are looked for anywhere, or in one field alone', () => {
  expect(queryWords('  Marram customer:Theatre 600×900 ')).toEqual([
    { field: 'all', text: 'marram' },
    { field: 'customer', text: 'theatre' },
    { field: 'all', text: '600x900' },
  ]);
});

test('a field that is only begun asks for nothing, a colon of a name is part of it', () => {
  expect(queryWords('customer: a:b size:3×4 order:×')).toEqual([
    { field: 'all', text: 'a:b' },
    { field: 'size', text: '3x4' },
    { field: 'order', text: '×' },
  ]);
});

test('words that can’t be looked up alone are told apart: short ones, and those about state and priority', () => {
  expect(['a', 'ab cd', 'customer:ab', 'state:shelved', 'priority:rush xy'].map(isTooShort)).toEqual(
    Array(5).fill(true),
  );
  expect(['', 'abc', 'a abc', 'customer:abc', 'state:shelved abc'].map(isTooShort)).toEqual(Array(5).fill(false));
});
