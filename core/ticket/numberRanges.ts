import { type Result, ok, refuse } from '../result.ts';

/**
 * Numbers as people write them: `3, 7, 12–15` is 3, 7, 12, 13, 14, 15. Commas, semicolons and spaces part; a hyphen or a dash
 * spans. Each number once, in order.
 * @param most the highest number that there is
 * @returns the numbers, or the part that can't be read or lies outside of 1 … most
 */
export function readRanges(text: string, most: number): Result<number[], string> {
  const numbers = new Set<number>();
  // A dash with spaces around it still spans.
  const parts = text
    .replace(/\s*[-–—]\s*/g, '-')
    .split(/[\s,;]+/)
    .filter(Boolean);
  for (const part of parts) {
    const [, first, last = first] = /^(\d{1,6})(?:-(\d{1,6}))?$/.exec(part) ?? [];
    const from = Number(first);
    const to = Number(last);
    if (first === undefined || from < 1 || to > most || from > to) return refuse(part);
    for (let n = from; n <= to; n += 1) numbers.add(n);
  }
  return ok([...numbers].sort((a, b) => a - b));
}
