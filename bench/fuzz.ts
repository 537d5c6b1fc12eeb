/*
 * Broken files by the thousand, of every format, through the real server: each must become a job or a refusal, none may be
 * lost, none may take a task's whole time, and the server must answer all along.
 * Usage: npm run build && npm run bench:fuzz [-- files-of-each-format [seed]]
 */
import { readFile } from 'node:fs/promises';
import sharp from 'sharp';
import { seededRandom } from '../core/random.ts';
import { TestShop } from '../e2e/driver/shop.ts';
import {
  boxedPdf,
  cmykJpeg,
  encodedTiff,
  faultyPdf,
  pdfWith,
  spotTiff,
  svgOf,
  tiffOf,
} from '../server/testing/corpus.ts';

const EACH = Number(process.argv[2] ?? 2000);
const SEED = Number(process.argv[3] ?? 1);
const AT_ONCE = 40;

const plain = { width: 300, height: 150, photometric: 2, pixel: [200, 100, 50] };
const png = (channels: 3 | 4) =>
  sharp({ create: { width: 200, height: 100, channels, background: '#c84' } })
    .withMetadata({ density: 150 })
    .png()
    .toBuffer();
const corpus: Record<string, Buffer[]> = {
  pdf: [await boxedPdf(), await faultyPdf(), await pdfWith(() => undefined, 5)],
  png: [await png(3), await png(4)],
  jpeg: [
    await cmykJpeg(),
    await sharp({ create: { width: 200, height: 100, channels: 3, background: '#c84' } })
      .jpeg({ progressive: true })
      .toBuffer(),
  ],
  tiff: [
    spotTiff(),
    tiffOf([plain, { ...plain, height: 40 }]),
    await encodedTiff({ compression: 'lzw', tile: true, tileWidth: 64, tileHeight: 64 }),
    await encodedTiff({ compression: 'deflate' }),
  ],
  svg: [
    svgOf('<rect width="50" height="40" fill="#c33"/><g transform="rotate(20)"><circle cx="40" cy="40" r="20"/></g>'),
    svgOf(
      '<defs><linearGradient id="a"><stop offset="0"/><stop offset="1" stop-color="#fff"/></linearGradient></defs><path d="M0 0L50 50L10 70Z" fill="url(#a)"/><text x="5" y="20">Tide</text>',
    ),
  ],
};

function mutate(original: Buffer, random: () => number): Buffer {
  let bytes = Buffer.from(original);
  const pick = (most: number): number => Math.floor(random() * most);
  for (let n = 1 + pick(6); n > 0; n--) {
    const at = pick(bytes.length);
    switch (pick(6)) {
      case 0:
        bytes[at] = pick(256);
        break;
      case 1:
        bytes.fill(pick(256), at, at + pick(40));
        break;
      case 2:
        bytes = Buffer.concat([bytes.subarray(0, at), bytes.subarray(pick(bytes.length))]);
        break;
      case 3:
        bytes = Buffer.concat([bytes.subarray(0, at), bytes.subarray(at, at + pick(400)), bytes.subarray(at)]);
        break;
      case 4:
        if (at + 4 <= bytes.length) bytes.writeUInt32BE([0, 1, 0x7fffffff, 0xffffffff][pick(4)] ?? 0, at);
        break;
      case 5:
        bytes = Buffer.concat([bytes.subarray(0, Math.max(1, at)), Buffer.from(original.subarray(at))]);
        break;
    }
    if (bytes.length === 0) bytes = Buffer.from(original);
  }
  return bytes;
}

const shop = await TestShop.open();
let lost = 0;
let slowest = 0;
try {
  const random = seededRandom(SEED);
  for (const [format, bases] of Object.entries(corpus)) {
    const counts = { accepted: 0, refused: 0, stopped: 0, inside: 0 };
    const started = performance.now();
    for (let from = 0; from < EACH; from += AT_ONCE) {
      const form = new FormData();
      form.append('queueId', 'magpie-labels');
      const n = Math.min(AT_ONCE, EACH - from);
      for (let i = 0; i < n; i++) {
        const base = bases[(from + i) % bases.length] ?? Buffer.alloc(1);
        form.append('files', new File([new Uint8Array(mutate(base, random))], `${String(from + i)}.${format}`));
      }
      const sent = performance.now();
      const answer = await fetch(`${shop.url}/api/jobs`, { method: 'POST', body: form });
      slowest = Math.max(slowest, performance.now() - sent);
      const { accepted, refused } = (await answer.json()) as { accepted: unknown[]; refused: { reason: string }[] };
      counts.accepted += accepted.length;
      counts.refused += refused.length;
      counts.stopped += refused.filter(({ reason }) => reason.includes('took longer')).length;
      counts.inside += refused.filter(({ reason }) => reason.includes('inside the program')).length;
      lost += n - new Set(accepted).size - refused.length;
    }
    const seconds = (performance.now() - started) / 1000;
    process.stdout.write(
      `${format.padEnd(5)} ${String(EACH)} files: ${String(counts.accepted)} jobs, ${String(counts.refused)} refused, ` +
        `${String(counts.stopped)} stopped after 60 s, ${String(counts.inside)} failed inside, ${(EACH / seconds).toFixed(1)} files/s, ` +
        `server at most ${String(await peakMiB())} MiB\n`,
    );
  }
  process.stdout.write(
    `lost: ${String(lost)}; slowest request of ${String(AT_ONCE)} files: ${(slowest / 1000).toFixed(1)} s; health: ${String((await fetch(`${shop.url}/api/health`)).status)}\n`,
  );
} finally {
  await shop.close();
}

/** The most memory that the server, its worker threads included, has had. */
async function peakMiB(): Promise<number> {
  const status = await readFile(`/proc/${String(shop.pid)}/status`, 'utf8');
  return Math.round(Number(/VmHWM:\s+(\d+)/.exec(status)?.[1] ?? 0) / 1024);
}
