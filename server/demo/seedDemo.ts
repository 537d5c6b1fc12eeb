import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { JobChange } from '../../contract/api/ticket.ts';
import { jobs, refusals } from '../db/schema.ts';
import type { Intake } from '../ingest/intake.ts';
import { type Shop, newId } from '../shop.ts';
import { changeJob } from '../usecases/changeJobs.ts';
import { createRun } from '../usecases/createRun.ts';
import { layOutRun } from '../usecases/layOutRun.ts';
import { nestDraft } from '../usecases/nestDraft.ts';
import { queueRun } from '../usecases/runSteps.ts';
import { demoIsDone } from './seedFloor.ts';

interface DemoJob {
  readonly name: string;
  readonly queueId: string;
  readonly file: () => Promise<Uint8Array>;
  readonly ticket: JobChange;
  /** Goes straight into a run together with the others of this name. */
  readonly run?: string;
}

const HOUR_MS = 3_600_000;

/** Cut so far outside of what is printed. */
function edge(offsetMm: number): NonNullable<JobChange['contour']> {
  return { from: 'picture', name: null, offsetMm, bleedMm: 0 };
}

/**
 * Fills the demo the way its people would: files come in, tickets are set, some runs are laid out and queued. What is there
 * already is left as it is, so that a start that was broken off is ended by the next one.
 */
export async function seedDemo(shop: Shop, intake: Intake): Promise<void> {
  const there = new Set(
    shop.db
      .select({ name: jobs.sourceName })
      .from(jobs)
      .all()
      .map((job) => job.name),
  );
  const refused = new Set(
    shop.db
      .select({ name: refusals.sourceName })
      .from(refusals)
      .all()
      .map((file) => file.name),
  );
  const ids = new Map<string, string[]>();
  for (const job of await demoJobs(shop.clock.now())) {
    if (there.has(job.name) || refused.has(job.name)) continue;
    const jobId = await bringIn(shop, intake, job.queueId, job.name, await job.file());
    if (jobId === undefined) continue;
    changeJob(shop, jobId, job.ticket, 'demo');
    if (job.run !== undefined) ids.set(job.run, [...(ids.get(job.run) ?? []), jobId]);
  }
  for (const jobIds of ids.values()) {
    const runId = createRun(shop, jobIds, 'demo');
    layOutRun(shop, runId, await nestDraft(shop, runId, 400));
    queueRun(shop, runId, 'demo');
  }
  demoIsDone(shop.db);
}

async function bringIn(
  shop: Shop,
  intake: Intake,
  queueId: string,
  name: string,
  bytes: Uint8Array,
): Promise<string | undefined> {
  const claimId = newId('claim');
  const dir = join(shop.paths.uploads, claimId);
  await mkdir(dir, { recursive: true });
  const path = join(dir, 'file');
  await writeFile(path, bytes);
  const outcome = await intake.accept({
    claimId,
    path,
    queueId,
    hotFolderId: null,
    sourceName: name,
    sideDir: shop.paths.refused,
    doneDir: null,
  });
  return 'jobIds' in outcome ? outcome.jobIds[0] : undefined;
}

