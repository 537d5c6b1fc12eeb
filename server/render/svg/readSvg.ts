import { createWriteStream } from 'node:fs';
import { mkdir, readFile, rename, stat } from 'node:fs/promises';
import { dirname } from 'node:path';
import PDFDocument from 'pdfkit';
import { SaxesParser } from 'saxes';
import svgToPdf from 'svg-to-pdfkit';
import { type LengthUnit, parseLength } from '../../../core/units/length.ts';
import { exists } from '../../files/atomic.ts';
import type { DataPaths } from '../../files/paths.ts';
import type { Limits } from '../../limits.ts';
import { type FileFacts, Unreadable } from '../facts.ts';
import { readPdf } from '../pdf/readPdf.ts';
import { svgCutLines, withoutGroups } from './svgCutLines.ts';

const PX_PER_INCH = 96;
const PT_PER_MM = 72 / 25.4;

interface SvgNature {
  readonly widthMm: number;
  readonly heightMm: number;
  /** Neither width nor height: the user units were taken for 1/96 in. */
  readonly assumed: boolean;
  readonly fonts: readonly string[];
}

/**
 * An SVG becomes a PDF once, and is from then on looked at and printed as that PDF: what is seen is what comes out. Scripts
 * are never run, and nothing outside the file is fetched.
 */
export async function readSvg(path: string, sha256: string, paths: DataPaths, limits: Limits): Promise<FileFacts> {
  const nature = await inspect(path, limits);
  await drawnAsPdf(path, sha256, nature, paths);
  const facts = await readPdf(paths.drawn(sha256), sha256, paths, limits);
  const named = svgCutLines(await readFile(path, 'utf8'), nature);
  return {
    ...facts,
    format: 'svg',
    pages: facts.pages.map((page) => ({ ...page, cutLines: [...named, ...(page.cutLines ?? [])] })),
    nature: { ...facts.nature, assumedDpi: nature.assumed ? PX_PER_INCH : null, missingFonts: [...nature.fonts] },
  };
}

/**
 * The PDF that an SVG is printed as; made again where it is missing.
 * @param without groups of this name are left out: they are cut along
 */
export async function svgAsPdf(
  path: string,
  sha256: string,
  paths: DataPaths,
  limits: Limits,
  without?: string,
): Promise<string> {
  const target = paths.drawn(sha256, without);
  if (!(await exists(target))) await drawnAsPdf(path, sha256, await inspect(path, limits), paths, without);
  return target;
}

/** Reads an SVG as a stream of elements and counts what it is made of. One that would load anything from elsewhere is refused. */
async function inspect(path: string, limits: Limits): Promise<SvgNature> {
  const { size } = await stat(path);
  if (size > limits.svgBytes) {
    throw new Unreadable(`The SVG is ${mib(size)} MiB; ${mib(limits.svgBytes)} MiB is the limit. Save it as PDF.`);
  }
  const text = await readFile(path, 'utf8');
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
    for (const [key, value] of Object.entries(attributes)) mustBeInside(local, key, value);
  });
  parser.on('closetag', ({ name }) => {
    depth -= 1;
    if (name.replace(/^.*:/, '').toLowerCase() === 'text') inText -= 1;
  });
  parser.on('text', (content) => {
    if (/@import|url\(\s*["']?(?!#|data:)/i.test(content) && /[{;]/.test(content)) outside(content.slice(0, 60));
  });
  parser.write(text).close();
  if (!root) throw new Unreadable('The SVG is empty.');
  return { ...sizeOf(root), fonts: [...fonts].filter(Boolean) };
}

function mib(bytes: number): string {
  return (bytes / 2 ** 20).toFixed(0);
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
function sizeOf(root: Readonly<Record<string, string>>): Omit<SvgNature, 'fonts'> {
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

async function drawnAsPdf(
  path: string,
  sha256: string,
  nature: SvgNature,
  paths: DataPaths,
  without?: string,
): Promise<void> {
  const target = paths.drawn(sha256, without);
  const text = await readFile(path, 'utf8');
  await mkdir(dirname(target), { recursive: true });
  const temporary = `${target}.${crypto.randomUUID()}.part`;
  // Pages beyond 14,400 pt need a user unit.
  const longest = Math.max(nature.widthMm, nature.heightMm) * PT_PER_MM;
  const unit = Math.max(1, Math.ceil(longest / 14_400));
  const width = (nature.widthMm * PT_PER_MM) / unit;
  const height = (nature.heightMm * PT_PER_MM) / unit;
  const document = new PDFDocument({
    size: [width, height],
    margin: 0,
    info: { CreationDate: new Date(0) },
    compress: true,
  });
  if (unit > 1) (document.page.dictionary.data as Record<string, unknown>).UserUnit = unit;
  const out = createWriteStream(temporary);
  const written = new Promise<void>((done, failed) => {
    out.on('finish', done).on('error', failed);
  });
  document.pipe(out);
  try {
    svgToPdf(document, without === undefined ? text : withoutGroups(text, without), 0, 0, {
      width,
      height,
      preserveAspectRatio: 'none',
      // Only what the file itself brings: no path and no address is ever opened.
      imageCallback: (link: string) => (link.startsWith('data:') ? link : ''),
      documentCallback: () => '',
      fontCallback: (_family: string, bold: boolean, italic: boolean) =>
        `Helvetica${bold || italic ? `-${bold ? 'Bold' : ''}${italic ? 'Oblique' : ''}` : ''}`,
    });
  } catch {
    document.end();
    throw new Unreadable('The SVG cannot be drawn. Save it as PDF.');
  }
  document.end();
  await written;
  await rename(temporary, target);
}
