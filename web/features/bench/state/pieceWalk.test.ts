import { nextPiece, pieceText } from './pieceWalk.ts';
import type { RunDetail } from '../../../api/data.ts';

const at = (xMm: number, yMm: number) => ({ xMm, yMm, angleDeg: 0 });
// Two rows: b and a, then c. What lies half a millimetre lower is in the same row.
const PLACES = new Map([
  ['a', at(500, 10)],
  ['c', at(0, 300)],
  ['b', at(0, 10.5)],
]);

test('pieces are walked through as they are read, round and round, both ways', () => {
  const walk = (from: string | undefined, step: 1 | -1): string[] => {
    const seen: string[] = [];
    for (let key = nextPiece(PLACES, from, step); seen.length < 4; key = nextPiece(PLACES, key, step))
      seen.push(key ?? '');
    return seen;
  };
  expect(walk(undefined, 1)).toEqual(['b', 'a', 'c', 'b']);
  expect(walk(undefined, -1)).toEqual(['c', 'a', 'b', 'c']);
  expect(walk('gone', 1)[0]).toBe('b');
  expect(nextPiece(new Map(), undefined, 1)).toBeUndefined();
});

test('a piece is said with its place, its lock and what is wrong', () => {
  const run = {
    pieces: [{ pieceId: 'a', sourceName: 'sail.png', copy: 2, widthMm: 300, heightMm: 400 }],
  } as unknown as RunDetail;
  const places = new Map([['a', { xMm: 12.34, yMm: 1000, angleDeg: 90, locked: true }]]);
  expect(pieceText(run, places, 'a', true)).toBe(
    'sail.png, copy 3, 300 × 400 mm, turned, 1,000.0 mm along the feed, 12.3 mm from the left, locked, overlaps or lies outside',
  );
  expect(pieceText(run, places, 'gone', false)).toBe('');
});
