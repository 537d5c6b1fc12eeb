import fc from 'fast-check';
import { quotePriceMinor } from './quotePrice.ts';

const TERMS = { marginShare: 0.6, leastPriceMinor: 0 };

test('the worked figure: ink 6.0240, media 67.4016 and time 25.3649 with 60 % of it are 158.06', () => {
  expect(quotePriceMinor((6.024 + 67.4016 + 25.3649) * 1e6, TERMS)).toBe(15_806);
});

test('half a cent goes up, and nothing is below the least price', () => {
  expect(quotePriceMinor(15_000, { marginShare: 0, leastPriceMinor: 0 })).toBe(2);
  expect(quotePriceMinor(14_999, { marginShare: 0, leastPriceMinor: 0 })).toBe(1);
  expect(quotePriceMinor(1_000_000, { ...TERMS, leastPriceMinor: 2500 })).toBe(2500);
});

test('more cost or margin is never a lower price', () => {
  const amount = fc.integer({ min: 0, max: 1e10 });
  const share = fc.double({ min: 0, max: 5, noNaN: true });
  fc.assert(
    fc.property(amount, amount, share, share, (cost, more, margin, extra) => {
      const price = quotePriceMinor(cost, { marginShare: margin, leastPriceMinor: 0 });
      expect(quotePriceMinor(cost + more, { marginShare: margin + extra, leastPriceMinor: 0 })).toBeGreaterThanOrEqual(
        price,
      );
    }),
  );
});
