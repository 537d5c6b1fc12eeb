import { mayPrintWhileRendering } from './whilePrinting.ts';

test('figures: 20 m at 720 dpi on Heron, by how fast this machine renders', () => {
  const [megapixels, printMs] = [23.22, 3700];
  const bandMs = (perSecond: number): number => (megapixels / perSecond) * 1000;
  expect(bandMs(60)).toBeCloseTo(387, 0);
  expect(mayPrintWhileRendering(bandMs(60), printMs, 1)).toBe(true);
  expect(mayPrintWhileRendering(bandMs(9.12), printMs, 1)).toBe(false);
  // A clock that runs sixty times as fast leaves a sixtieth of the time.
  expect(mayPrintWhileRendering(bandMs(60), printMs, 60)).toBe(false);
  // Half as fast again as printing is just enough.
  expect(mayPrintWhileRendering(1000, 1500, 1)).toBe(true);
  expect(mayPrintWhileRendering(1001, 1500, 1)).toBe(false);
  // Nothing that was never timed, and no clock that stands, is taken for fast.
  expect(mayPrintWhileRendering(0, 1500, 1)).toBe(false);
  expect(mayPrintWhileRendering(1000, 1500, 0)).toBe(false);
});
