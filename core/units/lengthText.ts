/**
 * Between a figure and its unit in sentences that are made here: a space at which no line breaks. It also tells a length that was
 * measured from a name that only looks like one ("Banner 3 m"), so that a page can show lengths in other units.
 */
const SPACE = '\u00a0';

/** "1,590.5 mm". @param most digits behind the point, as many as there are */
export function mmText(mm: number, most = 1): string {
  return `${mm.toLocaleString('en-GB', { maximumFractionDigits: most })}${SPACE}mm`;
}

/** "600 × 1,500.5 mm" */
export function mmSizeText(widthMm: number, heightMm: number): string {
  return `${widthMm.toLocaleString('en-GB', { maximumFractionDigits: 1 })} × ${mmText(heightMm)}`;
}

/** "12.40 m", of a roll or a run. */
export function metresText(mm: number, digits = 2): string {
  return `${(mm / 1000).toFixed(digits)}${SPACE}m`;
}

const FIGURE = String.raw`-?\d{1,9}(?:,\d{3}){0,3}(?:\.\d{1,9})?`;
/** What stands before the space … */
const BEFORE = new RegExp(`(?:(${FIGURE}) × )?(${FIGURE})$`);
/** … at most so long, and behind it. */
const LONGEST = 60;
const BEHIND = /^(mm|m)\b/;

/**
 * A text with its lengths shown otherwise. Whole answers of the server are read with it: only what stands around its spaces is
 * looked at.
 * @param text with lengths as they are made above
 * @param show of one length or both sides of a size: mm, and whether metres were said
 */
export function withLengths(text: string, show: (mm: readonly number[], along: boolean) => string): string {
  let done = '';
  let from = 0;
  for (let at = text.indexOf(SPACE); at >= 0; at = text.indexOf(SPACE, at + 1)) {
    const before = BEFORE.exec(text.slice(Math.max(from, at - LONGEST), at));
    const [, unit] = BEHIND.exec(text.slice(at + 1, at + 4)) ?? [];
    if (!before || unit === undefined) continue;
    const along = unit === 'm';
    const mm = before
      .slice(1)
      .flatMap((figure: string | undefined) =>
        figure === undefined ? [] : [Number(figure.replaceAll(',', '')) * (along ? 1000 : 1)],
      );
    done += text.slice(from, at - before[0].length) + show(mm, along);
    from = at + 1 + unit.length;
  }
  return done + text.slice(from);
}
