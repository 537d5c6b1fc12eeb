import { SaxesParser } from 'saxes';
import svgpath from 'svgpath';
import type { CutLine } from '../../../core/contour/contourRule.ts';
import { curvePoints, ringFromPoints } from '../../../core/contour/flatten.ts';

type Attributes = Readonly<Record<string, string>>;
type Point = readonly [number, number];

const MOST_RINGS = 200;
const MOST_NAMES = 24;
/** What can't be followed by a knife: a group that holds it is artwork. */
const ARTWORK = new Set(['text', 'image', 'use', 'foreignobject']);

function localName(name: string): string {
  return name.replace(/^.*:/, '').toLowerCase();
}

/** What a group is called: its label where a drawing program gave it one, else its id. */
function groupName(attributes: Attributes): string | undefined {
  const label = Object.entries(attributes).find(([key]) => key.includes(':') && localName(key) === 'label')?.[1];
  const name = (label ?? attributes.id)?.trim();
  return name !== undefined && name !== '' && name.length <= 100 ? name : undefined;
}

/**
 * The closed lines of each named group of an SVG, from the upper left corner (mm). A group that holds more than such lines,
 * or more of them than a knife could follow, is artwork and left out.
 */
export function svgCutLines(text: string, size: { readonly widthMm: number; readonly heightMm: number }): CutLine[] {
  const found = new Map<string, number[][]>();
  const crowded = new Set<string>();
  const open: { readonly name: string | undefined; readonly transform: string }[] = [];
  let scale: readonly [number, number, number, number] | undefined;
  let defs = 0;
  const parser = new SaxesParser({ xmlns: false });
  parser.on('opentag', ({ name, attributes }) => {
    const local = localName(name);
    scale ??= rootScale(attributes, size);
    if (local === 'defs' || local === 'clippath' || local === 'mask' || local === 'symbol') defs += 1;
    const group = local === 'g' ? groupName(attributes) : undefined;
    open.push({ name: group, transform: attributes.transform ?? '' });
    const inside = open.flatMap((each) => each.name ?? []);
    if (defs > 0 || inside.length === 0) return;
    if (ARTWORK.has(local)) for (const each of inside) crowded.add(each);
    const d = pathOf(local, attributes);
    if (d === undefined) return;
    const rings = ringsOf(d, open.map((each) => each.transform).reverse(), scale);
    for (const each of inside) {
      if (!found.has(each) && found.size >= MOST_NAMES) continue;
      const all = [...(found.get(each) ?? []), ...rings];
      found.set(each, all);
      if (all.length > MOST_RINGS) crowded.add(each);
    }
  });
  parser.on('closetag', ({ name }) => {
    open.pop();
    if (['defs', 'clippath', 'mask', 'symbol'].includes(localName(name))) defs -= 1;
  });
  parser.write(text).close();
  return [...found]
    .filter(([name, rings]) => rings.length > 0 && !crowded.has(name))
    .map(([name, rings]) => ({ from: 'layer', name, rings }));
}

/** The SVG without the groups of a name: they are cut, not printed. */
export function withoutGroups(text: string, groupToDrop: string): string {
  const cuts: [number, number][] = [];
  const open: { readonly start: number; readonly drop: boolean }[] = [];
  const parser = new SaxesParser({ xmlns: false });
  parser.on('opentag', ({ name, attributes }) => {
    const start = text.lastIndexOf('<', parser.position - 1);
    open.push({ start, drop: localName(name) === 'g' && groupName(attributes) === groupToDrop });
  });
  parser.on('closetag', () => {
    const was = open.pop();
    if (was?.drop === true && !open.some((each) => each.drop)) cuts.push([was.start, parser.position]);
  });
  parser.write(text).close();
  let at = 0;
  let kept = '';
  for (const [from, to] of cuts) {
    kept += text.slice(at, from);
    at = to;
  }
  return kept + text.slice(at);
}

