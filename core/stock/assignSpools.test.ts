import fc from 'fast-check';
import { assignSpool } from './assignSpools.ts';

const spool = (widthMm: number, leftMm: number) => ({ widthMm, leftMm });

test('the shortest that is long and wide enough; else the longest that is wide enough', () => {
  const all = [spool(1600, 9000), spool(1600, 3000), spool(1370, 2000), spool(1600, 0)];
  expect(assignSpool(all, 1500, 2500)).toBe(all[1]);
  expect(assignSpool(all, 1300, 1500)).toBe(all[2]);
  expect(assignSpool(all, 1500, 9500)).toBe(all[0]);
  expect(assignSpool(all, 1700, 100)).toBeUndefined();
  expect(assignSpool([spool(1600, 0)], 100, 0)).toBeUndefined();
});

test('whatever stands on the rack: nothing that is enough is shorter, and where nothing is enough nothing is longer', () => {
  const any = fc.record({ widthMm: fc.integer({ min: 500, max: 2000 }), leftMm: fc.integer({ min: 0, max: 9000 }) });
  fc.assert(
    fc.property(
      fc.array(any, { maxLength: 8 }),
      fc.integer({ min: 500, max: 2000 }),
      fc.integer({ min: 0, max: 9000 }),
      (all, width, need) => {
        const best = assignSpool(all, width, need);
        const able = all.filter(({ widthMm, leftMm }) => widthMm >= width && leftMm > 0);
        const enough = able.filter(({ leftMm }) => leftMm >= need);
        const lengths = (enough.length > 0 ? enough : able).map(({ leftMm }) => leftMm);
        const right = enough.length > 0 ? Math.min(...lengths) : Math.max(...lengths);
        expect(best?.leftMm).toBe(able.length === 0 ? undefined : right);
      },
    ),
  );
});
