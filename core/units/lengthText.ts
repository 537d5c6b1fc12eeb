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

const FIGURE = String.raw`-?\d[\d,]*(?:\.\d+)?`;
const LENGTHS = new RegExp(`(?:(${FIGURE}) × )?(${FIGURE})${SPACE}(mm|m)\\b`, 'g');

/**
 * A text with its lengths shown otherwise.
 * @param text with lengths as they are made above
 * @param show of one length or both sides of a size: mm, and whether metres were said
 */
export function withLengths(text: string, show: (mm: readonly number[], along: boolean) => string): string {
  return text.replace(LENGTHS, (_, first: string | undefined, last: string, unit: string) => {
    const mm = [first, last].flatMap((figure) =>
      figure === undefined ? [] : [Number(figure.replaceAll(',', '')) * (unit === 'm' ? 1000 : 1)],
    );
    return show(mm, unit === 'm');
  });
}
