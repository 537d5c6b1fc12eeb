import { mkdir, readFile, stat } from 'node:fs/promises';
import { dirname } from 'node:path';
import { exists } from '../../files/atomic.ts';
import type { DataPaths } from '../../files/paths.ts';
import type { Limits } from '../../limits.ts';
import { type FileFacts, Unreadable } from '../facts.ts';
import { readPdf } from '../pdf/readPdf.ts';
import { type Drawn, drawSvg } from './drawSvg.ts';
import { PX_PER_INCH, type SvgNature, inspectSvg } from './inspectSvg.ts';
import { svgCutLines, withoutGroups } from './svgCutLines.ts';
import { sized, svgText, withVariables } from './svgText.ts';

interface ReadSvg {
  readonly text: string;
  readonly nature: SvgNature;
}

/**
 * An SVG becomes a PDF once, and is from then on looked at and printed as that PDF: what is seen is what comes out. Scripts
 * are never run, and nothing outside the file is fetched.
 */
export async function readSvg(path: string, sha256: string, paths: DataPaths, limits: Limits): Promise<FileFacts> {
  const { text, nature } = await open(path, limits);
  const { rasterDpi } = await draw(text, nature, paths.drawn(sha256));
  const facts = await readPdf(paths.drawn(sha256), sha256, paths, limits);
  const named = svgCutLines(text, nature);
  const { lost, letters } = nature;
  return {
    ...facts,
    format: 'svg',
    pages: facts.pages.map((page) => ({ ...page, cutLines: [...named, ...(page.cutLines ?? [])] })),
    nature: {
      ...facts.nature,
      assumedDpi: nature.assumed ? PX_PER_INCH : null,
      missingFonts: [...nature.fonts],
      ...(rasterDpi !== null || lost.length > 0 || letters.length > 0
        ? { svg: { rasterDpi, lost: [...lost], letters: [...letters] } }
        : {}),
    },
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
  if (!(await exists(target))) {
    const { text, nature } = await open(path, limits);
    await draw(without === undefined ? text : withoutGroups(text, without), nature, target);
  }
  return target;
}

async function open(path: string, limits: Limits): Promise<ReadSvg> {
  const { size } = await stat(path);
  if (size > limits.svgBytes) {
    throw new Unreadable(`The SVG is ${mib(size)} MiB; ${mib(limits.svgBytes)} MiB is the limit. Save it as PDF.`);
  }
  const { text, unknown } = withVariables(svgText(await readFile(path)));
  const nature = inspectSvg(text, limits);
  return {
    text: sized(text, nature),
    nature: {
      ...nature,
      lost: [...nature.lost, ...(unknown.length > 0 ? ['style variables with several values'] : [])],
    },
  };
}

function mib(bytes: number): string {
  return (bytes / 2 ** 20).toFixed(0);
}

async function draw(text: string, nature: SvgNature, target: string): Promise<Drawn> {
  await mkdir(dirname(target), { recursive: true });
  return drawSvg(text, nature, target);
}
