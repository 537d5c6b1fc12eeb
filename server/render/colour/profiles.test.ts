import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import sharp from 'sharp';
import { FULL_INK, inksOf, LANES } from '../../../core/coats/inkTable.ts';
import { PRINTERS } from '../../demo/printerData.ts';
import { profileFile } from '../../demo/profileFile.ts';
import { bakeInks } from './bakeInks.ts';
import { ColourLibrary } from './colourLibrary.ts';
import { type PreviewOrder, previewColour } from './previewColour.ts';
import { DataPaths } from '../../files/paths.ts';
import type { ModelledPrinter } from '../../../scripts/profiles/inkModel.ts';
import { LETS, madeProfile } from '../../../scripts/profiles/madeProfile.ts';
import { seededRandom } from '../../../core/random.ts';
import { INTENTS } from '../../../core/coats/intent.ts';
import { PLAIN_TONE } from '../../../core/coats/tone.ts';

const MODES = PRINTERS.flatMap(({ name, config }) =>
  config.modes.map((mode) => ({
    title: `${name} ${mode.name}`,
    profile: mode.profile,
    inkLimit: mode.inkLimit,
    channels: config.channels.map(({ id }) => id).filter((id) => id !== 'white'),
  })),
);
const read = (name: string): Uint8Array => readFileSync(profileFile(name));
/** Bends light and dark inks alike. */
const HERON = MODES[0] ?? { title: '', profile: '', inkLimit: 0, channels: [] };

test.each(MODES)(
  '$title: its profile is one of a printer, with its inks and its name',
  async ({ profile, channels }) => {
    const library = await ColourLibrary.open();
    const open = library.profile(read(profile));
    expect(open).toMatchObject({ name: profile, deviceClass: 'prtr', channels: channels.length });
    // There and back: what is asked for within what can be printed comes out.
    const lab = library.lab();
    const toInk = library.transform(lab, open, 'relative');
    const toLab = library.transform(open, lab, 'relative');
    const random = seededRandom(5);
    const asked = new Uint16Array(600 * 3);
    for (let i = 0; i < 600; i += 1) {
      const near = (most: number): number => (2 * random() - 1) * most;
      asked.set([((45 + 50 * random()) / 100) * 65_535, 0x8080 + near(18) * 257, 0x8080 + near(18) * 257], i * 3);
    }
    const got = toLab(toInk(asked));
    const far = Array.from({ length: 600 }, (_, i) => {
      const d = (k: number, unit: number): number => ((got[i * 3 + k] ?? 0) - (asked[i * 3 + k] ?? 0)) / unit;
      return Math.hypot(d(0, 655.35), d(1, 257), d(2, 257));
    }).sort((a, b) => a - b);
    expect(far[300]).toBeLessThan(2);
    library.close();
  },
);

test.each(MODES)(
  '$title: bare media stays bare, black is dark, and no colour gets more than the ink limit',
  async (mode) => {
    for (const intent of INTENTS) {
      if (intent === 'absolute') continue;
      const table = await bakeInks({ input: null, output: read(mode.profile), ...mode, intent, nodes: 17 });
      expect(Array.from(inksOf(table, Uint8Array.of(255, 255, 255, 255)))).toEqual(new Array(LANES).fill(0));
      const black = inksOf(table, Uint8Array.of(0, 0, 0, 255));
      expect(black[mode.channels.indexOf('black')]).toBeGreaterThan(150);
      const nodes = table.values.length / LANES;
      for (let node = 0; node < nodes; node += 1) {
        const sum = table.values.subarray(node * LANES, node * LANES + LANES).reduce((all, ink) => all + ink, 0);
        // Each ink is rounded by itself.
        expect(sum).toBeLessThanOrEqual(mode.inkLimit * FULL_INK + LANES / 2);
      }
    }
  },
);

test('the table says what the library says: of 255, within 1 on average, 99 of 100 within 2', async () => {
  const { channels, profile } = HERON;
  const table = await bakeInks({ input: null, output: read(profile), channels, intent: 'relative', inkLimit: null });
  const library = await ColourLibrary.open();
  const direct = library.transform(library.sRgb(), library.profile(read(profile)), 'relative');
  const random = seededRandom(11);
  const pixels = Uint8Array.from({ length: 4 * 20_000 }, (_, i) => (i % 4 === 3 ? 255 : Math.floor(random() * 256)));
  const wide = new Uint16Array(3 * 20_000);
  for (let i = 0; i < 20_000; i += 1) for (let c = 0; c < 3; c += 1) wide[i * 3 + c] = (pixels[i * 4 + c] ?? 0) * 257;
  const exact = direct(wide);
  const ours = inksOf(table, pixels);
  const off: number[] = [];
  for (let i = 0; i < 20_000; i += 1) {
    channels.forEach((_, c) => {
      off.push(Math.abs((ours[i * LANES + c] ?? 0) - (exact[i * channels.length + c] ?? 0) / 257));
    });
  }
  off.sort((a, b) => a - b);
  expect(off.reduce((sum, each) => sum + each, 0) / off.length).toBeLessThan(1);
  expect(off[Math.floor(off.length * 0.99)]).toBeLessThanOrEqual(2);
  library.close();
});

