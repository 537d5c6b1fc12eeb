import { inflateSync } from 'node:zlib';
import type { MachineAbout } from '../contract/machine/about.ts';
import type { MachineRun } from '../contract/machine/protocol.ts';
import { dotsMl } from '../core/coats/dropSizes.ts';
import { dotsOfFile } from '../core/raster/channelFile.ts';

/** A part that is not there yet, or a line that is dead, is asked for again so much later (real time). */
const AGAIN_MS = 250;
const PATIENCE_MS = 30_000;

/** Rows that were read, one part behind the other: how far they go, and what they fire (ml by channel). */
export interface ReadPart {
  readonly toRow: number;
  readonly inkMl: Readonly<Record<string, number>>;
}

/** What a printer knows of the dots that it is to fire. */
export interface JobDots {
  readonly order: NonNullable<MachineRun['dots']>;
  readonly rows: number;
  readonly read: ReadPart[];
}

export function unread(order: NonNullable<MachineRun['dots']>): JobDots {
  return { order, rows: order.parts.reduce((sum, { rows }) => sum + rows, 0), read: [] };
}

export function rowsRead({ read }: JobDots): number {
  return read[read.length - 1]?.toRow ?? 0;
}

/** Ink of the rows from the first up to one (ml by channel); of rows that were not read nothing is known yet. */
export function inkUpTo({ read }: JobDots, row: number): Record<string, number> {
  const inkMl: Record<string, number> = {};
  let from = 0;
  for (const part of read) {
    const share = Math.min(1, Math.max(0, (row - from) / (part.toRow - from)));
    for (const [id, ml] of Object.entries(part.inkMl)) inkMl[id] = (inkMl[id] ?? 0) + ml * share;
    from = part.toRow;
  }
  return inkMl;
}

/**
 * Reads the dots of a job part by part, as fast as they come, whatever the shop's clock does. A part that is not rendered yet is asked for
 * again and again.
 * @param wanted whether the job is still on the printer
 * @param heard told after each part
 */
export async function readDots(
  dots: JobDots,
  about: MachineAbout | undefined,
  wanted: () => boolean,
  heard: () => void,
): Promise<void> {
  while (dots.read.length < dots.order.parts.length && wanted()) {
    const part = dots.order.parts[dots.read.length];
    const file = part && (await fetched(part.url));
    if (!wanted()) return;
    if (!part || !file) {
      await new Promise((done) => setTimeout(done, AGAIN_MS));
      continue;
    }
    dots.read.push({ toRow: rowsRead(dots) + part.rows, inkMl: firedMl(file, dots, about) });
    heard();
  }
}

async function fetched(url: string): Promise<Uint8Array | undefined> {
  try {
    const answer = await fetch(url, { signal: AbortSignal.timeout(PATIENCE_MS) });
    // What is heavy is answered later: it is asked for again until it is there.
    if (answer.status !== 200) {
      await answer.body?.cancel();
      return undefined;
    }
    return new Uint8Array(await answer.arrayBuffer());
  } catch {
    return undefined;
  }
}

function firedMl(file: Uint8Array, { order }: JobDots, about: MachineAbout | undefined): Record<string, number> {
  const [small = 0, medium = 0, full = 0] = order.dropsPl;
  const inkMl: Record<string, number> = {};
  for (const [id, counts] of dotsOfFile(file, inflateSync)) {
    const heads = about?.channels.find((channel) => channel.id === id)?.heads ?? 1;
    inkMl[id] = dotsMl(counts, [small, medium, full], 1, heads);
  }
  return inkMl;
}
