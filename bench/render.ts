/*
 * How fast runs become dots: million dots a second of one core (with all their channels), beside the page library alone on the same
 * windows, and what two threads do beside one. CPU is counted, not the clock on the wall. Usage: npm run bench:render
 */
import { mkdirSync, mkdtempSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { PDFDocument, StandardFonts, rgb } from '@cantoo/pdf-lib';
import Piscina from 'piscina';
import sharp from 'sharp';
import { PLAIN_TONE } from '../core/coats/tone.ts';
import { BAND_ROWS, PART_ROWS, WARM_UP_ROWS, partCount } from '../core/raster/bands.ts';
import { seededRandom } from '../core/random.ts';
import { profileFile } from '../server/demo/profileFile.ts';
import { HERON, heronCoat, putHeronProfile } from '../server/testing/heronCoat.ts';
import { DataPaths } from '../server/files/paths.ts';
import { PageWindows } from '../server/render/channels/pageWindows.ts';
import { previewColour } from '../server/render/colour/previewColour.ts';
import { type CoatOrder, renderPart, underOf } from '../server/render/channels/renderPart.ts';
import { readLimits } from '../server/limits.ts';
import type { WorkerTask } from '../server/work/kinds.ts';

const root = mkdtempSync(join(tmpdir(), 'yellow-spool-render-'));
const paths = new DataPaths(root);
paths.make();
const [WIDTH_MM, LENGTH_MM, DPI] = [1600, 500, 720];
const PT = 72 / 25.4;
const dots = (mm: number): number => Math.round((mm / 25.4) * DPI);
const [width, height] = [dots(WIDTH_MM), dots(LENGTH_MM)];
const mpx = (width * height) / 1e6;
const random = seededRandom(3);

/** How soon a print is seen after a change, at the size of a screen: by the clock, the middle one of many. */
async function previews(jpeg: Uint8Array): Promise<void> {
  const picture = join(root, 'page.webp');
  await sharp(jpeg).resize(1600, 1600, { fit: 'inside' }).webp().toFile(picture);
  const { channels, intent } = coat('photo', 'preview');
  const seen = {
    isWide: false,
    picture,
    channels,
    profile: HERON,
    intent,
    crop: { x: 0, y: 0, width: 1, height: 1 },
    mostPx: 900,
  };
  for (const [what, saturation] of [
    ['a change of brightness', 0],
    ['a change of saturation', 1],
  ] as const) {
    const times: number[] = [];
    for (let i = 0; i < 25; i += 1) {
      const tone = { ...PLAIN_TONE, brightness: i, saturation: saturation * i };
      const start = performance.now();
      await previewColour({ ...seen, tone, curves: [], inkLimit: 2.4, view: 'print', paperWhite: false }, paths);
      times.push(performance.now() - start);
    }
    times.sort((a, b) => a - b);
    console.log(`print seen after ${what}, 900 px: ${(times[12] ?? NaN).toFixed(0)} ms`);
  }
}

async function vectors(): Promise<Uint8Array> {
  const document = await PDFDocument.create();
  const page = document.addPage([WIDTH_MM * PT, LENGTH_MM * PT]);
  const font = await document.embedFont(StandardFonts.Helvetica);
  for (let i = 0; i < 750; i += 1) {
    const color = rgb(random(), random(), random());
    page.drawCircle({
      x: random() * WIDTH_MM * PT,
      y: random() * LENGTH_MM * PT,
      size: (5 + 30 * random()) * PT,
      color,
      opacity: 0.6,
    });
    if (i % 4 === 0)
      page.drawText('Yellow Spool', { x: random() * WIDTH_MM * PT, y: random() * LENGTH_MM * PT, size: 40, font });
  }
  return document.save();
}

/** Noise on slopes, as a photograph has it: 11 million pixels. */
async function photoJpeg(): Promise<Uint8Array> {
  const [w, h] = [6000, 1875];
  const pixels = new Uint8Array(w * h * 3);
  for (let i = 0; i < w * h; i += 1) {
    const [x, y] = [(i % w) / w, Math.floor(i / w) / h];
    const base = [
      128 + 100 * Math.sin(9 * x + 4 * y),
      128 + 90 * Math.cos(7 * y - 3 * x),
      128 + 80 * Math.sin(12 * x * y),
    ];
    base.forEach((value, c) => {
      pixels[i * 3 + c] = Math.max(0, Math.min(255, value + 24 * (random() - 0.5)));
    });
  }
  return sharp(pixels, { raw: { width: w, height: h, channels: 3 } })
    .jpeg({ quality: 90 })
    .toBuffer();
}

/** A photograph over all of a run: as a picture of its own, or within a page of a PDF. */
async function photo(jpeg: Uint8Array, isPage: boolean): Promise<Uint8Array> {
  const document = await PDFDocument.create();
  const page = document.addPage([WIDTH_MM * PT, LENGTH_MM * PT]);
  const all = { x: 0, y: 0, width: WIDTH_MM * PT, height: LENGTH_MM * PT };
  page.drawImage(await document.embedJpg(jpeg), all);
  if (!isPage) return document.save();
  const run = await PDFDocument.create();
  const [form] = await run.embedPdf(await document.save());
  if (!form) throw new Error('no page');
  run.addPage([WIDTH_MM * PT, LENGTH_MM * PT]).drawPage(form, all);
  return run.save();
}

const coat = (pdfKey: string, key: string): CoatOrder => heronCoat(key, pdfKey, width, height, DPI);

/** Seconds of CPU that something takes, the better of two. */
async function cpuS(act: (round: number) => Promise<void>): Promise<number> {
  let best = Infinity;
  for (let round = 0; round < 2; round += 1) {
    const before = process.cpuUsage();
    await act(round);
    const { user, system } = process.cpuUsage(before);
    best = Math.min(best, (user + system) / 1e6);
  }
  return best;
}

const line = (label: string, seconds: number, of = mpx): string =>
  `${label.padEnd(44)} ${(of / seconds).toFixed(1).padStart(7)} Mpx/s`;

try {
  putHeronProfile(paths);
  const jpeg = await photoJpeg();
  mkdirSync(dirname(paths.laidOut('x')), { recursive: true });
  writeFileSync(paths.laidOut('vectors'), await vectors());
  writeFileSync(paths.laidOut('photo'), await photo(jpeg, true));
  writeFileSync(paths.laidOut('picture'), await photo(jpeg, false));
  console.log(`${String(width)} × ${String(height)} dots, ${mpx.toFixed(0)} Mpx, six channels\n`);
  // The table is baked once for a run.
  await renderPart({ coat: coat('vectors', 'warm'), part: 0 }, paths);
  for (const kind of ['vectors', 'photo']) {
    const alone = await cpuS(async () => {
      const windows = await PageWindows.open(paths.laidOut(kind), width, height);
      for (let top = 0; top < height; top += BAND_ROWS) {
        windows.draw(Math.max(0, top - WARM_UP_ROWS), Math.min(height, top + BAND_ROWS));
      }
      windows.close();
    });
    const whole = await cpuS(async (round) => {
      for (let part = 0; part < partCount(height); part += 1) {
        await renderPart({ coat: coat(kind, `${kind}-${String(round)}`), part }, paths);
      }
    });
    let bytes = 0;
    for (let part = 0; part < partCount(height); part += 1)
      bytes += statSync(paths.coatPart(`${kind}-0`, part, 'dots')).size;
    console.log(line(`${kind}: page library alone, same windows`, alone));
    console.log(line(`${kind}: file to dots on the disk`, whole));
    console.log(
      `${kind}: ${(alone / whole).toFixed(2)} × the page library; ${(bytes / mpx / 1e6).toFixed(3)} bytes a dot\n`,
    );
  }
  const rss = process.memoryUsage().rss / 2 ** 20;
  console.log(`this process after all of it: ${rss.toFixed(0)} MiB\n`);
  const whole = await cpuS(async (round) => {
    const order = coat('picture', `picture-${String(round)}`);
    await underOf(order, paths);
    for (let part = 0; part < partCount(height); part += 1) await renderPart({ coat: order, part }, paths);
  });
  console.log(line('picture: file to dots on the disk', whole));
  const profile = profileFile('Heron banner 6-pass');
  const converted = join(root, 'converted.raw');
  const sharpAlone = await cpuS(async () => {
    const bytes = await sharp(jpeg)
      .resize(width, Math.round(height / 8), { fit: 'fill', kernel: 'cubic' })
      .withIccProfile(profile)
      .raw()
      .toBuffer();
    writeFileSync(converted, bytes);
  });
  console.log(line('picture: image library, resize and convert', sharpAlone, mpx / 8));
  console.log(`picture: ${(mpx / whole / (mpx / 8 / sharpAlone)).toFixed(2)} × the image library\n`);

  await previews(jpeg);

  // Wall time: both threads need a core of their own.
  for (const threads of [1, 2]) {
    const pool = new Piscina({
      filename: join(import.meta.dirname, '..', 'dist', 'server', 'worker.mjs'),
      minThreads: threads,
      maxThreads: threads,
    });
    const run = (key: string): Promise<unknown[]> =>
      Promise.all(
        Array.from({ length: partCount(height) }, (_, part) =>
          pool.run({
            kind: 'coat part',
            input: { coat: coat('vectors', key), part },
            root,
            limits: readLimits({}),
          } satisfies WorkerTask),
        ),
      );
    await run(`first-${String(threads)}`);
    const start = performance.now();
    await run(`second-${String(threads)}`);
    const seconds = (performance.now() - start) / 1000;
    console.log(line(`vectors: ${String(threads)} thread${threads > 1 ? 's' : ''}, by the clock`, seconds));
    await pool.destroy();
  }
  console.log(`parts of ${String(PART_ROWS)} rows`);
} finally {
  rmSync(root, { recursive: true });
}
