/*
 * Intake with many jobs: a scripted scroll, and keystroke to result, in headless Chromium.
 * Usage: npm run build && npm run bench:intake [-- jobs]
 */
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { pngFile } from '../e2e/driver/files.ts';
import { TestShop } from '../e2e/driver/shop.ts';
import { openBrowser } from './browser.ts';
import { frameLine, watchFrames } from './frames.ts';

const COUNT = Number(process.argv[2] ?? 10_000);
const shop = await TestShop.open();
try {
  for (let i = 0; i < 8; i++)
    await shop.bringIn('magpie-labels', `seed-${String(i)}.png`, await pngFile(600 + 40 * i, 500, 150));
  multiply(join(shop.dataDir, 'yellow-spool.db'), COUNT);
  const browser = await openBrowser();
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.goto(`${shop.url}/intake`);
  await page.getByText(`${COUNT.toLocaleString('en-GB')} shown`).waitFor();
  await page.waitForTimeout(1500);
  const session = await page.context().newCDPSession(page);
  await session.send('Performance.enable');
  const costs = async (): Promise<Record<string, number>> =>
    Object.fromEntries((await session.send('Performance.getMetrics')).metrics.map(({ name, value }) => [name, value]));
  // Fractions of the whole table in 5 s: a brisk wheel, and the scroll bar pulled from top to bottom.
  for (const [name, share] of [
    ['wheel, 6,000 px/s', 30_000 / (COUNT * 52)],
    ['the whole table', 1],
  ] as const) {
    const step = `const el = document.querySelector('[role=grid]'); el.scrollTop = (el.scrollHeight - el.clientHeight) * t * ${String(share)};`;
    const before = await costs();
    const report = await watchFrames(page, step, 5000);
    const after = await costs();
    process.stdout.write(frameLine(`${String(COUNT)} jobs, 5 s scroll, ${name}`, report));
    const each = ['ScriptDuration', 'RecalcStyleDuration', 'LayoutDuration', 'TaskDuration'].map(
      (key) =>
        `${key.replace('Duration', '')} ${((((after[key] ?? 0) - (before[key] ?? 0)) * 1000) / report.frames).toFixed(1)}`,
    );
    process.stdout.write(`  main thread a frame (ms): ${each.join(', ')}\n`);
  }
  const idle = await watchFrames(page, '', 2000);
  process.stdout.write(frameLine('the same page at rest', idle));
  // Timed until the right number of jobs is said to be shown and the frame with them is painted.
  const names = await page.evaluate<string[]>(`(async () => {
    const names = [];
    for (let cursor = ''; cursor !== null; ) {
      const answer = await (await fetch('/api/jobs?limit=1000' + (cursor && '&cursor=' + cursor))).json();
      names.push(...answer.items.map((job) => job.sourceName));
      cursor = answer.nextCursor;
    }
    return names;
  })()`);
  const times: number[] = [];
  for (const text of ['seed-', 'seed-3', 'seed-3 name:copy', 'name:12', 'name:9999', '']) {
    const words = text.split(' ').map((word) => word.replace('name:', ''));
    const shown = names.filter((name) => words.every((word) => name.includes(word))).length;
    times.push(
      await page.evaluate<number>(`(async () => {
        const input = document.querySelector('input[aria-label="Filter jobs"]');
        const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set;
        const start = performance.now();
        set.call(input, ${JSON.stringify(text)});
        input.dispatchEvent(new Event('input', { bubbles: true }));
        const painted = () => new Promise((done) => requestAnimationFrame(() => setTimeout(done, 0)));
        do await painted();
        while (document.querySelector('[aria-live=polite].text-soft').textContent !== ${JSON.stringify(`${shown.toLocaleString('en-GB')} shown`)});
        return performance.now() - start;
      })()`),
    );
  }
  process.stdout.write(`filter keystroke to painted result: ${times.map((ms) => ms.toFixed(0)).join(', ')} ms\n`);
  await browser.close();
} finally {
  await shop.close();
}

/** Copies the rows of the jobs that are there, with their pages and pieces, until there are enough. */
function multiply(file: string, count: number): void {
  const db = new Database(file);
  const seeds = db.prepare('select * from jobs').all() as Record<string, unknown>[];
  const columns = Object.keys(seeds[0] ?? {}).filter((column) => column !== 'seq');
  const insert = db.prepare(
    `insert into jobs (${columns.join(',')}) values (${columns.map((column) => `@${column}`).join(',')})`,
  );
  const pages = db.prepare(
    'insert into job_pages (job_id, page, width_mm, height_mm, bleed, coverage, source_page, dpi, thinnest_mm, finished) select ?, page, width_mm, height_mm, bleed, coverage, source_page, dpi, thinnest_mm, finished from job_pages where job_id = ?',
  );
  const piece = db.prepare("insert into pieces (id, job_id, page, copy, state) values (?, ?, 0, 0, 'owed')");
  db.transaction(() => {
    for (let i = seeds.length; i < count; i++) {
      const seed = seeds[i % seeds.length] ?? {};
      const id = `job-copy${String(i)}`;
      insert.run({
        ...seed,
        id,
        claim_id: `claim-copy${String(i)}`,
        source_name: `${String(seed.source_name)} copy ${String(i)}`,
      });
      pages.run(id, seed.id);
      piece.run(`pc-copy${String(i)}`, id);
    }
  })();
  db.close();
}
