import fc from 'fast-check';
import { seededRandom } from '../../random.ts';
import { RowPacker } from './rowPacker.ts';
import type { SizeClass } from './types.ts';

const anyClass = fc.record({
  w: fc.integer({ min: 8, max: 400 }),
  h: fc.integer({ min: 8, max: 900 }),
  turnable: fc.boolean(),
  count: fc.integer({ min: 1, max: 12 }),
});

function classesOf(list: readonly { w: number; h: number; turnable: boolean; count: number }[]): SizeClass[] {
  return list.map(({ w, h, turnable, count }) => ({
    w,
    h,
    turnedW: h,
    turnedH: w,
    turnable: turnable && h <= 1000 && w !== h,
    count,
  }));
}

test('rows are sound: nothing overlaps or leaves the width, every piece is placed or left, the skyline is true', () => {
  fc.assert(
    fc.property(fc.array(anyClass, { minLength: 4, maxLength: 40 }), fc.integer(), (list, seed) => {
      const classes = classesOf(list);
      const total = classes.reduce((sum, c) => sum + c.count, 0);
      const packing = new RowPacker(classes, 1000, 0.5, seededRandom(seed)).run(Math.floor(total / 5), () => false);
      if (!packing) throw new Error('it gave up without being told to');
      const { placed, start } = packing;
      const rects = placed.map(({ classIndex, turned, x, y }) => {
        const c = classes[classIndex];
        if (!c) throw new Error('a piece of no class');
        if (turned) expect(c.turnable).toBe(true);
        return { x, y, w: turned ? c.turnedW : c.w, h: turned ? c.turnedH : c.h };
      });
      expect(rects.filter((r) => r.x < 0 || r.x + r.w > 1000 || r.y < 0)).toEqual([]);
      const overlaps = rects.flatMap((a, i) =>
        rects
          .slice(i + 1)
          .filter((b) => a.x < b.x + b.w && b.x < a.x + a.w && a.y < b.y + b.h && b.y < a.y + a.h)
          .map((b) => [a, b]),
      );
      expect(overlaps).toEqual([]);
      classes.forEach((c, i) => {
        expect(placed.filter((piece) => piece.classIndex === i).length + (start.left[i] ?? NaN)).toBe(c.count);
      });
      expect(start.packedCount).toBe(placed.length);
      const area = rects.reduce((sum, r) => sum + r.w * r.h, 0);
      expect(start.packedArea).toBe(area);
      let under = 0;
      for (let s = 0; s < start.segments; s++) {
        const [from, to, y] = [start.sx[s] ?? NaN, start.sx[s + 1] ?? NaN, start.sy[s] ?? NaN];
        under += (to - from) * y;
        // Nothing stands higher than the skyline says.
        expect(rects.filter((r) => r.x < to && r.x + r.w > from && r.y + r.h > y)).toEqual([]);
      }
      expect(start.waste).toBe(under - area);
    }),
    { numRuns: 150, seed: 31 },
  );
});

test('what adds up exactly is packed without any loss, and told to stop it gives up', () => {
  const classes = classesOf([
    { w: 200, h: 300, turnable: false, count: 10 },
    { w: 125, h: 300, turnable: false, count: 16 },
  ]);
  const packing = new RowPacker(classes, 1000).run(0, () => false);
  expect(packing?.start).toMatchObject({ waste: 0, packedCount: 26, segments: 1 });
  expect(packing?.start.sy[0]).toBe(1200);
  expect(new RowPacker(classes, 1000).run(0, () => true)).toBeUndefined();
});

test('a width that is no multiple of what the pieces are cut in is filled as far as they can', () => {
  // In half millimetres on 914.4: at most 914 can be filled, and is.
  const random = seededRandom(8);
  const classes = Array.from({ length: 400 }, () => {
    const w = 5 * (80 + Math.floor(random() * 500));
    const h = 5 * (80 + Math.floor(random() * 60));
    return { w, h, turnedW: h, turnedH: w, turnable: false, count: 1 };
  });
  const packing = new RowPacker(classes, 9144).run(120, () => false);
  if (!packing) throw new Error('the time was not over');
  const rows = new Map<number, number>();
  for (const { classIndex, y } of packing.placed) rows.set(y, (rows.get(y) ?? 0) + (classes[classIndex]?.w ?? 0));
  expect([...rows.values()].filter((width) => width === 9140).length).toBeGreaterThan(3);
});

test('the time is asked for even where no row can be filled at all', () => {
  // Three of 300 leave 100 of 1000 empty, whichever they are: every row is tried in vain.
  const classes = Array.from({ length: 2000 }, (_, i) => {
    const h = 100 + (i % 50);
    return { w: 300, h, turnedW: h, turnedH: 300, turnable: false, count: 1 };
  });
  let asked = 0;
  const packer = new RowPacker(classes, 1000);
  expect(packer.run(100, () => ++asked > 3)).toBeUndefined();
  expect(packer.steps).toBeGreaterThan(0);
  expect(packer.steps).toBeLessThan(200);
});
