import { PLAIN_ARTWORK, isSrgb, needsProfiles } from './artworkProfiles.ts';

const PLAIN = { colourSpaces: ['RGB', 'grey'], spots: [], profile: null };

test.each([
  ['RGB and grey that say nothing', {}, false],
  ['sRGB that says so', { profile: 'sRGB IEC61966-2.1' }, false],
  ['another RGB', { profile: 'Wide RGB' }, true],
  ['a profile that can’t be read', { profile: 'unreadable profile' }, true],
  ['CMYK', { colourSpaces: ['CMYK'] }, true],
  ['RGB beside CMYK', { colourSpaces: ['CMYK', 'RGB'] }, true],
  ['Lab', { colourSpaces: ['Lab'] }, true],
  ['a spot colour', { spots: ['Lantern Gold'] }, true],
] as const)('%s: colours are read by profiles or stand for themselves', (_, more, wanted) => {
  expect(needsProfiles({ ...PLAIN, ...more }, PLAIN_ARTWORK)).toBe(wanted);
  // To leave profiles of files aside takes reading, too: what draws pages would use them.
  expect(needsProfiles({ ...PLAIN, ...more }, { ...PLAIN_ARTWORK, embedded: false })).toBe(wanted);
  // Where plain RGB is another than sRGB, nothing stands for itself.
  expect(needsProfiles({ ...PLAIN, ...more }, { ...PLAIN_ARTWORK, rgb: 'Screen' })).toBe(true);
});

test('only what calls itself sRGB is sRGB', () => {
  expect(['sRGB', 'sRGB2014', 'srgb built-in', 'scRGB', 'my sRGB copy'].map(isSrgb)).toEqual([
    true,
    true,
    true,
    false,
    false,
  ]);
});
