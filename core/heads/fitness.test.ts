import fc from 'fast-check';
import { type ChannelHeads, type ModeAsks, lineClass, modeFitness } from './fitness.ts';
import { type ChannelFaults, NO_FAULTS, worthByNozzle } from './nozzleFaults.ts';

const HEAD: ChannelHeads = { head: 'carriage', heads: 1, nozzles: 768, nozzlesPerInch: 360, bars: 1 };
const MODE: ModeAsks = {
  dpiX: 720,
  dpiY: 720,
  passes: 6,
  classShare: 0.5,
  channelShare: 0.95,
  mostColumns: 2,
  mostShare: 0.005,
};
const ARRAY: ChannelHeads = { head: 'page-wide', heads: 1, nozzles: 48_000, nozzlesPerInch: 1200, bars: 6 };
const POSTERS = { ...MODE, dpiX: 1200, dpiY: 1200, passes: 1, mostColumns: 2, mostShare: 0.005 };
const PLANS = { ...MODE, dpiX: 600, dpiY: 600, passes: 1, mostColumns: 4, mostShare: 0.02 };

function faults(
  missing: readonly number[],
  weak: readonly number[] = [],
  crooked: readonly number[] = [],
): ChannelFaults {
  return { missing, weak, crooked };
}

test('six missing of 1,200 that are 200 apart leave one class empty at six passes', () => {
  const heads = { ...HEAD, nozzles: 1200 };
  const mode = { ...MODE, dpiY: 360 };
  const missing = [7, 207, 407, 607, 807, 1007];
  expect(modeFitness(heads, mode, faults(missing))).toMatchObject({
    fit: false,
    why: { code: 'class', kept: 0, of: 6, needs: 3 },
  });
  // The same number elsewhere is hidden by its neighbours in the class.
  expect(modeFitness(heads, mode, faults([7, 208, 409, 610, 811, 1012])).fit).toBe(true);
});

test('Heron Production: the class of nozzle 10 is 10, 266 and 522', () => {
  const same = Array.from({ length: 768 }, (_, j) => j).filter(
    (j) => lineClass(j, HEAD, MODE) === lineClass(10, HEAD, MODE),
  );
  expect(same).toEqual([10, 266, 522]);
  expect(modeFitness(HEAD, MODE, faults([10, 266]))).toMatchObject({ fit: false, why: { kept: 1, of: 3, needs: 1.5 } });
  expect(modeFitness(HEAD, MODE, faults([10, 138])).fit).toBe(true);
  expect(modeFitness(HEAD, MODE, faults([10], [266])).fit).toBe(true);
  expect(modeFitness(HEAD, MODE, faults([10], [266, 522])).fit).toBe(false);
});

test('Magpie Window: classes of two although a class is 22.5 nozzles long; one missing is fit', () => {
  const heads = { ...HEAD, nozzles: 360, nozzlesPerInch: 180 };
  const mode = { ...MODE, dpiY: 1440, passes: 16 };
  const same = Array.from({ length: 360 }, (_, j) => j).filter(
    (j) => lineClass(j, heads, mode) === lineClass(10, heads, mode),
  );
  expect(same).toEqual([10, 190]);
  expect(modeFitness(heads, mode, faults([10])).fit).toBe(true);
  expect(modeFitness(heads, mode, faults([10, 190])).fit).toBe(false);
});

test('a channel that fires too little as a whole is unfit although every class keeps enough', () => {
  const missing = Array.from({ length: 39 }, (_, i) => i);
  expect(modeFitness(HEAD, MODE, faults(missing))).toMatchObject({
    fit: false,
    why: { code: 'channel', share: 729 / 768, needs: 0.95 },
  });
  expect(modeFitness(HEAD, MODE, faults(missing.slice(1)))).toEqual({
    fit: true,
    firedShare: 730 / 768,
    banding: false,
  });
});

test('a second head with the same data hides what is missing in the first', () => {
  expect(modeFitness({ ...HEAD, heads: 2 }, MODE, faults([10, 266])).fit).toBe(true);
  expect(modeFitness({ ...HEAD, heads: 2 }, MODE, faults([10, 266, 522, 768 + 10])).fit).toBe(false);
});