test('with black point, black comes out as dark as the printer can, and shades stay apart in the shadows', async () => {
  const { channels, profile, inkLimit } = HERON;
  const bake = (intent: 'relative' | 'relative with black point') =>
    bakeInks({ input: null, output: read(profile), channels, intent, inkLimit, nodes: 33 });
  const [plain, kept] = [await bake('relative'), await bake('relative with black point')];
  const library = await ColourLibrary.open();
  const toLab = library.transform(library.profile(read(profile)), library.lab(), 'relative');
  const lightness = (table: typeof plain, grey: number): number => {
    const inks = inksOf(table, Uint8Array.of(grey, grey, grey, 255));
    return (toLab(Uint16Array.from(inks.subarray(0, channels.length), (ink) => ink * 257))[0] ?? 0) / 655.35;
  };
  const shades = [0, 8, 16, 24, 32, 48];
  const [without, withIt] = [plain, kept].map((table) => shades.map((grey) => lightness(table, grey)));
  if (!without || !withIt) throw new Error('nothing was baked');
  const steps = (list: readonly number[]): number[] => list.slice(1).map((l, i) => l - (list[i] ?? 0));
  expect(Math.min(...steps(withIt))).toBeGreaterThan(Math.min(...steps(without)));
  expect(Math.min(...steps(withIt))).toBeGreaterThan(0.3);
  library.close();
});

test('tone and curves are baked in: the artwork’s before colours become inks, the printer’s after; black is taken from last', async () => {
  const { channels, profile } = HERON;
  const nodes = 5;
  const base = { input: null, output: read(profile), channels, intent: 'relative', inkLimit: null, nodes } as const;
  const plain = await bakeInks(base);
  const at = (table: typeof plain, r: number, g: number, b: number): number[] => {
    const from = ((r * nodes + g) * nodes + b) * LANES;
    return [...table.values.subarray(from, from + channels.length)];
  };
  // A quarter goes where three quarters were: a node takes the inks of the node that it becomes.
  const bent = ['red', 'green', 'blue'].map((channel) => ({ channel, points: [{ at: 0.25, to: 0.75 }] }));
  const lighter = await bakeInks({ ...base, curves: bent });
  expect(at(lighter, 1, 1, 1)).toEqual(at(plain, 3, 3, 3));
  expect(at(lighter, 1, 0, 4)).toEqual(at(plain, 3, 0, 4));
  // The middle of a gamma of ½ is a quarter, that of one of 2 lies where nothing was.
  const darker = await bakeInks({ ...base, tone: { ...PLAIN_TONE, gamma: 0.5 } });
  expect(at(darker, 2, 2, 2)).toEqual(at(plain, 1, 1, 1));
  const nothing = await bakeInks({ ...base, tone: { ...PLAIN_TONE, brightness: 100 } });
  expect(Math.max(...nothing.values)).toBe(0);
  const half = await bakeInks({ ...base, curves: [{ channel: 'cyan', points: [{ at: 1, to: 0.5 }] }] });
  for (const node of [at(half, 0, 2, 2), at(half, 0, 4, 4), at(half, 1, 0, 3)].map((inks, i) => ({
    inks,
    was: [at(plain, 0, 2, 2), at(plain, 0, 4, 4), at(plain, 1, 0, 3)][i] ?? [],
  }))) {
    expect(Math.abs((node.inks[0] ?? 0) - (node.was[0] ?? 0) / 2)).toBeLessThanOrEqual(1);
    expect(node.inks.slice(1)).toEqual(node.was.slice(1));
  }
  const limited = await bakeInks({ ...base, inkLimit: 1.5 });
  const black = channels.indexOf('black');
  const [inks, was] = [at(limited, 0, 0, 0), at(plain, 0, 0, 0)];
  expect(was.reduce((sum, ink) => sum + ink, 0)).toBeGreaterThan(1.5 * FULL_INK);
  expect(inks[black]).toBe(was[black]);
  expect(inks.reduce((sum, ink) => sum + ink, 0)).toBeLessThanOrEqual(1.5 * FULL_INK + LANES / 2);
});

