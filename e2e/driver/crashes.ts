import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { SpoolDetail } from '../../contract/api/media/media.ts';
import { pdfFile } from './files.ts';
import type { TestShop } from './shop.ts';

export interface Crashes {
  readonly files: number;
  /** Kills that cut a person's work off in the middle. */
  readonly cut: number;
  /** What was lost, doubled or not accounted for; empty where all is well. */
  readonly faults: readonly string[];
}

/**
 * Kills the server again and again during ingest, dispatch and printing while files come in and runs are queued, lets
 * everything be printed, and then looks whether each file became one job, each piece was printed once in one attempt, and
 * each metre is on its spool's ledger once.
 */
export async function crash(
  shop: TestShop,
  kills: number,
  random: () => number,
  told: (text: string) => void = () => undefined,
): Promise<Crashes> {
  const names: string[] = [];
  const pdf = await pdfFile([{ widthMm: 210, heightMm: 148 }]);
  // One roll that lasts, so that nobody has to change it meanwhile.
  const { id: spoolId } = await shop.send<{ id: string }>('POST', '/api/spools', {
    stockId: 'satin-914',
    label: 'LONG-1',
    lot: '',
    lengthMm: 900_000,
  });
  await shop.send('POST', `/api/spools/${spoolId}/load`, { printerId: 'bittern', sourceId: 'roll-1' });
  const folder = await shop.hotFolder('bittern-photo');
  let cut = 0;
  for (let kill = 1; kill <= kills; kill += 1) {
    const doing = work(shop, folder, names, pdf).catch(() => {
      cut += 1;
    });
    await new Promise((done) => setTimeout(done, 30 + random() * 900));
    await shop.kill9();
    await doing;
    await shop.start();
    if (kill % 20 === 0) told(`${String(kill)} kills, ${String(names.length)} files`);
  }
  await shop.until(async () => (await shop.leftIn('bittern-photo')).length === 0, 120_000);
  await shop.until(async () => {
    await look(shop);
    const jobs = await shop.jobs();
    if (jobs.length >= names.length && jobs.every((job) => PRINTED.includes(job.state))) return true;
    for (const run of (await shop.runs()).filter((each) => each.state === 'draft')) {
      await shop.send('POST', `/api/runs/${run.id}/dissolve`);
    }
    for (const job of jobs) if (job.pieces.owed > 0 && job.state === 'ready') await shop.queueRun([job.id]);
    return false;
  }, 600_000);
  return { files: names.length, cut, faults: await faultsOf(shop, names, spoolId) };
}

/** The basket is emptied, and what stood because of it goes on. */
async function look(shop: TestShop): Promise<void> {
  await shop.send('POST', '/api/printers/bittern/emptied');
  for (const run of (await shop.runs()).filter((each) => each.state === 'paused')) {
    await shop.send('POST', `/api/runs/${run.id}/resume`);
  }
}

/** The Shelf takes what was printed some hours ago. */
const PRINTED: readonly string[] = ['printed', 'shelved'];

/** A person's work between the kills; what one cuts off is done again, as a person would. */
async function work(shop: TestShop, folder: string, names: string[], pdf: Buffer): Promise<void> {
  for (let i = 0; i < 2; i += 1) {
    const name = `crash-${String(names.length)}.pdf`;
    await writeFile(join(folder, name), pdf);
    // Counted once it lies in the folder, whatever becomes of the server meanwhile.
    names.push(name);
  }
  await look(shop).catch(() => undefined);
  const ready = (await shop.jobs()).filter((job) => job.state === 'ready' && job.pieces.owed > 0);
  for (const job of ready.slice(0, 4)) await shop.queueRun([job.id]).catch(() => undefined);
  for (const run of (await shop.runs()).filter((each) => each.state === 'draft')) {
    await shop.send('POST', `/api/runs/${run.id}/dissolve`).catch(() => undefined);
  }
}

async function faultsOf(shop: TestShop, names: readonly string[], spoolId: string): Promise<string[]> {
  const faults: string[] = [];
  const jobs = await shop.jobs();
  const found = jobs.map((job) => job.sourceName).sort();
  if (found.join() !== [...names].sort().join()) {
    faults.push(`${String(names.length)} files became ${String(found.length)} jobs`);
  }
  for (const { sourceName, pieces } of jobs) {
    const loose = pieces.owed + pieces.placed + pieces.printing;
    if (pieces.printed !== 1 || loose > 0) faults.push(`${sourceName}: ${JSON.stringify(pieces)}`);
  }
  const refused = await shop.refusals();
  if (refused.length > 0) faults.push(`${String(refused.length)} files were refused`);
  const { ledger } = await shop.get<SpoolDetail>(`/api/spools/${spoolId}`);
  const booked = ledger.flatMap(({ kind, runId, mm }) =>
    kind === 'run' && runId !== null ? [{ runId, mm: -mm }] : [],
  );
  const runIds = new Set(booked.map(({ runId }) => runId));
  if (runIds.size !== booked.length) faults.push('a run is booked twice');
  if (runIds.size !== names.length) faults.push(`${String(runIds.size)} runs for ${String(names.length)} pieces`);
  for (const id of runIds) {
    const run = await shop.run(id);
    const mm = booked.filter(({ runId }) => runId === id).reduce((sum, entry) => sum + entry.mm, 0);
    if (Math.abs(mm - run.needMm) > 1e-6) faults.push(`${run.name} fed ${String(mm)} mm of ${String(run.needMm)}`);
    if (run.state !== 'printed' || run.attempt !== 1) {
      faults.push(`${run.name} is ${run.state} in attempt ${String(run.attempt)}`);
    }
  }
  return faults;
}
