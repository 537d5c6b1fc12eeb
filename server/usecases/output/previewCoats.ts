import { and, eq, inArray, sql } from 'drizzle-orm';
import type { CoatPreview, CoatPreviewAsked } from '../../../contract/api/colour/preview.ts';
import { checkCurves } from '../../../core/coats/curves.ts';
import { inkMl } from '../../../core/estimate/ink.ts';
import { setHere } from '../../../core/ticket/ticket.ts';
import { findPrinter } from '../../db/findRows.ts';
import { jobPages, pieces, queues } from '../../db/tables/schema.ts';
import { PICTURE_SIZES } from '../../render/picture/pictureSizes.ts';
import type { RunHow } from '../../ports/work.ts';
import { Refused, type Shop } from '../../shop.ts';
import { modeOf } from '../run/runRows.ts';
import { shopCurrency } from '../setup/shopSetup.ts';
import { jobRow } from '../ticket/changeJobs.ts';
import { previewPicture } from './previewPicture.ts';
import { colourChannels, wantedProfile } from './wantedProfile.ts';

type Crop = NonNullable<CoatPreviewAsked['crop']>;

const WHOLE: Crop = { x: 0, y: 0, width: 1, height: 1 };
const MICRO_PER_MINOR = 10_000;

/**
 * How a page of a job would print with some values set, and what a piece of it would take: by the tables that its rendering goes by.
 * Nothing is changed by asking.
 * @throws Refused where there is no such page, or its profile can't be used
 */
export async function previewCoats(shop: Shop, asked: CoatPreviewAsked, how: RunHow = {}): Promise<CoatPreview> {
  const job = jobRow(shop.db, asked.jobId);
  const queue = shop.db.select().from(queues).where(eq(queues.id, job.queueId)).get();
  const printer = queue && findPrinter(shop.db, queue.printerId);
  if (!printer) throw new Error(`job ${job.id} is in no queue of a printer`);
  const { values } = setHere(job.ticket, asked.values);
  if (!printer.config.modes.some(({ id }) => id === values.modeId)) {
    throw new Refused(404, 'no-such-mode', `${printer.name} has no print mode ${values.modeId}.`);
  }
  const curves = checkCurves(values.curves);
  if (!curves.ok) throw new Refused(422, 'bad-curves', curves.reason, undefined, 'Straighten that curve.');
  const mode = modeOf(printer.config, values.modeId);
  const profile = await wantedProfile(shop, {
    ...{ what: job.sourceName, printerName: printer.name },
    ...{ mode, ticket: values },
  });
  const channels = colourChannels(printer.config);
  const { page } = asked;
  const seen = await previewPicture(shop, job, page, values, how);
  const crop = withinPage(asked.crop ?? WHOLE);
  const inkLimit = Math.min(mode.inkLimit, values.inkLimit ?? mode.inkLimit);
  const made = await shop.work.run(
    'coat preview',
    {
      ...{ ...seen, profile, inkLimit, channels: channels.map(({ id }) => id) },
      ...{ crop, mostPx: Math.min(asked.mostPx, PICTURE_SIZES.view) },
      ...{ intent: values.intent, tone: values.tone, curves: values.curves },
      ...{ view: asked.view, paperWhite: asked.paperWhite },
    },
    { ...how, priority: 'a person waits' },
  );
  if ('refused' in made) {
    throw new Refused(
      422,
      'no-preview',
      made.refused,
      { profile: profile.name },
      'Choose another profile, or none: then that of the mode is used.',
    );
  }
  const finished = shop.db
    .select()
    .from(jobPages)
    .where(and(eq(jobPages.jobId, job.id), eq(jobPages.page, page)))
    .get()?.finished;
  const areaMm2 = (finished?.widthMm ?? 0) * (finished?.heightMm ?? 0) * crop.width * crop.height;
  return {
    currency: shopCurrency(shop.db),
    picture: Buffer.from(made.png).toString('base64'),
    widthPx: made.widthPx,
    heightPx: made.heightPx,
    profile: profile.name,
    inkLimit,
    mostInk: made.mostInk,
    outOfGamut: made.outOfGamut,
    overLimit: made.overLimit,
    pieces: owedPieces(shop, job.id, page),
    channels: channels.map(({ id, name, colour, heads, pricePerMlMicro }, i) => {
      const coverage = Math.min(1, made.inks[i] ?? 0);
      const ml = inkMl(coverage, areaMm2, mode.dpiX, mode.dpiY, mode.dropPl, heads);
      return { id, name, colour, coverage, ml, costMinor: (ml * pricePerMlMicro) / MICRO_PER_MINOR };
    }),
    note:
      values.separations.kind === 'all inks'
        ? null
        : 'Its inks are printed each alone; the picture shows them together.',
  };
}

function withinPage({ x, y, width, height }: Crop): Crop {
  return { x, y, width: Math.min(width, 1 - x), height: Math.min(height, 1 - y) };
}

function owedPieces(shop: Shop, jobId: string, page: number): number {
  const row = shop.db
    .select({ n: sql<number>`count(*)` })
    .from(pieces)
    .where(and(eq(pieces.jobId, jobId), eq(pieces.page, page), inArray(pieces.state, ['owed', 'placed'])))
    .get();
  return row?.n ?? 0;
}
