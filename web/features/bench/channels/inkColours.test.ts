import { heatOf, mixInks } from './inkColours.ts';

test('inks let through what a full layer of each does, by its share; what is bare shows the media', () => {
  const pixels = new Uint8ClampedArray(4 * 4);
  mixInks(
    [255, 240, 200],
    [
      { inks: Uint8Array.of(0, 255, 255, 128), colour: [0, 102, 255] },
      { inks: Uint8Array.of(0, 0, 255, 0), colour: [255, 255, 51] },
    ],
    pixels,
  );
  const at = (i: number): number[] => [...pixels.subarray(i * 4, i * 4 + 4)];
  expect(at(0)).toEqual([255, 240, 200, 255]);
  expect(at(1)).toEqual([0, 96, 200, 255]);
  expect(at(2)).toEqual([0, 96, 40, 255]);
  // Half a layer: half of what it takes away.
  expect(at(3)).toEqual([127, 168, 200, 255]);
});

test('as heat: bare is the media, a trace of ink is pale, and from the limit on it is as hot as it gets', () => {
  const pixels = new Uint8ClampedArray(5 * 4);
  heatOf([255, 240, 200], [Uint8Array.of(0, 1, 153, 204, 255), Uint8Array.of(0, 0, 153, 204, 255)], 1.6, pixels);
  const at = (i: number): number[] => [...pixels.subarray(i * 4, i * 4 + 3)];
  expect(at(0)).toEqual([255, 240, 200]);
  // Three quarters of the limit, then the limit, then beyond.
  expect(at(2)).toEqual([0xe0, 0xa9, 0x3b]);
  expect(at(3)).toEqual([0xb3, 0x26, 0x1e]);
  expect(at(4)).toEqual(at(3));
  expect(at(1)[0]).toBeGreaterThan(0xe0);
});
