import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { partCount } from '../../../core/raster/bands.ts';
import { writeWhole } from '../../files/atomic.ts';
import type { RunHow } from '../../ports/work.ts';
import type { CoatFile } from '../../render/channels/coatFile.ts';
import type { CoatOrder } from '../../render/channels/renderPart.ts';
import type { Shop } from '../../shop.ts';

/*
 * A device that prints a coat asks for it by the name of the rendering, part by part: whatever becomes of its run or its profile meanwhile,
 * that is what it was sent.
 */

function orderFile({ paths }: Pick<Shop, 'paths'>, key: string): string {
  return join(paths.coat(key), 'order.json');
}

/** Writes down what a rendering is, beside its parts. */
export async function noteOrder(shop: Pick<Shop, 'paths'>, order: CoatOrder): Promise<void> {
  const text = JSON.stringify(order);
  if ((await textOf(orderFile(shop, order.key))) !== text) await writeWhole(orderFile(shop, order.key), text);
}

/** A part of a rendering as a channel file; undefined where it is not there, or not yet. */
export async function coatPart(shop: Shop, key: string, part: number, how: RunHow): Promise<CoatFile | undefined> {
  const text = await textOf(orderFile(shop, key));
  if (text === undefined) return undefined;
  const order = JSON.parse(text) as CoatOrder;
  if (part >= partCount(order.height)) return undefined;
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
