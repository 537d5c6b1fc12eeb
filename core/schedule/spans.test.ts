import fc from 'fast-check';
import { SpanLengths, joinSpans, within } from './spans.ts';

const anySpans = fc
  .array(fc.record({ gap: fc.nat(20), length: fc.integer({ min: 1, max: 30 }) }), { maxLength: 12 })
  .map((steps) => {
    let at = 0;
    return steps.map(({ gap, length }) => {
      const fromMs = at + gap;
      at = fromMs + length;
      return { fromMs, toMs: at };
    });
  });
const seconds = (spans: readonly { fromMs: number; toMs: number }[], from: number, to: number): number => {
  let count = 0;
  for (let ms = from; ms < to; ms += 1) if (spans.some(({ fromMs, toMs }) => ms >= fromMs && ms < toMs)) count += 1;
  return count;
};

test('time within spans is what counting instant by instant gives, also asked for many times, and weighted', () => {
  fc.assert(
    fc.property(anySpans, fc.nat(300), fc.nat(100), (spans, from, length) => {
      const to = from + length;
      const counted = seconds(spans, from, to);
      expect(within(from, to, spans)).toBe(counted);
      expect(new SpanLengths(spans).between(from, to)).toBe(counted);
      const weighted = spans.reduce((sum, span, i) => sum + (i + 1) * within(from, to, [span]), 0);
      expect(new SpanLengths(spans, (at) => at + 1).between(from, to)).toBeCloseTo(weighted, 9);
    }),
  );
});

test('joined spans hold what lies in one or the other, once', () => {
  fc.assert(
    fc.property(anySpans, anySpans, (one, other) => {
      const joined = joinSpans(one, other);
      expect(within(0, 1000, joined)).toBe(seconds([...one, ...other], 0, 1000));
      for (const [i, { fromMs }] of joined.entries()) expect(fromMs).toBeGreaterThan(joined[i - 1]?.toMs ?? -1);
    }),
  );
});
