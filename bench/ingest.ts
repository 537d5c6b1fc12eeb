/*
 * A thousand one-page PDFs and PNGs copied into one hot folder at once: how many become jobs, how fast, and how the
 * interface answers meanwhile. Usage: npm run build && npm run bench:ingest [-- files]
 */
import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { pdfFile, pngFile } from '../e2e/driver/files.ts';
import { TestShop } from '../e2e/driver/shop.ts';

const COUNT = Number(process.argv[2] ?? 1000);

const shop = await TestShop.open();
try {
  const sources = await Promise.all(
    Array.from({ length: 20 }, (_, i) =>
      i % 2 ? pdfFile([{ widthMm: 200 + i * 10, heightMm: 300 }]) : pngFile(900 + i * 30, 700, 150),
    ),
  );
  const folder = await shop.hotFolder('magpie-labels');
  const start = performance.now();
  for (let i = 0; i < COUNT; i++) {
    const bytes = sources[i % 20];
    if (bytes) await writeFile(join(folder, `file-${String(i).padStart(4, '0')}.${i % 2 ? 'pdf' : 'png'}`), bytes);
  }
  const copied = performance.now() - start;
  const answers: number[] = [];
  let jobs = 0;
  while (jobs < COUNT && performance.now() - start < 300_000) {
    for (const path of ['/api/jobs?limit=100', '/api/printers', '/api/runs', '/api/queues']) {
      const asked = performance.now();
      await shop.get(path);
      answers.push(performance.now() - asked);
    }
    jobs = (await shop.jobs()).filter(({ state }) => state !== 'arriving').length;
    await new Promise((done) => setTimeout(done, 40));
  }
  const seconds = (performance.now() - start) / 1000;
  const names = (await shop.jobs()).map((job) => job.sourceName);
  answers.sort((a, b) => a - b);
  const at = (share: number): string => (answers[Math.floor(answers.length * share)] ?? 0).toFixed(1);
  process.stdout.write(
    `files ${String(COUNT)}, jobs ${String(names.length)}, twice ${String(names.length - new Set(names).size)}, left in the folder ${String((await shop.leftIn('magpie-labels')).length)}, refused ${String((await shop.refusals()).length)}\n`,
  );
  process.stdout.write(
    `copied in ${(copied / 1000).toFixed(1)} s, all jobs after ${seconds.toFixed(1)} s: ${(COUNT / seconds).toFixed(1)} files/s\n`,
  );
  process.stdout.write(
    `API meanwhile, ${String(answers.length)} answers: median ${at(0.5)} ms, p95 ${at(0.95)} ms, worst ${at(0.999)} ms\n`,
  );
  const single = await one(shop);
  process.stdout.write(
    `one file on an idle server, last byte to job: ${single.map((ms) => ms.toFixed(0)).join(', ')} ms\n`,
  );
} finally {
  await shop.close();
}

async function one(idle: TestShop): Promise<number[]> {
  const times: number[] = [];
  for (let i = 0; i < 5; i++) {
    const bytes = i % 2 ? await pngFile(2400, 1600, 150) : await pdfFile([{ widthMm: 841, heightMm: 1189 }]);
    const name = `single-${String(i)}`;
    await idle.drop('heron-banners', name, bytes);
    const start = performance.now();
    await idle.until(async () => {
      const { items } = await idle.get<{ items: { sourceName: string; state: string }[] }>(
        `/api/jobs?limit=2000&cursor=${String(COUNT)}`,
      );
      return items.some((job) => job.sourceName === name && job.state !== 'arriving');
    });
    times.push(performance.now() - start);
  }
  return times;
}