/** User units → mm: across, down, and where the view box begins. */
/** How user units become millimetres: as the view box is fitted into the size. */
function rootScale(
  { viewBox = '', preserveAspectRatio = '' }: Attributes,
  { widthMm, heightMm }: { readonly widthMm: number; readonly heightMm: number },
): readonly [number, number, number, number] {
  const [x = 0, y = 0, w = 0, h = 0] = viewBox
    .trim()
    .split(/[\s,]+/)
    .map(Number);
  const px = 25.4 / 96;
  if (!(w > 0 && h > 0)) return [px, px, 0, 0];
  const [across, down] = [widthMm / w, heightMm / h];
  if (/^\s*(defer\s+)?none/.test(preserveAspectRatio)) return [across, down, x, y];
  const k = /slice/.test(preserveAspectRatio) ? Math.max(across, down) : Math.min(across, down);
  const share = (axis: 'x' | 'Y'): number =>
    new RegExp(`${axis}Min`).test(preserveAspectRatio)
      ? 0
      : new RegExp(`${axis}Max`).test(preserveAspectRatio)
        ? 1
        : 0.5;
  return [k, k, x - (widthMm / k - w) * share('x'), y - (heightMm / k - h) * share('Y')];
}

/** A shape as a path; undefined for what has no outline. */
function pathOf(element: string, a: Attributes): string | undefined {
  const n = (key: string): number => Number.parseFloat(a[key] ?? '0') || 0;
  switch (element) {
    case 'path':
      return a.d;
    case 'rect': {
      const [x, y, w, h] = [n('x'), n('y'), n('width'), n('height')];
      const rx = Math.min(w / 2, 'rx' in a ? n('rx') : n('ry'));
      const ry = Math.min(h / 2, 'ry' in a ? n('ry') : n('rx'));
      if (rx <= 0 || ry <= 0) return `M${x} ${y}h${w}v${h}h${-w}z`;
      const arc = (dx: number, dy: number): string => `a${rx} ${ry} 0 0 1 ${dx} ${dy}`;
      return `M${x + rx} ${y}h${w - 2 * rx}${arc(rx, ry)}v${h - 2 * ry}${arc(-rx, ry)}h${2 * rx - w}${arc(-rx, -ry)}v${2 * ry - h}${arc(rx, -ry)}z`;
    }
    case 'circle':
    case 'ellipse': {
      const [rx, ry] = element === 'circle' ? [n('r'), n('r')] : [n('rx'), n('ry')];
      return `M${n('cx') - rx} ${n('cy')}a${rx} ${ry} 0 1 0 ${2 * rx} 0a${rx} ${ry} 0 1 0 ${-2 * rx} 0z`;
    }
    case 'polygon':
      return a.points === undefined ? undefined : `M${a.points}z`;
    case 'polyline':
      return a.points === undefined ? undefined : `M${a.points}`;
    default:
      return undefined;
  }
}

function ringsOf(
  d: string,
  transforms: readonly string[],
  [kx, ky, x0, y0]: readonly [number, number, number, number],
): number[][] {
  // Innermost first.
  let path = svgpath(d);
  for (const transform of transforms) if (transform !== '') path = path.transform(transform);
  path = path.translate(-x0, -y0).scale(kx, ky).abs().unshort().unarc();
  const rings: number[][] = [];
  let points: Point[] = [];
  const end = (closed: boolean): void => {
    const [a, b] = [points[0], points[points.length - 1]];
    const ring = a && b && (closed || Math.hypot(a[0] - b[0], a[1] - b[1]) < 0.05) ? ringFromPoints(points) : undefined;
    if (ring) rings.push(ring);
    points = [];
  };
  path.iterate((segment, _i, x, y) => {
    const [kind] = segment;
    const n = segment.slice(1).map(Number);
    const at = (i: number): Point => [n[i] ?? 0, n[i + 1] ?? 0];
    const here: Point = [x, y];
    if (kind === 'M') end(false);
    else if (points.length === 0) points.push(here);
    if (kind === 'M' || kind === 'L') points.push(at(0));
    else if (kind === 'H') points.push([n[0] ?? 0, y]);
    else if (kind === 'V') points.push([x, n[0] ?? 0]);
    else if (kind === 'C') points.push(...curvePoints(here, at(0), at(2), at(4)));
    else if (kind === 'Q') {
      const [q, to] = [at(0), at(2)];
      const third = (a: Point): Point => [a[0] + ((q[0] - a[0]) * 2) / 3, a[1] + ((q[1] - a[1]) * 2) / 3];
      points.push(...curvePoints(here, third(here), third(to), to));
    } else if (kind === 'Z') end(true);
  });
  end(false);
  return rings;
}
