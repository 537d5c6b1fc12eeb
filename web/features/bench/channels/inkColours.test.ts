import { mixInks } from './inkColours.ts';

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
