/*
 * Makes the profiles of the demo's printers, one for each mode, and that of CMYK that comes without one, from made-up inks and media.
 * Usage: npm run profiles, after this has changed; it takes some minutes. With words behind it: those that have one of them in their name.
 */
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { PRINTERS } from '../server/demo/printerData.ts';
import { ASSUMED_CMYK } from '../core/coats/artworkProfiles.ts';
import { profileFile } from '../server/demo/profileFile.ts';
import type { Ink, ModelledPrinter, Triple } from './profiles/inkModel.ts';
import { LETS, madeProfile } from './profiles/madeProfile.ts';

/** What is printed on in a mode, and how inks spread there. */
const MEDIA: Readonly<Record<string, { readonly media: Triple; readonly gain: number }>> = {
  'Heron banner 6-pass': { media: [0.86, 0.87, 0.86], gain: 1.7 },
  'Heron film 12-pass': { media: [0.9, 0.9, 0.91], gain: 1.45 },
  'Magpie vinyl 8-pass': { media: [0.91, 0.91, 0.9], gain: 1.5 },
  'Magpie clear 16-pass': { media: [0.88, 0.89, 0.88], gain: 1.4 },
  'Bittern satin 8-pass': { media: [0.92, 0.92, 0.93], gain: 1.5 },
  'Bittern matt 4-pass': { media: [0.84, 0.84, 0.82], gain: 2 },
  'Wren film 8-pass': { media: [0.89, 0.89, 0.89], gain: 1.5 },
  'Wren film 4-pass': { media: [0.89, 0.89, 0.89], gain: 1.6 },
  'Puffin cotton 4-pass': { media: [0.82, 0.82, 0.83], gain: 2.1 },
  'Puffin underbase 8-pass': { media: [0.8, 0.81, 0.82], gain: 1.9 },
  'Gannet bond': { media: [0.83, 0.84, 0.86], gain: 2.1 },
  'Gannet poster': { media: [0.88, 0.88, 0.9], gain: 1.7 },
};

/** A press on coated paper: what CMYK of artwork is taken for where it does not say. */
const PRESS: ModelledPrinter = {
  inks: ['cyan', 'magenta', 'yellow', 'black'].map((id): Ink => ({ id, lets: LETS[id] ?? [1, 1, 1] })),
  total: 3.3,
  media: [0.9, 0.9, 0.89],
  gain: 1.6,
};

const words = process.argv.slice(2);

function write(name: string, printer: ModelledPrinter): void {
  if (words.length > 0 && !words.some((word) => name.includes(word))) return;
  const file = madeProfile(printer, name);
  writeFileSync(profileFile(name), file);
  console.log(`${name}: ${String(Math.round(file.length / 1000))} kB`);
}

mkdirSync(join('server', 'demo', 'profiles'), { recursive: true });
write(ASSUMED_CMYK, PRESS);
for (const { config } of PRINTERS) {
  // White lies under or over the colours: it is no part of them.
  const inks = config.channels
    .filter(({ id }) => id !== 'white')
    .map(({ id }): Ink => ({ id, lets: LETS[id] ?? [1, 1, 1] }));
  for (const mode of config.modes) {
    const own = MEDIA[mode.profile];
    if (!own) throw new Error(`nothing is known of ${mode.profile}`);
    write(mode.profile, { inks, total: mode.inkLimit, ...own });
  }
}
