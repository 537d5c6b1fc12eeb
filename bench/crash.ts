import { pdfFile } from '../e2e/driver/files.ts';
import { TestShop } from '../e2e/driver/shop.ts';
import { seededRandom } from '../core/random.ts';
import type { RunItem } from '../contract/api/floor.ts';
import type { SpoolDetail } from '../contract/api/media.ts';

/*
 * Kills the server again and again, during ingest, dispatch and printing, and then looks whether anything was lost, doubled
 * or not accounted for. `npx tsx bench/crash.ts 200`
 */
const kills = Number(process.argv[2] ?? 200);
const random = seededRandom(17);
const shop = await TestShop.open({ rate: 240 });
const names: string[] = [];
const pdf = await pdfFile([{ widthMm: 420, heightMm: 594 }]);

/** A person's work goes on between the kills; what is cut off by one is done again, as a person would. */
async function work(): Promise<void> {
  for (let i = 0; i < 2; i += 1) {
    const name = `crash-${String(names.length)}.pdf`;
    names.push(name);
    await shop.drop('bittern-photo', name, pdf);
  }
  const ready = (await shop.jobs()).filter((job) => job.state === 'ready' && job.pieces.owed > 0);
  for (const job of ready.slice(0, 4)) await shop.queueRun([job.id]).catch(() => undefined);
  // Drafts that a kill left on the Bench are queued again.
  for (const run of (await shop.runs()).filter((each) => each.state === 'draft')) {
    await shop.send('POST', `/api/runs/${run.id}/take-apart`).catch(() => undefined);
  }
}

try {
  const start = performance.now();
  let cut = 0;
  for (let kill = 1; kill <= kills; kill += 1) {
    const doing = work().catch(() => {
      cut += 1;
    });
    await new Promise((done) => setTimeout(done, 30 + random() * 900));
    await shop.kill9();
    await doing;
    await shop.start();
    if (kill % 20 === 0) {
      process.stdout.write(
        `${String(kill)} kills, ${String(names.length)} files, ${((performance.now() - start) / 1000).toFixed(0)} s\n`,
      );
    }
  }
  await shop.until(async () => (await shop.leftIn('bittern-photo')).length === 0, 120_000);
  for (;;) {
    const owing = (await shop.jobs()).filter((job) => job.pieces.owed > 0 && job.state === 'ready');
    for (const job of owing) await shop.queueRun([job.id]);
    for (const run of (await shop.runs()).filter((each) => each.state === 'draft'))
      await shop.send('POST', `/api/runs/${run.id}/take-apart`);
    if ((await shop.jobs()).every((job) => job.state === 'printed')) break;
    await new Promise((done) => setTimeout(done, 1000));
  }
  const faults = await broken();
  process.stdout.write(
    `${String(kills)} kills, ${String(cut)} of them in the middle of a person's work: ${faults.length === 0 ? 'nothing lost, nothing twice' : faults.join('; ')}\n`,
  );
  process.exitCode = faults.length === 0 ? 0 : 1;
} finally {
  await shop.close();
}

async function broken(): Promise<string[]> {
  const faults: string[] = [];
  const jobs = await shop.jobs();
  const found = jobs.map((job) => job.sourceName).sort();
  if (found.join() !== [...names].sort().join())
    faults.push(`${String(names.length)} files became ${String(found.length)} jobs`);
  for (const { sourceName, pieces } of jobs) {
    if (pieces.printed !== 1 || pieces.owed + pieces.placed + pieces.printing > 0)
      faults.push(`${sourceName}: ${JSON.stringify(pieces)}`);
  }
  const refused = await shop.refusals();
  if (refused.length > 0) faults.push(`${String(refused.length)} files were refused`);
  const details = await shop.get<SpoolDetail>('/api/spools/spool-sp-44');
  const booked = details.ledger.filter((entry) => entry.kind === 'run');
  const ids = booked.map((entry) => entry.runId);
  if (new Set(ids).size !== ids.length) faults.push('a run is booked twice');
  const printed = await everyRun([...new Set(ids)].flatMap((id) => (id === null ? [] : [id])));
  if (printed.length !== names.length)
    faults.push(`${String(printed.length)} runs were fed for ${String(names.length)} pieces`);
  for (const run of printed) {
    const fed = -booked.filter((entry) => entry.runId === run.id).reduce((sum, entry) => sum + entry.mm, 0);
    if (Math.abs(fed - run.needMm) > 1e-6) faults.push(`${run.name} fed ${String(fed)} mm of ${String(run.needMm)}`);
    if (run.state !== 'printed' || run.attempt !== 1)
      faults.push(`${run.name} is ${run.state} in attempt ${String(run.attempt)}`);
  }
  return faults;
}

async function everyRun(ids: readonly string[]): Promise<RunItem[]> {
  const all: RunItem[] = [];
  for (const id of ids) all.push(await shop.run(id));
  return all;
}
