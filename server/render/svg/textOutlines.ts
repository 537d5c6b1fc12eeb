import { type Font, openSync } from 'fontkit';
import { packageFile } from '../../files/packageFile.ts';

/** Subsets of the typeface, the one that most texts need first. */
const SUBSETS = ['latin', 'latin-ext', 'vietnamese'] as const;
const opened = new Map<string, Font>();

/** The program's own typeface, from its package: text on media looks the same wherever it is printed. */
function ownFont(subset: (typeof SUBSETS)[number]): Font {
  const known = opened.get(subset);
  if (known) return known;
  const font = openSync(packageFile(`@fontsource-variable/archivo/files/archivo-${subset}-wght-normal.woff2`));
  if ('fonts' in font) throw new Error('a collection of fonts where one was expected');
  opened.set(subset, font);
  return font;
}

interface Stretch {
  readonly font: Font;
  text: string;
}

/** The text in stretches that one subset can say; a letter that none has becomes a question mark, not an empty box. */
function stretchesOf(text: string): Stretch[] {
  const stretches: Stretch[] = [];
  for (const letter of text.normalize('NFC')) {
    const point = letter.codePointAt(0) ?? 0;
    const subset = SUBSETS.find((each) => ownFont(each).hasGlyphForCodePoint(point));
    const font = ownFont(subset ?? 'latin');
    const shown = subset ? letter : '?';
    const last = stretches[stretches.length - 1];
    if (last?.font === font) last.text += shown;
    else stretches.push({ font, text: shown });
  }
  return stretches;
}

export interface OutlinedText {
  /** PDF path operators; origin at the left of the base line, y up, in shares of the height of a line. */
  readonly path: string;
  readonly width: number;
  /** Of the base line above the foot of the line. */
  readonly descent: number;
}

/** Text as outlines, so that no font needs to be embedded. */
export function outlinedText(text: string): OutlinedText {
  const { ascent, descent } = ownFont('latin');
  const k = 1 / (ascent - descent);
  const path: string[] = [];
  let x = 0;
  for (const { font, text: part } of stretchesOf(text)) {
    const { glyphs, positions } = font.layout(part);
    glyphs.forEach((glyph, i) => {
      const { xOffset = 0, yOffset = 0, xAdvance = font.unitsPerEm / 2 } = positions[i] ?? {};
      path.push(glyphPath(glyph.path.commands, x + xOffset, yOffset, k));
      x += xAdvance;
    });
  }
  return { path: path.join(' '), width: x * k, descent: -descent * k };
}

/** The outline of a glyph, as the font library names it. */
type Commands = Font extends { layout: (...args: never[]) => { glyphs: (infer G)[] } }
  ? G extends { path: { commands: infer C } }
    ? C
    : never
  : never;

/** A glyph as operators of a PDF. Curves of TrueType are quadratic there and become cubic. */
function glyphPath(commands: Commands, dx: number, dy: number, k: number): string {
  const ops: string[] = [];
  let [cx, cy] = [0, 0];
  const point = (x: number, y: number): string => `${short((x + dx) * k)} ${short((y + dy) * k)}`;
  for (const { command, args } of commands) {
    const [a = 0, b = 0, c = 0, d = 0, e = 0, f = 0] = args;
    switch (command) {
      case 'moveTo':
        ops.push(`${point(a, b)} m`);
        [cx, cy] = [a, b];
        break;
      case 'lineTo':
        ops.push(`${point(a, b)} l`);
        [cx, cy] = [a, b];
        break;
      case 'quadraticCurveTo':
        // PDF knows cubic curves only: the same curve with two thirds of the way to its one handle.
        ops.push(
          `${point(cx + (2 / 3) * (a - cx), cy + (2 / 3) * (b - cy))} ${point(c + (2 / 3) * (a - c), d + (2 / 3) * (b - d))} ${point(c, d)} c`,
        );
        [cx, cy] = [c, d];
        break;
      case 'bezierCurveTo':
        ops.push(`${point(a, b)} ${point(c, d)} ${point(e, f)} c`);
        [cx, cy] = [e, f];
        break;
      case 'closePath':
        ops.push('h');
        break;
      default:
        break;
    }
  }
  return ops.join(' ');
}

function short(value: number): string {
  return Number(value.toFixed(5)).toString();
}
