import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';
import { dropSizesOf } from '../../core/coats/dropSizes.ts';
import { PLAIN_TONE } from '../../core/coats/tone.ts';
import { profileFile } from '../demo/profileFile.ts';
import type { DataPaths } from '../files/paths.ts';
import type { CoatOrder } from '../render/channels/renderPart.ts';

export const HERON = { name: 'Heron banner 6-pass', sha256: 'heron' } as const;

/** How Heron prints a banner of so many dots, in six inks and without a change of tone. */
export function heronCoat(key: string, pdfKey: string, width: number, height: number, dpi: number): CoatOrder {
  return {
    ...{ key, pdfKey, width, height, dpiX: dpi, dpiY: dpi },
    channels: ['cyan', 'magenta', 'yellow', 'black', 'light-cyan', 'light-magenta'],
    profile: HERON,
    intent: 'relative with black point',
    artwork: null,
    inkLimit: 2.4,
    tone: PLAIN_TONE,
    curves: [],
    screening: 'error diffusion',
    drops: dropSizesOf(7),
  };
}

/** Puts the profile of {@link heronCoat} where it is looked for. */
export function putHeronProfile(paths: DataPaths): void {
  mkdirSync(dirname(paths.profile(HERON.sha256)), { recursive: true });
  writeFileSync(paths.profile(HERON.sha256), readFileSync(profileFile(HERON.name)));
}
