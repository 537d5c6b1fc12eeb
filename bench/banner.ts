/*
 * An 18 m × 1.5 m PDF with many vectors: how long until its picture is there, and how large the server grew.
 * Usage: npm run build && npm run bench:banner
 */
import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { pdfOf, starMap } from '../server/demo/artwork.ts';
import { TestShop } from '../e2e/driver/shop.ts';

/** Largest resident size that the kernel saw of a process (MiB). */
function peakMb(pid: string): number {
  return Number(/VmHWM:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0) / 1024;
}

const shop = await TestShop.open();
try {
  for (const stars of [2_000, 20_000, 100_000]) {
    const bytes = Buffer.from(await pdfOf('Banner', [{ widthMm: 18_000, heightMm: 1500, draw: starMap(stars, 4) }]));
    const name = `banner-${String(stars)}.pdf`;
    await shop.drop('heron-banners', name, bytes);
    const start = performance.now();
    await shop.until(async () => ['ready', 'blocked'].includes((await shop.job(name)).state), 120_000);
    const job = await shop.job(name);
    const size = (await shop.file(`/api/jobs/${job.id}/pages/0/picture?size=view`)).byteLength;
    const ms = performance.now() - start;
    const pid =
      execFileSync('pgrep', ['-f', `server/main.mjs --data ${shop.dataDir}`], { encoding: 'utf8' })
        .trim()
        .split('\n')[0] ?? '';
    process.stdout.write(
      `${String(stars)} stars, ${(bytes.length / 1e6).toFixed(1)} MB, ${String(job.widthMm)} × ${String(job.heightMm)} mm: picture (${(size / 1024).toFixed(0)} kB) after ${(ms / 1000).toFixed(2)} s, server peak ${peakMb(pid).toFixed(0)} MiB\n`,
    );
  }
} finally {
  await shop.close();
}
