import { createHash } from 'node:crypto';
import { inflateSync } from 'node:zlib';
import type { CareOrder, MachineRun } from '../contract/machine/protocol.ts';
import { dotsMl, dropSizesOf } from '../core/coats/dropSizes.ts';
import { dotsOfFile } from '../core/raster/channelFile.ts';
import type { StandIn } from './machine.ts';

function failed(what: string): Error {
  return Object.assign(new Error(what), { status: 502 });
}

async function* chunksOf(url: string, what: string): AsyncIterable<Uint8Array> {
  const answer = await fetch(url, { signal: AbortSignal.timeout(30_000) });
  if (!answer.ok || !answer.body) throw failed(`${what}: ${String(answer.status)}`);
  yield* answer.body as unknown as AsyncIterable<Uint8Array>;
}

/** Takes the run's file as a printer would: whole, and the one that was meant. */
export async function fetchArtwork({ pdf }: MachineRun): Promise<void> {
  const hash = createHash('sha256');
  for await (const chunk of chunksOf(pdf.url, 'artwork')) hash.update(chunk);
  if (hash.digest('hex') !== pdf.sha256) throw failed('artwork: not the file that was announced');
}

/** Care as it is really fired: the dots of its channel files decide how much ink that is. */
export async function asFired(order: CareOrder, { about }: Pick<StandIn, 'about'>): Promise<CareOrder> {
  if (!order.rasters || order.rasters.length === 0) return order;
  const { dropPl } = order;
  if (dropPl === undefined) throw failed('rasters: the volume of a drop is not said');
  const inkMl: Record<string, number> = {};
  for (const raster of order.rasters) {
    for (const [id, dots] of dotsOfFile(await wholeFile(raster), inflateSync)) {
      const heads = about?.channels.find((channel) => channel.id === id)?.heads ?? 1;
      inkMl[id] = (inkMl[id] ?? 0) + dotsMl(dots, dropSizesOf(dropPl), 1, heads);
    }
  }
  return { ...order, inkMl };
}

async function wholeFile({ url, sha256, bytes }: NonNullable<CareOrder['rasters']>[number]): Promise<Uint8Array> {
  const chunks: Uint8Array[] = [];
  for await (const chunk of chunksOf(url, 'rasters')) chunks.push(chunk);
  const file = Buffer.concat(chunks);
  if (file.length !== bytes || createHash('sha256').update(file).digest('hex') !== sha256) {
    throw failed('rasters: not the file that was announced');
  }
  return file;
}
