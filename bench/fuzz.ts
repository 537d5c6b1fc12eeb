/*
 * Broken files by the thousand, of every format, through the real server: each must become a job or a refusal, none may be
 * lost, none may take a task's whole time, and the server must answer all along.
 * Usage: npm run build && npm run bench:fuzz [-- files-of-each-format [seed [format]]]
 */
import { readFile } from 'node:fs/promises';
import { seededRandom } from '../core/random.ts';
import { TestShop } from '../e2e/driver/shop.ts';
import { plainCorpus } from '../server/testing/pictures/corpus.ts';
import { mutate } from '../server/testing/mutate.ts';

const EACH = Number(process.argv[2] ?? 2000);
const SEED = Number(process.argv[3] ?? 1);
const ONLY = process.argv[4];
const AT_ONCE = 40;

const corpus = await plainCorpus();

const shop = await TestShop.open();
let lost = 0;
let slowest = 0;
try {
  const random = seededRandom(SEED);
  for (const [format, bases] of Object.entries(corpus)) {
    if (ONLY !== undefined && format !== ONLY) continue;
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
      const { accepted, refused } = await shop.upload(form);
      slowest = Math.max(slowest, performance.now() - sent);
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
