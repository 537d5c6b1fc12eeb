import { cropValues } from './cropValues.ts';
import type { InkTile } from './inkTiles.ts';
import type { ShownCoat } from './shownCoat.ts';

const channel = { colour: '#000000', counted: undefined };
const COAT: ShownCoat = {
  isScreened: false,
  ...{ no: 1, name: 'Colours', rendering: 'r', widthDots: 400, heightDots: 800, dpiX: 720, dpiY: 1440 },
  ...{ profile: 'p', intent: 'relative', screening: 'error diffusion', inkLimit: 2.4, dropsPl: [3, 5, 7] },
  ...{ mostZoom: 2, tilePx: 256 },
  channels: [
    { ...channel, id: 'cyan', name: 'Cyan' },
    { ...channel, id: 'black', name: 'Black' },
  ],
};

/** Ink of a dot: cyan in the right half of the media, black in the upper half of the run. */
const tileOf = ({ zoom, x, y }: { zoom: number; x: number; y: number }): InkTile => {
  const dots = 2 ** zoom;
  const width = Math.min(256, Math.ceil(400 / dots) - x * 256);
  const height = Math.min(256, Math.ceil(800 / dots) - y * 256);
  const inks = (is: (column: number, row: number) => boolean): Uint8Array =>
    Uint8Array.from({ length: width * height }, (_, i) =>
      is((x * 256 + (i % width)) * dots, (y * 256 + Math.floor(i / width)) * dots) ? 255 : 0,
    );
  return { width, height, inks: [inks((column) => column >= 200), inks((_, row) => row < 400)] };
};

test('all of a coat: each channel by its share; the view may be larger than the coat', () => {
  const values = cropValues(COAT, { x: 200, y: 200, scale: 1 }, { width: 1000, height: 1000 }, 0, tileOf);
  expect(values).toEqual({ from: { x: 0, y: 0 }, to: { x: 400, y: 800 }, inks: [0.5, 0.5] });
});

test('a part of it, by what lies in view alone, near and from afar', () => {
  // 100 × 100 dots across and along around the middle of the media, a quarter down the run: rows are half as long as wide.
  const near = cropValues(COAT, { x: 200, y: 100, scale: 4 }, { width: 400, height: 400 }, 0, tileOf);
  expect(near?.from).toEqual({ x: 150, y: 100 });
  expect(near?.to).toEqual({ x: 250, y: 300 });
  expect(near?.inks).toEqual([0.5, 1]);
  const afar = cropValues(COAT, { x: 250, y: 200, scale: 0.25 }, { width: 50, height: 50 }, 2, tileOf);
  expect(afar?.inks[0]).toBeCloseTo(0.75, 1);
  expect(afar?.inks[1]).toBeCloseTo(0.5, 1);
});

test('tiles on their way, and a view beside the coat, have no values', () => {
  const view = { width: 100, height: 100 };
  expect(cropValues(COAT, { x: 200, y: 200, scale: 1 }, view, 0, () => undefined)).toBeUndefined();
  expect(cropValues(COAT, { x: 2000, y: 200, scale: 1 }, view, 0, tileOf)).toBeUndefined();
});
