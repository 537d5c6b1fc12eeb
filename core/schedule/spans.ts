import type { TimeSpan } from './shopHours.ts';

/** Spans that lie in one of two lists, without what both have counted twice. */
export function joinSpans(one: readonly TimeSpan[], other: readonly TimeSpan[]): TimeSpan[] {
  const joined: { fromMs: number; toMs: number }[] = [];
  for (const { fromMs, toMs } of [...one, ...other].sort((a, b) => a.fromMs - b.fromMs)) {
    const last = joined.at(-1);
    if (last && fromMs <= last.toMs) last.toMs = Math.max(last.toMs, toMs);
    else joined.push({ fromMs, toMs });
  }
  return joined;
}

/** How long a span lies within others (ms); those don't overlap. */
export function within(fromMs: number, toMs: number, spans: readonly TimeSpan[]): number {
  return spans.reduce((sum, span) => sum + Math.max(0, Math.min(toMs, span.toMs) - Math.max(fromMs, span.fromMs)), 0);
}

/** The same of many spans asked again and again: how much of spans that don't overlap lies before an instant, weighted. */
export class SpanLengths {
  private readonly before: number[] = [0];

  constructor(
    /** In order. */
    private readonly spans: readonly TimeSpan[],
    private readonly weight: (at: number) => number = () => 1,
  ) {
    for (const [i, { fromMs, toMs }] of spans.entries()) {
      this.before.push((this.before[i] ?? 0) + (toMs - fromMs) * weight(i));
    }
  }

  between(fromMs: number, toMs: number): number {
    return this.until(toMs) - this.until(fromMs);
  }

  private until(ms: number): number {
    let low = 0;
    let high = this.spans.length;
    while (low < high) {
      const mid = (low + high) >> 1;
      if ((this.spans[mid]?.fromMs ?? 0) < ms) low = mid + 1;
      else high = mid;
    }
    const last = this.spans[low - 1];
    if (!last) return 0;
    const over = Math.max(0, last.toMs - ms) * this.weight(low - 1);
    return (this.before[low] ?? 0) - over;
  }
}
