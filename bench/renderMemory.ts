/*
 * Memory of a server while it renders a long run with two threads, above what it takes at rest: its whole process, WebAssembly included.
 * Usage: npm run bench:renderMemory [metres]
 */
import { readFileSync, readdirSync } from 'node:fs';
import { PDFDocument, rgb } from '@cantoo/pdf-lib';
import type { RunChannels } from '../contract/api/colour/channels.ts';
import type { RunDetail } from '../contract/api/run.ts';
import { seededRandom } from '../core/random.ts';
import { TestShop } from '../e2e/driver/shop.ts';

const METRES = Number(process.argv[2] ?? 6);
const PT_PER_MM = 72 / 25.4;
const [WIDTH_MM, LENGTH_MM] = [1500, METRES * 1000];
const AGAIN_MS = 200;

async function poster(): Promise<Buffer> {
  const random = seededRandom(5);
  const document = await PDFDocument.create();
  // Long pages are drawn at a tenth, as people do it, and come out at full size by their ticket.
  const page = document.addPage([(WIDTH_MM * PT_PER_MM) / 10, (LENGTH_MM * PT_PER_MM) / 10]);
  const { width, height } = page.getSize();
  for (let i = 0; i < 300 * METRES; i += 1) {
    const [x, y, size] = [random() * width, random() * height, 1 + 8 * random()];
    page.drawCircle({ x, y, size, color: rgb(random(), random(), random()), opacity: 0.6 });
  }
  return Buffer.from(await document.save());
}

/** Resident memory of the server of a data folder (MiB). */
function residentMib(dataDir: string): number {
  for (const pid of readdirSync('/proc').filter((name) => /^\d+$/.test(name))) {
    try {
      const command = readFileSync(`/proc/${pid}/cmdline`, 'latin1');
      if (!command.includes(dataDir) || !command.includes('server/main.mjs')) continue;
      const kib = /VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'latin1'))?.[1];
      return Number(kib) / 1024;
    } catch {
      // It has ended meanwhile.
    }
  }
  return NaN;
}

const shop = await TestShop.open();
try {
  const job = await shop.bringIn('heron-banners', 'long.pdf', await poster());
  await shop.setTicket('long.pdf', { size: { kind: 'percent', x: 1000, y: 1000 }, quarterTurn: false });
  const draft = await shop.send<RunDetail>('POST', '/api/runs', { jobIds: [job.id] });
  const placements = draft.pieces.map(({ pieceId }) => ({ pieceId, xMm: 0, yMm: draft.settings.leadMm, angleDeg: 0 }));
  await shop.send('PUT', `/api/runs/${draft.id}/layout`, { settings: draft.settings, placements });
  await new Promise((done) => setTimeout(done, 5000));
  const rest = residentMib(shop.dataDir);
  let most = 0;
  const watch = setInterval(() => {
    most = Math.max(most, residentMib(shop.dataDir));
  }, AGAIN_MS);
  const start = performance.now();
  const { coats } = await shop.get<RunChannels>(`/api/runs/${draft.id}/channels`);
  clearInterval(watch);
  const [coat] = coats;
  const mpx = ((coat?.widthDots ?? 0) * (coat?.heightDots ?? 0)) / 1e6;
  const seconds = (performance.now() - start) / 1000;
  console.log(
    `${String(coat?.widthDots)} × ${String(coat?.heightDots)} dots, ${mpx.toFixed(0)} Mpx in ${String(coat?.channels.length)} channels, ${seconds.toFixed(0)} s`,
  );
  console.log(
    `at rest ${rest.toFixed(0)} MiB, at most ${most.toFixed(0)} MiB: ${(most - rest).toFixed(0)} MiB for rendering`,
  );
} finally {
  await shop.close();
}
