import { createHash } from 'node:crypto';
import { ASSUMED_CMYK, type ArtworkColourFacts, needsProfiles } from '../../../core/coats/artworkProfiles.ts';
import { inArray } from 'drizzle-orm';
import { jobs } from '../../db/tables/schema.ts';
import { exists } from '../../files/atomic.ts';
import { wasUsed } from '../../files/renderedData.ts';
import type { RunHow } from '../../ports/work.ts';
import { UNREADABLE_PROFILE } from '../../render/picture/profileName.ts';
import type { CoatOrder } from '../../render/channels/renderPart.ts';
import type { ArtworkOrder } from '../../render/colour/wideArtwork.ts';
import { Refused, type Shop } from '../../shop.ts';
import type { RunRow } from '../run/transitionRun.ts';
import { inTime } from './inTime.ts';
import { laidProfile } from './wantedProfile.ts';

const ARTWORK_WAY_OUT = 'Leave profiles of files aside under Artwork profiles on its ticket, or save the file again.';
/** Part of what names a copy: which way of reading colours this is. A change makes all anew. */
const READING = 1;

/** A file as far as its colours go. */
interface ColoursOfFile extends ArtworkColourFacts {
  readonly sourceName: string;
}

/** What is known of the colours of jobs' files. */
export function coloursOfJobs(shop: Shop, jobIds: readonly string[]): readonly ColoursOfFile[] {
  return shop.db
    .select({ nature: jobs.nature, sourceName: jobs.sourceName })
    .from(jobs)
    .where(inArray(jobs.id, [...new Set(jobIds)]))
    .all()
    .flatMap(({ nature, sourceName }) => (nature ? { ...nature, sourceName } : []));
}

/**
 * How the colours of a run's artwork are read; null: all of it is sRGB.
 * @throws Refused where a profile that its ticket names is not here, or is for other colours
 */
export async function artworkOrder(
  shop: Shop,
  { ticket }: Pick<RunRow, 'ticket'>,
  pdfKey: string,
  files: readonly ColoursOfFile[],
): Promise<ArtworkOrder | null> {
  const { artwork, intent } = ticket;
  if (!files.some((file) => needsProfiles(file, artwork))) return null;
  const bad = artwork.embedded && files.find(({ profile }) => profile === UNREADABLE_PROFILE);
  if (bad) {
    throw new Refused(
      422,
      'bad-artwork-colours',
      `${bad.sourceName} brings a profile that is damaged: its colours can’t be read as they were meant.`,
      undefined,
      ARTWORK_WAY_OUT,
    );
  }
  const rgb = artwork.rgb === null ? null : await artworkProfile(shop, artwork.rgb, 'RGB');
  const cmyk = await artworkProfile(shop, artwork.cmyk ?? ASSUMED_CMYK, 'CMYK');
  const content = { pdfKey, embedded: artwork.embedded, rgb, cmyk, intent };
  const key = createHash('sha256')
    .update(JSON.stringify([READING, content]))
    .digest('hex');
  return { ...content, key };
}

async function artworkProfile(
  shop: Shop,
  name: string,
  space: 'RGB' | 'CMYK',
): Promise<{ readonly name: string; readonly sha256: string }> {
  const profile = await laidProfile(shop, name);
  if (!profile) {
    throw new Refused(
      422,
      'no-profile',
      `${space} artwork is to be read by the profile ${name}, and no file of it is here.`,
      { profile: name },
      'Bring in its ICC file under that name, or choose another under Artwork profiles.',
    );
  }
  if (profile.space !== space) {
    throw new Refused(
      422,
      'other-space',
      `${name} describes ${profile.space}, and ${space} artwork is to be read by it.`,
      { profile: name },
      'Choose another under Artwork profiles.',
    );
  }
  return { name: profile.name, sha256: profile.sha256 };
}

/**
 * Reads the colours of a run's artwork, once for each layout and each way of reading them, so that it can be drawn.
 * @throws Refused where a profile in it, or a colour of it, can't be used
 */
export async function ensureArtwork(shop: Shop, { artwork }: CoatOrder, how: RunHow): Promise<void> {
  if (artwork !== null) await readArtwork(shop, artwork, how);
}

/** As {@link ensureArtwork}. */
export async function readArtwork(shop: Shop, artwork: ArtworkOrder, how: RunHow): Promise<void> {
  const file = shop.paths.wide(artwork.key);
  if (await exists(file)) {
    await wasUsed(file);
    return;
  }
  const task = shop.work.run('wide artwork', artwork, how);
  const { refused } = await inTime(shop, 'To read the colours of its artwork', task);
  if (refused === undefined) return;
  throw new Refused(
    422,
    'bad-artwork-colours',
    `The colours of its artwork can’t be read. ${asSentence(refused)}`,
    undefined,
    ARTWORK_WAY_OUT,
  );
}

/** What may be the rest of a sentence, as one of its own. */
function asSentence(text: string): string {
  return `${text.charAt(0).toUpperCase()}${text.slice(1).replace(/\.$/, '')}.`;
}
