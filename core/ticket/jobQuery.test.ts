import { queryWords } from './jobQuery.ts';

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
