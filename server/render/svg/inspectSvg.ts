import { SaxesParser } from 'saxes';
import { type LengthUnit, parseLength } from '../../../core/units/length.ts';
import type { Limits } from '../../limits.ts';
import { Unreadable } from '../facts.ts';
import { canWrite } from './svgFonts.ts';

export const PX_PER_INCH = 96;
/** Elements that are not drawn, by what they are. */
const LOST: Readonly<Record<string, string>> = {
  foreignobject: 'web pages within it',
  animate: 'animation',
  animatetransform: 'animation',
  animatemotion: 'animation',
  set: 'animation',
};
const MOST_LETTERS = 40;
const GEOMETRY = /(?:^|[;{\s])(?:x|y|cx|cy|r|rx|ry|width|height|d)\s*:/;

export interface SvgNature {
  readonly widthMm: number;
  readonly heightMm: number;
  /** Neither width nor height: the user units were taken for 1/96 in. */
  readonly assumed: boolean;
  readonly fonts: readonly string[];
  /** What is in it and comes out in neither drawing. */
  readonly lost: readonly string[];
  /** Letters that no typeface here has. */
  readonly letters: readonly string[];
}

/** Reads an SVG as a stream of elements and counts what it is made of. One that would load anything from elsewhere is refused. */
export function inspectSvg(text: string, limits: Limits): SvgNature {
  const parser = new SaxesParser({ xmlns: false });
  let root: Readonly<Record<string, string>> | undefined;
  let depth = 0;
  let elements = 0;
  let inText = 0;
  const fonts = new Set<string>();
  parser.on('doctype', (doctype) => {
    if (doctype.includes('[') || /<!ENTITY/i.test(doctype)) {
      throw new Unreadable('The SVG defines entities of its own, which are not read. Save it without them.');
    }
  });
  parser.on('error', (error) => {
    throw new Unreadable(`The SVG is damaged: ${error.message.slice(0, 120)}.`);
  });
  parser.on('opentag', ({ name, attributes }) => {
    depth += 1;
    elements += 1;
    if (depth > limits.xmlDepth) throw new Unreadable(`The SVG is nested more than ${String(limits.xmlDepth)} deep.`);
    if (elements > limits.svgElements) {
      throw new Unreadable(`The SVG has more than ${String(limits.svgElements)} elements. Save it as PDF.`);
    }
    const local = name.replace(/^.*:/, '').toLowerCase();
    if (!root) {
      if (local !== 'svg') throw new Unreadable('Not an SVG inside, although it begins like one.');
      root = attributes;
    }
    if (local === 'text') inText += 1;
    if (local === 'text' || inText > 0) {
      const family = attributes['font-family'] ?? /font-family\s*:\s*([^;]+)/.exec(attributes.style ?? '')?.[1];
      if (family !== undefined) fonts.add(family.replace(/["']/g, '').split(',')[0]?.trim() ?? '');
      else if (local === 'text') fonts.add('unnamed font');
    }
    const left = LOST[local];
    if (left !== undefined) lost.add(left);
    if (GEOMETRY.test(attributes.style ?? '')) lost.add('sizes and places in style sheets');
    for (const [key, value] of Object.entries(attributes)) mustBeInside(local, key, value);
  });
  parser.on('closetag', ({ name }) => {
    depth -= 1;
    if (name.replace(/^.*:/, '').toLowerCase() === 'text') inText -= 1;
  });
  const lost = new Set<string>();
  const letters = new Set<string>();
  parser.on('text', (content) => {
    if (inText > 0 && letters.size < MOST_LETTERS) {
      for (const letter of content) if (!canWrite(letter)) letters.add(letter);
    }
    if (GEOMETRY.test(content) && content.includes('{')) lost.add('sizes and places in style sheets');
    if (/@import|url\(\s*["']?(?!#|data:)/i.test(content) && /[{;]/.test(content)) outside(content.slice(0, 60));
  });
  parser.write(text).close();
  if (!root) throw new Unreadable('The SVG is empty.');
  return { ...sizeOf(root), fonts: [...fonts].filter(Boolean), lost: [...lost], letters: [...letters] };
}

function mustBeInside(element: string, key: string, value: string): void {
  const local = key.replace(/^.*:/, '').toLowerCase();
  const link =
    (local === 'href' || local === 'src') && element !== 'a' && value.trim() !== '' && !/^\s*(#|data:)/i.test(value);
  if (link) outside(value);
  if (/url\(\s*["']?(?!#|data:)\s*[a-z/.]/i.test(value)) outside(value);
}

function outside(what: string): never {
  throw new Unreadable(
    `The SVG needs something outside the file (${what.trim().slice(0, 60)}), which is never fetched. Embed it.`,
  );
}

/** Size of an SVG: what it says, else its view box at 96 pixels an inch. */
function sizeOf(root: Readonly<Record<string, string>>): Pick<SvgNature, 'widthMm' | 'heightMm' | 'assumed'> {
  const box = (root.viewBox ?? '')
    .trim()
    .split(/[\s,]+/)
    .map(Number);
  const [, , boxW = 0, boxH = 0] = box.length === 4 && box.every(Number.isFinite) ? box : [];
  const width = lengthMm(root.width);
  const height = lengthMm(root.height);
  const px = 25.4 / PX_PER_INCH;
  const ratio = boxW > 0 && boxH > 0 ? boxH / boxW : undefined;
  const w = width ?? (height !== undefined && ratio !== undefined ? height / ratio : undefined) ?? boxW * px;
  const h = height ?? (width !== undefined && ratio !== undefined ? width * ratio : undefined) ?? boxH * px;
  if (!(w > 0.1 && h > 0.1 && w < 1e6 && h < 1e6))
    throw new Unreadable('The SVG has no usable size: neither width and height nor a viewBox.');
  return { widthMm: w, heightMm: h, assumed: width === undefined && height === undefined };
}

/** A length of an SVG in mm; px, pt, pc, Q and bare numbers beside the usual units. Percentages say nothing. */
function lengthMm(text: string | undefined): number | undefined {
  const match = /^\s*\+?(\d*\.?\d+(?:e[+-]?\d+)?)\s*(px|pt|pc|q|mm|cm|m|in)?\s*$/i.exec(text ?? '');
  if (!match) return undefined;
  const value = Number(match[1]);
  const unit = (match[2] ?? 'px').toLowerCase();
  const inch = { px: PX_PER_INCH, pt: 72, pc: 6 }[unit];
  if (inch !== undefined) return (value / inch) * 25.4;
  if (unit === 'q') return value / 4;
  const parsed = parseLength(String(value), unit as LengthUnit);
  return parsed.ok ? parsed.value : undefined;
}