test('what is no profile, cut short, of another kind or of another number of inks is refused with the reason', async () => {
  const { channels, profile } = HERON;
  const whole = read(profile);
  const order = { input: null, channels, intent: 'relative', inkLimit: null, nodes: 5 } as const;
  const refused = async (output: Uint8Array, input: Uint8Array | null = null): Promise<string> => {
    try {
      await bakeInks({ ...order, output, input });
      return 'taken';
    } catch (error) {
      return error instanceof Error ? error.message : 'thrown';
    }
  };
  expect(await refused(new Uint8Array())).toBe('This is no ICC profile.');
  expect(await refused(Buffer.from('P'.repeat(4000)))).toBe('This is no ICC profile.');
  expect(await refused(whole.subarray(0, 5000))).toBe(
    `The profile is cut short: it says ${String(whole.length)} bytes, and 5000 are here.`,
  );
  expect(await refused(read('Gannet bond'))).toBe(
    'Gannet bond is for 4 inks, and the printer has 6 colours: cyan, magenta, yellow, black, light-cyan, light-magenta.',
  );
  // Its length is put right, and its tables are gone.
  const gutted = Uint8Array.from(whole.subarray(0, 400));
  new DataView(gutted.buffer).setUint32(0, gutted.length);
  expect(await refused(gutted)).toMatch(/^The profile .*damaged/);
  expect(await refused(whole, whole)).toBe('Heron banner 6-pass describes 6CLR, and pixels are RGB here.');
});

describe('eight inks', () => {
  const ids = ['cyan', 'magenta', 'yellow', 'black', 'light-cyan', 'light-magenta', 'light-black', 'grey'];
  const printer: ModelledPrinter = {
    inks: ids.map((id) => ({ id, lets: LETS[id] ?? [1, 1, 1] })),
    ...{ total: 2.4, gain: 1.5, media: [0.9, 0.9, 0.9] },
  };
  const dir = mkdtempSync(join(tmpdir(), 'yellow-spool-test-'));
  let output: Uint8Array;
  beforeAll(() => {
    output = madeProfile(printer, 'Eight', 9);
  });
  afterAll(() => {
    rmSync(dir, { recursive: true });
  });

  test('bare media stays bare, and light inks go before dark ones', async () => {
    const table = await bakeInks({ output, input: null, channels: ids, intent: INTENTS[0], inkLimit: 2.4, nodes: 17 });
    expect(Array.from(inksOf(table, Uint8Array.of(255, 255, 255, 255)))).toEqual(new Array(LANES).fill(0));
    const pale = inksOf(table, Uint8Array.of(225, 240, 245, 255));
    expect(pale[ids.indexOf('light-cyan')]).toBeGreaterThan(20);
    expect(pale[ids.indexOf('cyan')]).toBeLessThan(6);
  });

  test('a print of them is seen: nothing on white, and each channel takes what the table says', async () => {
    const paths = new DataPaths(dir);
    mkdirSync(dirname(paths.profile('eight')), { recursive: true });
    writeFileSync(paths.profile('eight'), output);
    const picture = join(dir, 'page.png');
    const half = { create: { width: 100, height: 200, channels: 3, background: '#204080' } } as const;
    await sharp({ create: { width: 200, height: 200, channels: 3, background: '#ffffff' } })
      .composite([{ input: half, left: 0, top: 0 }])
      .png()
      .toFile(picture);
    const order: PreviewOrder = {
      isWide: false,
      ...{ picture, crop: { x: 0, y: 0, width: 1, height: 1 }, mostPx: 200, channels: ids, inkLimit: 2.4 },
      ...{ profile: { name: 'Eight', sha256: 'eight' }, intent: 'relative with black point', curves: [] },
      ...{ tone: PLAIN_TONE, view: 'print', paperWhite: false },
    };
    const { inks, png, mostInk } = await previewColour(order, paths);
    const table = await bakeInks({ ...order, input: null, output, nodes: 65 });
    const of = inksOf(table, Uint8Array.of(0x20, 0x40, 0x80, 255));
    expect(mostInk).toBeGreaterThan(0.5);
    inks.forEach((ink, i) => {
      expect(Math.abs(ink - (of[i] ?? NaN) / 255 / 2)).toBeLessThan(0.01);
    });
    const pixels = await sharp(png).removeAlpha().raw().toBuffer();
    const at = (x: number): number[] => [...pixels.subarray((100 * 200 + x) * 3, (100 * 200 + x) * 3 + 3)];
    expect(Math.min(...at(150))).toBeGreaterThan(250);
    expect((at(50)[2] ?? 0) - (at(50)[0] ?? 255)).toBeGreaterThan(40);
  });
});
