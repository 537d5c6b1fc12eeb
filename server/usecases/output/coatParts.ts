import { readFile, readdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import PQueue from 'p-queue';
import { partCount } from '../../../core/raster/bands.ts';
import { exists, writeWhole } from '../../files/atomic.ts';
import { wasUsed } from '../../files/renderedData.ts';
import type { RunHow } from '../../ports/work.ts';
import { type CoatFile, readPartIndex } from '../../render/channels/coatFile.ts';
import type { CoatOrder, PartIndex } from '../../render/channels/renderPart.ts';
import { Refused, type Shop } from '../../shop.ts';
import { ensureArtwork } from './artworkOrder.ts';
import { inTime } from './inTime.ts';

/*
 * A device that prints a coat asks for it by the name of the rendering, part by part: whatever becomes of its run or its profile meanwhile,
 * that is what it was sent.
 */

function orderFile({ paths }: Pick<Shop, 'paths'>, key: string): string {
  return join(paths.coat(key), 'order.json');
}

/** Parts that are made at once; a place is left for those who wait at a page. */
const AT_ONCE = 2;
const INDEX = /^(\d{5})\.json$/;

/** How much of a rendering is there. */
export interface CoatProgress {
  readonly order: CoatOrder;
  readonly parts: number;
  /** Parts that are there, and how many of them from the leading edge on without a gap. */
  readonly made: number;
  readonly leading: number;
}

/** How much of a rendering is there by now: asked often, so that nothing but the names of its files is read. */
export async function progressOf({ paths }: Pick<Shop, 'paths'>, order: CoatOrder): Promise<CoatProgress> {
  const names = await readdir(paths.coat(order.key)).catch((): string[] => []);
  const there = new Set(names.flatMap((name) => INDEX.exec(name)?.slice(1).map(Number) ?? []));
  const parts = partCount(order.height);
  let leading = 0;
  while (there.has(leading)) leading += 1;
  return { order, parts, made: there.size, leading };
}

/**
 * Renders the parts of a coat that are not there yet. What is there already is not made again, so that a rendering that was stopped goes on
 * where it was.
 * @throws Refused where it can't be rendered, with the reason and the way out
 */
export async function renderParts(shop: Shop, order: CoatOrder, how: RunHow): Promise<PartIndex[]> {
  const parts = partCount(order.height);
  await noteOrder(shop, order);
  if ((await progressOf(shop, order)).made < parts) {
    await ensureArtwork(shop, order, { ...how, priority: 'the shop waits' });
    await ensurePictures(shop, order, how);
  }
  const queue = new PQueue({ concurrency: AT_ONCE });
  const shares = new Array<number>(parts).fill(0);
  const rendered = queue.addAll(
    Array.from({ length: parts }, (_, part) => async (): Promise<PartIndex> => {
      const known = await readPartIndex(shop.paths, order.key, part);
      const index =
        known ??
        (await renderedPart(shop, order, part, {
          ...how,
          priority: 'the shop waits',
          progress: (share) => {
            shares[part] = share;
            how.progress?.(shares.reduce((sum, each) => sum + each, 0) / parts);
          },
        }));
      shares[part] = 1;
      how.progress?.(shares.reduce((sum, each) => sum + each, 0) / parts);
      return index;
    }),
  );
  let indexes: PartIndex[];
  try {
    indexes = await rendered;
  } catch (error) {
    // What can't be made, or is no longer wanted, is not tried part by part.
    queue.clear();
    throw error;
  }
  await dropPictures(shop, order);
  await wasUsed(shop.paths.coat(order.key));
  return indexes;
}

/** Pictures that are laid under the pages are converted once, before the parts: each of them needs all. */
async function ensurePictures(shop: Shop, order: CoatOrder, how: RunHow): Promise<void> {
  if (await exists(shop.paths.coatUnder(order.key, 'json'))) return;
  const task = shop.work.run('coat pictures', order, { ...how, priority: 'the shop waits' });
  const done = await inTime(shop, 'To convert its pictures', task);
  if (done !== null) throw new Refused(422, 'no-rendering', done.refused, undefined, PROFILE_WAY_OUT);
}

const PICTURES = /^under\.pdf$|^picture-\d+\.inks/;

/** Where all parts are there, nothing is drawn any more. The list goes first: where it is, all that it names is there. */
async function dropPictures({ paths }: Pick<Shop, 'paths'>, { key }: CoatOrder): Promise<void> {
  await rm(paths.coatUnder(key, 'json'), { force: true });
  const names = await readdir(paths.coat(key)).catch((): string[] => []);
  for (const name of names) if (PICTURES.test(name)) await rm(join(paths.coat(key), name), { force: true });
}

async function renderedPart(shop: Shop, coat: CoatOrder, part: number, how: RunHow): Promise<PartIndex> {
  const what = `To draw one of its ${String(partCount(coat.height))} parts`;
  const index = await inTime(shop, what, shop.work.run('coat part', { coat, part }, how));
  if ('refused' in index) throw new Refused(422, 'no-rendering', index.refused, undefined, PROFILE_WAY_OUT);
  return index;
}

export const PROFILE_WAY_OUT = 'Bring in another profile under the name that the mode asks for.';

/** Writes down what a rendering is, beside its parts. */
async function noteOrder(shop: Pick<Shop, 'paths'>, order: CoatOrder): Promise<void> {
  const text = JSON.stringify(order);
  if ((await textOf(orderFile(shop, order.key))) !== text) await writeWhole(orderFile(shop, order.key), text);
}

/** What a rendering is, as it was written down; undefined: nothing is here of it. */
export async function notedOrder(shop: Pick<Shop, 'paths'>, key: string): Promise<CoatOrder | undefined> {
  const text = await textOf(orderFile(shop, key));
  if (text === undefined) return undefined;
  // Those that an earlier version wrote down were all in sRGB.
  const order = JSON.parse(text) as Omit<CoatOrder, 'artwork'> & Partial<Pick<CoatOrder, 'artwork'>>;
  return { ...order, artwork: order.artwork ?? null };
}

/** A part of a rendering as a channel file; undefined where it is not there, or not yet. */
export async function coatPart(shop: Shop, key: string, part: number, how: RunHow): Promise<CoatFile | undefined> {
  const order = await notedOrder(shop, key);
  if (!order || part >= partCount(order.height)) return undefined;
  return (await shop.work.run('coat part file', { order, part }, how)) ?? undefined;
}

async function textOf(file: string): Promise<string | undefined> {
  try {
    return await readFile(file, 'utf8');
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') return undefined;
    throw error;
  }
}