/** Line classes counted one nozzle at a time, by the ranges of the passes. */
function fitByEnumeration(heads: ChannelHeads, mode: ModeAsks, found: ChannelFaults): boolean {
  const worth = worthByNozzle(found);
  const size = heads.nozzles / mode.passes;
  const interlaces = Math.ceil(mode.dpiY / heads.nozzlesPerInch);
  const classes = new Map<string, { kept: number; of: number }>();
  let kept = 0;
  for (let head = 0; head < heads.heads; head += 1) {
    let pass = 0;
    for (let j = 0; j < heads.nozzles; j += 1) {
      while (j >= (pass + 1) * size - 1e-9) pass += 1;
      const key = `${String(Math.floor(j - pass * size + 1e-9))}/${String(pass % interlaces)}`;
      const own = classes.get(key) ?? { kept: 0, of: 0 };
      const value = worth.get(head * heads.nozzles + j) ?? 1;
      classes.set(key, { kept: own.kept + value, of: own.of + 1 });
      kept += value;
    }
  }
  const every = [...classes.values()].every((own) => own.kept >= mode.classShare * own.of - 1e-9);
  return every && kept / (heads.nozzles * heads.heads) >= mode.channelShare - 1e-9;
}

test('fitness of a carriage agrees with counting every nozzle', () => {
  const nozzles = fc.integer({ min: 12, max: 96 });
  const some = (of: number): fc.Arbitrary<number[]> => fc.array(fc.nat(of - 1), { maxLength: 6 });
  fc.assert(
    fc.property(
      nozzles.chain((count) =>
        fc.record({
          heads: fc.constant(count),
          of: fc.integer({ min: 1, max: 3 }),
          passes: fc.integer({ min: 1, max: 8 }),
          dpiY: fc.constantFrom(180, 360, 720),
          missing: some(count * 3),
          weak: some(count * 3),
          crooked: some(count * 3),
          channelShare: fc.constantFrom(0.8, 0.95),
        }),
      ),
      ({ heads: count, of, passes, dpiY, missing, weak, crooked, channelShare }) => {
        const heads = { ...HEAD, nozzles: count, heads: of, nozzlesPerInch: 180 };
        const within = (list: readonly number[]): number[] => list.filter((n) => n < count * of);
        const found = faults(within(missing), within(weak), within(crooked));
        const mode = { ...MODE, passes, dpiY, channelShare };
        expect(modeFitness(heads, mode, found).fit).toBe(fitByEnumeration(heads, mode, found));
      },
    ),
    { numRuns: 300 },
  );
});

test('three of 472 columns: unfit for Posters, fit for Plans', () => {
  // Apart from one another, so that their share decides and not a streak.
  const found = faults([1000, 1100, 1200]);
  expect(modeFitness(ARRAY, POSTERS, found)).toMatchObject({ fit: false, why: { code: 'share', most: 0.005 } });
  const why = modeFitness(ARRAY, POSTERS, found);
  expect(!why.fit && why.why.code === 'share' && why.why.share).toBeCloseTo(0.0064, 4);
  expect(modeFitness(ARRAY, PLANS, found)).toEqual({ fit: true, firedShare: 1 - 3 / 48_000, banding: true });
  expect(modeFitness(ARRAY, POSTERS, faults([1000, 1100])).fit).toBe(true);
});

test('a streak through one bar is a fault; mild banding is normal', () => {
  const streak = faults([16_001, 16_002, 16_003]);
  expect(modeFitness(ARRAY, POSTERS, streak)).toMatchObject({
    fit: false,
    why: { code: 'streak', columns: 3, most: 2, bar: 2 },
  });
  const weak = faults(
    [],
    Array.from({ length: 40 }, (_, i) => 16_000 + i),
  );
  expect(modeFitness(ARRAY, POSTERS, weak)).toMatchObject({ fit: true, banding: true });
  expect(modeFitness(ARRAY, POSTERS, NO_FAULTS)).toEqual({ fit: true, firedShare: 1, banding: false });
});

test('a coarser mode fires a column by two nozzles: both must be missing', () => {
  const plans = { ...PLANS, mostColumns: 0, mostShare: 1 };
  expect(modeFitness(ARRAY, plans, faults([400])).fit).toBe(true);
  expect(modeFitness(ARRAY, plans, faults([400, 401])).fit).toBe(false);
  // Neighbours of two different columns.
  expect(modeFitness(ARRAY, plans, faults([401, 402])).fit).toBe(true);
});
