import { mkdir, rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { PDFDocument, StandardFonts, rgb } from '@cantoo/pdf-lib';
import type { QueueView } from '../contract/api/ticket.ts';

const PT = 72 / 25.4;

/** Who sends work: made up, like everything in the demo's shop. */
const CUSTOMERS = [
  'Saltmarsh Library',
  'Quillon Tramways',
  'Brackwater Aquarium',
  'Fennick Bicycle Library',
  'Ferry House Theatre',
  'Lantern Street Night Market',
] as const;
const THINGS = ['Notice', 'Poster', 'Plan', 'Price card', 'Programme', 'Sign'] as const;

function pick<T>(from: readonly T[], random: () => number): T {
  const found = from[Math.floor(random() * from.length)];
  if (found === undefined) throw new Error('nothing to choose from');
  return found;
}

/** A page that fits any media of the demo. */
async function page(title: string, random: () => number): Promise<Uint8Array> {
  const widthMm = 300 + Math.floor(random() * 25) * 20;
  const heightMm = 300 + Math.floor(random() * 40) * 20;
  const out = await PDFDocument.create({ updateMetadata: false });
  const font = await out.embedFont(StandardFonts.HelveticaBold);
  const [w, h] = [widthMm * PT, heightMm * PT];
  const sheet = out.addPage([w, h]);
  const colour = (): ReturnType<typeof rgb> => rgb(0.15 + random() * 0.7, 0.15 + random() * 0.7, 0.15 + random() * 0.7);
  sheet.drawRectangle({ x: 0, y: 0, width: w, height: h, color: rgb(0.97, 0.95, 0.9) });
  const bars = 3 + Math.floor(random() * 5);
  for (let i = 0; i < bars; i += 1) {
    const height = (h * 0.6) / bars;
    const y = h * 0.08 + i * height;
    sheet.drawRectangle({ x: w * 0.08, y, width: w * (0.3 + random() * 0.54), height: height * 0.7, color: colour() });
  }
  const size = Math.min(w / (title.length * 0.6), h / 8);
  sheet.drawText(title, { x: w * 0.08, y: h * 0.8, size, font, color: rgb(0.1, 0.1, 0.15) });
  return out.save();
}

/**
 * Lays a file into a hot folder, whole at once: it is written beside it and moved in. Mostly into queues that print by
 * themselves, so that the shop has work; now and then into one where a person looks first.
 */
export async function layWork(
  queues: readonly QueueView[],
  no: number,
  spareDir: string,
  random: () => number,
): Promise<string | undefined> {
  const folders = queues.flatMap((queue) =>
    queue.hotFolders
      .filter(({ state }) => state === 'watched')
      .map(({ path, arrivalRule }) => ({ path, goes: (arrivalRule ?? queue.arrivalRule) === 'go' })),
  );
  const going = folders.filter(({ goes }) => goes);
  const among = going.length > 0 && random() < 0.75 ? going : folders;
  if (among.length === 0) return undefined;
  const { path } = pick(among, random);
  const title = `${pick(THINGS, random)} ${pick(CUSTOMERS, random)}`;
  const name = `${title} ${String(no)}.pdf`;
  await mkdir(spareDir, { recursive: true });
  const spare = join(spareDir, name);
  await writeFile(spare, await page(title, random));
  await rename(spare, join(path, name));
  return name;
}