async function demoJobs(nowMs: number): Promise<DemoJob[]> {
  // Loaded only when a demo is made: the image library has no business on the server's own thread otherwise.
  const art = await import('./artwork.ts');
  const due = (hours: number): number => nowMs + hours * HOUR_MS;
  const pdf =
    (title: string, widthMm: number, heightMm: number, draw: ReturnType<typeof art.waves>, bleedMm = 0) =>
    () =>
      art.pdfOf(title, [{ widthMm, heightMm, bleedMm, draw }]);
  const tram = { customer: 'Quillon Tramways', orderNo: 'QT-2231' };
  const fish = { customer: 'Brackwater Aquarium', orderNo: 'BA-0417' };
  const stars = { customer: 'Hollow Hill Observatory', orderNo: 'HH-118' };
  const market = { customer: 'Lantern Street Night Market', orderNo: 'LM-77' };
  const bikes = { customer: 'Fennick Bicycle Library', orderNo: 'FB-509' };
  const stage = { customer: 'Marram Theatre', orderNo: 'MT-93' };
  return [
    {
      name: 'Stall banner lanterns.pdf',
      queueId: 'heron-banners',
      file: pdf('Stall banner', 2400, 700, art.lanterns(7, 3), 5),
      ticket: { ...market, copies: 3, dueMs: due(7) },
      run: 'market',
    },
    {
      name: 'Market gate banner.pdf',
      queueId: 'heron-banners',
      file: pdf('Gate banner', 3200, 780, art.lanterns(9, 8), 5),
      ticket: { ...market, dueMs: due(7) },
      run: 'market',
    },
    {
      name: 'Star map wall print.pdf',
      queueId: 'bittern-photo',
      file: pdf('Star map', 841, 1189, art.starMap(1400, 5)),
      ticket: { ...stars, copies: 2, dueMs: due(5) },
      run: 'maps',
    },
    {
      name: 'Cycle map poster.jpg',
      queueId: 'bittern-photo',
      file: () => art.bitmapOf(art.mapSvg(4), 420, 150, 'jpeg'),
      ticket: { ...bikes, copies: 6, dueMs: due(26) },
      run: 'maps',
    },
    {
      name: 'Tram side stripe line 4.pdf',
      queueId: 'heron-banners',
      file: pdf('Tram side', 6200, 1180, art.tramStripes(5), 10),
      ticket: { ...tram, copies: 2, dueMs: due(29) },
    },
    {
      name: 'Stop sign Harbour Steps.pdf',
      queueId: 'heron-banners',
      file: pdf('Stop sign', 600, 900, art.stopSign(4), 3),
      ticket: { ...tram, copies: 4, dueMs: due(24) },
    },
    {
      name: 'Stop sign Gasworks.pdf',
      queueId: 'heron-banners',
      file: pdf('Stop sign', 600, 900, art.stopSign(6), 3),
      ticket: { ...tram, copies: 4, dueMs: due(24) },
    },
    {
      name: 'Jellyfish tank panel.png',
      queueId: 'heron-banners',
      file: () => art.bitmapOf(art.jellyfishSvg(2), 900, 90, 'png'),
      ticket: { ...fish, copies: 5, dueMs: due(31) },
    },
    {
      name: 'Backdrop harbour storm.pdf',
      queueId: 'heron-banners',
      file: pdf('Backdrop', 1500, 4200, art.waves(9)),
      ticket: { ...stage, dueMs: due(52) },
    },
    {
      name: 'Gauze flag.pdf',
      queueId: 'heron-banners',
      file: pdf('Flag', 1000, 1500, art.waves(21), 8),
      ticket: { ...stage, copies: 6, dueMs: due(74) },
      run: 'flags',
    },
    {
      name: 'Tower wrap north face.pdf',
      queueId: 'heron-banners',
      file: pdf('Tower wrap', 2450, 3100, art.tramStripes(6)),
      ticket: { ...tram, dueMs: due(98) },
    },
    {
      name: 'Floor fish orange.png',
      queueId: 'magpie-labels',
      file: () => art.bitmapOf(art.fishSvg(11), 280, 180, 'png'),
      ticket: { ...fish, copies: 12, dueMs: due(20), contour: edge(3) },
    },
    {
      name: 'Frame sticker gear 24.png',
      queueId: 'magpie-labels',
      file: () => art.bitmapOf(art.gearSvg(24, '#0E6A6B'), 80, 240, 'png'),
      ticket: { ...bikes, copies: 60, dueMs: due(30), contour: edge(1.5) },
    },
    {
      name: 'Frame sticker gear 18.png',
      queueId: 'magpie-labels',
      file: () => art.bitmapOf(art.gearSvg(18, '#B3261E'), 62, 240, 'png'),
      ticket: { ...bikes, copies: 80, dueMs: due(30), contour: edge(1.5) },
    },
    {
      name: 'Price cards autumn.pdf',
      queueId: 'magpie-labels',
      file: () =>
        art.pdfOf(
          'Price cards',
          Array.from({ length: 6 }, (_, i) => ({ widthMm: 148, heightMm: 105, bleedMm: 2, draw: art.priceCard(i) })),
        ),
      ticket: { ...market, copies: 5, dueMs: due(9) },
    },
    {
      name: 'Crew label small.jpg',
      queueId: 'magpie-labels',
      file: () => art.bitmapOf(art.mapSvg(7), 200, 40, 'jpeg'),
      ticket: { ...stage, copies: 10, dueMs: due(80) },
    },
    {
      name: 'Night sky scroll 18 m.pdf',
      queueId: 'bittern-photo',
      file: pdf('Night sky scroll', 18_000, 840, art.starMap(6000, 31)),
      ticket: { ...stars, dueMs: due(76) },
    },
    {
      name: 'Dome panels.pdf',
      queueId: 'bittern-photo',
      file: () =>
        art.pdfOf(
          'Dome panels',
          Array.from({ length: 4 }, (_, i) => ({ widthMm: 594, heightMm: 841, draw: art.starMap(500, 40 + i) })),
        ),
      ticket: { ...stars, copies: 2, dueMs: due(54) },
    },
    {
      name: 'Tide table poster.pdf',
      queueId: 'bittern-photo',
      file: pdf('Tide table', 420, 594, art.waves(33)),
      ticket: { ...fish, copies: 8, dueMs: due(28) },
      run: 'tides',
    },
    {
      name: 'Archive photo quay.jpg',
      queueId: 'bittern-photo',
      file: () => art.bitmapOf(art.mapSvg(12), 900, 38, 'jpeg'),
      ticket: { ...stage, dueMs: due(50) },
    },
    {
      name: 'Crew list.pdf',
      queueId: 'bittern-photo',
      file: async () =>
        (await art.pdfOf('Crew list', [{ widthMm: 210, heightMm: 297, draw: art.priceCard(2) }])).slice(0, 700),
      ticket: {},
    },
  ];
}
