import fc from 'fast-check';
import {
  type ChannelPage,
  channelDirectories,
  channelHeader,
  countDots,
  readChannelFile,
  tileGrid,
} from './channelFile.ts';
import { TILE, isFired, lineTile } from './dotLines.ts';

test('lines fire exactly their share of dots, in every row alike, and one is the other shifted', () => {
  fc.assert(
    fc.property(fc.double({ min: 0, max: 1, noNaN: true }), fc.integer({ min: -500, max: 500 }), (share, offset) => {
      const rows = Array.from({ length: 256 }, (_, y) => {
        let fired = 0;
        for (let x = 0; x < 256; x += 1) if (isFired(share, x, y, offset)) fired += 1;
        return fired;
      });
      const all = rows.reduce((sum, n) => sum + n, 0);
      expect(Math.abs(all / 65_536 - share)).toBeLessThanOrEqual(1 / 65_536 + 1e-9);
      expect(Math.max(...rows) - Math.min(...rows)).toBeLessThanOrEqual(1);
      expect(isFired(share, 7, 0, offset)).toBe(isFired(share, 0, 0, offset + 7));
    }),
    { numRuns: 30 },
  );
});

test('a tile holds what its dots say, and comes round at its edges', () => {
  const tile = lineTile(0.37, 11);
  expect(tile.length).toBe(65_536);
  for (const [x, y] of [
    [0, 0],
    [1, 0],
    [255, 3],
    [256, 3],
    [1023, 255],
    [517, 128],
  ] as const) {
    const dot = ((tile[(y * TILE.width + x) >> 2] ?? 0) >> (6 - 2 * (x & 3))) & 3;
    expect([x, y, dot]).toEqual([x, y, isFired(0.37, x, y, 11) ? 3 : 0]);
    expect(isFired(0.37, x + TILE.width, y + TILE.height, 11)).toBe(isFired(0.37, x, y, 11));
  }
});

test('pages are read as they were written; dots beyond the edge of the picture do not count', () => {
  const size = fc.integer({ min: 1, max: 2600 });
  const names = fc.array(fc.constantFrom('cyan', 'white', 'light magenta', 'spot-1'), { minLength: 1, maxLength: 4 });
  fc.assert(
    fc.property(size, fc.integer({ min: 1, max: 700 }), names, (width, height, list) => {
      const { across, down } = tileGrid(width, height);
      const pages: ChannelPage[] = list.map((name, i) => ({
        ...{ name, width, height, dpiX: 720, dpiY: 1440 },
        tiles: Array.from({ length: across * down }, () => ({ offset: 16 + i, bytes: 100 + i })),
      }));
      const at = 16 + 64;
      const file = new Uint8Array(at + channelDirectories(pages, at).length);
      file.set(channelHeader(at));
      file.set(channelDirectories(pages, at), at);
      expect(readChannelFile(file)).toEqual(pages);
      const [page] = pages;
      if (page) expect(countDots(page, () => new Uint8Array(65_536).fill(255))).toEqual([0, 0, 0, width * height]);
    }),
    { numRuns: 40 },
  );
  expect(() => readChannelFile(new Uint8Array(40))).toThrow('no channel file');
});
