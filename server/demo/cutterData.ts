import type { CutterAbout } from '../../contract/machine/cutter.ts';

/** The cutter that stands beside the printers. */
export const CUTTERS: readonly CutterAbout[] = [
  {
    id: 'kestrel',
    name: 'Kestrel',
    widthMm: 1630,
    lengthMm: 30_000,
    markReadS: 24,
    cutMmPerS: 420,
    travelMmPerS: 900,
    liftS: 0.14,
  },
];
