import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { DataPaths } from '../../files/paths.ts';
import { readLimits } from '../../limits.ts';
import type { FileFacts } from '../../render/facts.ts';
import { layPdf } from '../../render/out/layPdf.ts';
import { firstLook, runTask } from '../../work/runTask.ts';

const LIMITS = readLimits({});

/** A file as the shop sees it and as it prints it: both pictures have the same size (px). */
export interface SeenAndPrinted {
  readonly facts: FileFacts;
  /** The picture on the screen, on white. */
  readonly seen: Buffer;
  /** The page in the file that goes to the printer, drawn by poppler. */
  readonly printed: Buffer;
  /** Parts of a page by its name: the colour in the middle of it, as seen and as printed. */
  readonly at: (xShare: number, yShare: number) => Promise<{ readonly seen: Rgb; readonly printed: Rgb }>;
}

type Rgb = readonly [number, number, number];

/** Brings a file in and lays it out. @param part one ink alone is printed @throws with the reason where it is refused */
export async function seenAndPrinted(bytes: Uint8Array, page = 0, part: string | null = null): Promise<SeenAndPrinted> {
  const root = mkdtempSync(join(tmpdir(), 'yellow-spool-seen-'));
  const paths = new DataPaths(root);
  paths.make();
  try {
    const path = join(root, 'in');
    writeFileSync(path, bytes);
    const answer = await firstLook(path, root, LIMITS);
    if (!answer.ok) throw new Error(answer.reason);
    const { sha256, facts } = answer;
    const { format } = facts;
    const found = facts.pages[page];
    if (!found) throw new Error('no such page');
    await runTask({
      kind: 'picture',
      input: { sha256, format, page, size: 'view', appearance: undefined },
      root,
      limits: LIMITS,
    });
    const { bleed } = found;
    const widthMm = found.widthMm + bleed.leftMm + bleed.rightMm;
    const heightMm = found.heightMm + bleed.topMm + bleed.bottomMm;
    const place = { xMm: 0, yMm: 0, angleDeg: 0, widthMm, heightMm };
    await layPdf(
      {
        key: 'laid',
        title: 't',
        widthMm,
        lengthMm: heightMm,
        art: [{ sha256, format, page, appearance: null, part, ...place }],
      },
      paths,
      LIMITS,
    );
    const seen = await sharp(paths.picture(sha256, page, 'view'))
      .flatten({ background: '#fff' })
      .png()
      .toBuffer();
    const { width, height } = await sharp(seen).metadata();
    const printed = popplerPicture(paths.laidOut('laid'), width, height);
    const at: SeenAndPrinted['at'] = async (x, y) => ({
      seen: await colourAt(seen, x, y),
      printed: await colourAt(printed, x, y),
    });
    return { facts, seen, printed, at };
  } finally {
    rmSync(root, { recursive: true });
  }
}

/** A page of a PDF as poppler draws it on white, with this many pixels. */
export function popplerPicture(file: string, width: number, height: number, page = 1): Buffer {
  const size = ['-scale-to-x', String(width), '-scale-to-y', String(height)];
  return execFileSync('pdftoppm', ['-png', '-singlefile', '-f', String(page), ...size, file], {
    maxBuffer: 2 ** 28,
    stdio: ['ignore', 'pipe', 'ignore'],
  });
}

async function colourAt(picture: Buffer, xShare: number, yShare: number): Promise<Rgb> {
  const { data, info } = await sharp(picture)
    .removeAlpha()
    .toColourspace('srgb')
    .raw()
    .toBuffer({ resolveWithObject: true });
  const x = Math.min(info.width - 1, Math.floor(xShare * info.width));
  const y = Math.min(info.height - 1, Math.floor(yShare * info.height));
  const from = (y * info.width + x) * info.channels;
  return [data[from] ?? 0, data[from + 1] ?? 0, data[from + 2] ?? 0];
}
