/**
 * A scale as it is written: `1:10`, `1-10`, `1/10`, `1 to 10` and `1zu10` are of a drawing that is printed ten times as large;
 * `50 %` of one that is printed half as large. What is drawn larger than it becomes is `2:1`.
 * @returns per cent; undefined where it is none, or beyond what can be meant
 */
export function parseScale(text: string): number | undefined {
  const ratio = /^\s*(\d{1,4})\s*(?:[:/_-]|zu|to|in)\s*(\d{1,4})\s*$/i.exec(text);
  const percent = ratio
    ? (100 * Number(ratio[2])) / Number(ratio[1])
    : /^\s*\d+(?:[.,]\d+)?\s*%?\s*$/.test(text)
      ? Number(text.replace(/\s*%\s*$/, '').replace(',', '.'))
      : NaN;
  return percent > 0 && percent <= MOST_PERCENT ? percent : undefined;
}

const MOST_PERCENT = 100_000;
