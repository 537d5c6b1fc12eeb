import { PLAIN_CARE } from '../../core/care/careData.ts';
import { PLAIN_FITNESS } from '../../core/heads/printerHeads.ts';
import type { PrinterConfig } from '../../contract/api/floor.ts';
import type { MachineAbout } from '../../contract/machine/about.ts';

/*
 * The printers of Tidewrack Print Hall. Every constant that the calculations need stands here as data, is stored in the
 * database, where it can differ, and is shown in Setup.
 */

type Channel = PrinterConfig['channels'][number];
type Mode = PrinterConfig['modes'][number];

const INK: Record<string, Omit<Channel, 'heads' | 'tankMl' | 'idleLimitH'>> = {
  cyan: { id: 'cyan', name: 'Cyan', colour: '#1391C7', pricePerMlMicro: 110_000 },
  magenta: { id: 'magenta', name: 'Magenta', colour: '#C4246F', pricePerMlMicro: 110_000 },
  yellow: { id: 'yellow', name: 'Yellow', colour: '#E8C400', pricePerMlMicro: 110_000 },
  black: { id: 'black', name: 'Black', colour: '#2A2724', pricePerMlMicro: 95_000 },
  'light-cyan': { id: 'light-cyan', name: 'Light cyan', colour: '#8CC7DE', pricePerMlMicro: 120_000 },
  'light-magenta': { id: 'light-magenta', name: 'Light magenta', colour: '#E3A3C0', pricePerMlMicro: 120_000 },
  'light-black': { id: 'light-black', name: 'Light black', colour: '#7C7770', pricePerMlMicro: 115_000 },
  grey: { id: 'grey', name: 'Grey', colour: '#B3AEA6', pricePerMlMicro: 115_000 },
  white: { id: 'white', name: 'White', colour: '#F4F1EA', pricePerMlMicro: 160_000 },
};
const CMYK = ['cyan', 'magenta', 'yellow', 'black'] as const;

function channels(
  tankMl: number,
  names: readonly string[],
  idleH: number,
  white: { heads: number; idleH: number },
): Channel[] {
  return names.flatMap((name) => {
    const ink = INK[name];
    if (!ink) return [];
    const own = name === 'white' ? { heads: white.heads, idleLimitH: white.idleH } : { heads: 1, idleLimitH: idleH };
    return [{ ...ink, tankMl, ...own }];
  });
}

function mode(
  id: string,
  name: string,
  [dpiX, dpiY]: readonly [number, number],
  passes: number,
  dropPl: number,
  profile: string,
  more: Partial<Mode> = {},
): Mode {
  return {
    id,
    name,
    dpiX,
    dpiY,
    passes,
    oneDirectional: false,
    whiteOneDirectional: true,
    dropPl,
    inkLimit: 2.4,
    profile,
    profilePasses: passes,
    lineMmPerS: null,
    classShare: PLAIN_FITNESS.classShare,
    mostColumns: PLAIN_FITNESS.mostColumns,
    mostBadShare: PLAIN_FITNESS.mostBadShare,
    ...more,
  };
}

/** What a plain carriage printer of rolls is like; each says where it differs. */
const CARRIAGE = {
  head: 'carriage',
  narrowestMediaMm: 210,
  beds: [],
  colourWithWhite: true,
  edgeToEdge: false,
  oversprayMm: 0,
  care: PLAIN_CARE,
  readsChecks: false,
  finishing: { fullCut: true, perforate: false, contourCut: false },
  takeUp: false,
  freeHangMm: null,
  collectsMm: null,
  sources: [{ id: 'roll', name: 'roll', kind: 'roll', holds: 1 }],
  unattended: true,
  pool: null,
} satisfies Partial<PrinterConfig>;

export interface SeedPrinter {
  readonly id: string;
  readonly name: string;
  readonly config: PrinterConfig;
}

export const PRINTERS: readonly SeedPrinter[] = [
  {
    id: 'heron',
    name: 'Heron',
    config: {
      ...CARRIAGE,
      form: 'roll to roll',
      printableWidthMm: 1615,
      widestMediaMm: 1625,
      narrowestMediaMm: 600,
      registeredEdge: 'right',
      mediaMarginMm: { leftMm: 5, rightMm: 5 },
      leadMm: 20,
      trailMm: 20,
      longestMm: 50_000,
      channels: channels(1500, [...CMYK, 'light-cyan', 'light-magenta', 'white'], 120, { heads: 2, idleH: 72 }),
      modes: [
        mode('production', 'Production', [720, 720], 6, 7, 'Heron banner 6-pass'),
        mode('fine', 'Fine', [720, 1440], 12, 7, 'Heron film 12-pass', { oneDirectional: true, classShare: 0.6 }),
      ],
      finishing: { fullCut: false, perforate: true, contourCut: false },
      takeUp: true,
      ratePerHourMinor: 3800,
      changeOver: { stockMin: 12, modeMin: 2 },
      defaults: { cutOff: 'none' },
      machine: {
        nozzlesPerChannel: 768,
        nozzlesPerInch: 360,
        bars: 1,
        carriageMmPerS: 1100,
        carriageMmPerS2: 9000,
        dwellS: 0.15,
        returnMmPerS: 1400,
        feedMmPerS: 60,
        backFeedMmPerS: 90,
        dryOutMmPerS: 25,
        bedWidthMm: 1680,
        startUpS: 95,
        fullCutS: 0,
        perforateS: 9,
        loadS: 0,
        handS: 0,
        trailerMm: 60,
        cutter: null,
      },
    },
  },
  {
    id: 'magpie',
    name: 'Magpie',
    config: {
      ...CARRIAGE,
      form: 'print and cut',
      printableWidthMm: 1340,
      widestMediaMm: 1372,
      registeredEdge: 'left',
      mediaMarginMm: { leftMm: 10, rightMm: 10 },
      leadMm: 25,
      trailMm: 25,
      longestMm: 15_000,
      freeHangMm: 420,
      channels: channels(500, [...CMYK, 'white'], 96, { heads: 2, idleH: 72 }),
      modes: [
        mode('label', 'Label', [720, 720], 8, 6, 'Magpie vinyl 8-pass'),
        mode('window', 'Window', [720, 1440], 16, 6, 'Magpie clear 16-pass', { oneDirectional: true }),
      ],
      finishing: { fullCut: true, perforate: true, contourCut: true },
      takeUp: true,
      ratePerHourMinor: 3200,
      changeOver: { stockMin: 8, modeMin: 2 },
      defaults: { cutOff: 'full' },
      machine: {
        nozzlesPerChannel: 360,
        nozzlesPerInch: 180,
        bars: 1,
        carriageMmPerS: 900,
        carriageMmPerS2: 9000,
        dwellS: 0.15,
        returnMmPerS: 1200,
        feedMmPerS: 50,
        backFeedMmPerS: 80,
        dryOutMmPerS: 20,
        bedWidthMm: 1620,
        startUpS: 70,
        fullCutS: 12,
        perforateS: 15,
        loadS: 0,
        handS: 0,
        trailerMm: 40,
        cutter: { markReadS: 20, cutMmPerS: 250, travelMmPerS: 500, liftS: 0.2 },
      },
    },
  },
  {
    id: 'bittern',
    name: 'Bittern',
    config: {
      ...CARRIAGE,
      form: 'two-roll paper',
      readsChecks: true,
      printableWidthMm: 914,
      widestMediaMm: 914,
      registeredEdge: 'right',
      mediaMarginMm: { leftMm: 3, rightMm: 3 },
      leadMm: 10,
      trailMm: 10,
      longestMm: 18_500,
      sources: [
        { id: 'roll-1', name: 'roll 1', kind: 'roll', holds: 1 },
        { id: 'roll-2', name: 'roll 2', kind: 'roll', holds: 1 },
      ],
      collectsMm: 45_000,
      channels: channels(350, [...CMYK, 'light-black', 'grey'], 240, { heads: 1, idleH: 72 }),
      modes: [
        mode('photo', 'Photo', [1200, 600], 8, 4, 'Bittern satin 8-pass'),
        mode('scroll', 'Scroll', [600, 600], 4, 4, 'Bittern matt 4-pass'),
      ],
      ratePerHourMinor: 2600,
      edgeToEdge: true,
      oversprayMm: 2,
      changeOver: { stockMin: 6, modeMin: 1 },
      defaults: { cutOff: 'full' },
      machine: {
        nozzlesPerChannel: 1280,
        nozzlesPerInch: 600,
        bars: 1,
        carriageMmPerS: 1000,
        carriageMmPerS2: 8000,
        dwellS: 0.12,
        returnMmPerS: 1200,
        feedMmPerS: 80,
        backFeedMmPerS: 120,
        dryOutMmPerS: 40,
        bedWidthMm: 980,
        startUpS: 45,
        fullCutS: 6,
        perforateS: 0,
        loadS: 0,
        handS: 0,
        trailerMm: 30,
        cutter: null,
      },
    },
  },
  {
    id: 'wren',
    name: 'Wren',
    config: {
      ...CARRIAGE,
      form: 'film',
      printableWidthMm: 430,
      widestMediaMm: 450,
      narrowestMediaMm: 200,
      registeredEdge: 'centre',
      mediaMarginMm: { leftMm: 5, rightMm: 5 },
      leadMm: 15,
      trailMm: 15,
      longestMm: 10_000,
      sources: [
        { id: 'roll', name: 'roll', kind: 'roll', holds: 1 },
        { id: 'tray', name: 'sheet tray', kind: 'tray', holds: 50 },
      ],
      collectsMm: 12_000,
      channels: channels(250, [...CMYK, 'white'], 96, { heads: 4, idleH: 72 }),
      modes: [
        mode('transfer', 'Transfer', [720, 1440], 8, 5, 'Wren film 8-pass', { whiteOneDirectional: false }),
        mode('draft', 'Draft', [720, 720], 4, 5, 'Wren film 4-pass'),
      ],
      finishing: { fullCut: false, perforate: false, contourCut: false },
      ratePerHourMinor: 2200,
      changeOver: { stockMin: 5, modeMin: 1 },
      defaults: { cutOff: 'none' },
      machine: {
        nozzlesPerChannel: 360,
        nozzlesPerInch: 180,
        bars: 1,
        carriageMmPerS: 800,
        carriageMmPerS2: 8000,
        dwellS: 0.12,
        returnMmPerS: 1000,
        feedMmPerS: 40,
        backFeedMmPerS: 60,
        dryOutMmPerS: 15,
        bedWidthMm: 520,
        startUpS: 60,
        fullCutS: 0,
        perforateS: 0,
        loadS: 9,
        handS: 0,
        trailerMm: 30,
        cutter: null,
      },
    },
  },
  {
    id: 'puffin',
    name: 'Puffin',
    config: {
      ...CARRIAGE,
      form: 'garment bed',
      printableWidthMm: 400,
      widestMediaMm: 400,
      narrowestMediaMm: 180,
      registeredEdge: 'centre',
      mediaMarginMm: { leftMm: 0, rightMm: 0 },
      leadMm: 0,
      trailMm: 0,
      longestMm: 100_000,
      sources: [{ id: 'bed', name: 'bed', kind: 'bed', holds: 1 }],
      beds: [
        { widthMm: 400, lengthMm: 500 },
        { widthMm: 300, lengthMm: 350 },
        { widthMm: 180, lengthMm: 250 },
      ],
      channels: channels(220, [...CMYK, 'white'], 96, { heads: 4, idleH: 72 }),
      colourWithWhite: false,
      modes: [
        mode('light-shirt', 'Light shirt', [720, 720], 4, 12, 'Puffin cotton 4-pass'),
        mode('dark-shirt', 'Dark shirt', [720, 720], 8, 12, 'Puffin underbase 8-pass', { whiteOneDirectional: false }),
      ],
      finishing: { fullCut: false, perforate: false, contourCut: false },
      ratePerHourMinor: 2900,
      changeOver: { stockMin: 3, modeMin: 1 },
      unattended: false,
      defaults: { cutOff: 'none', span: 'artwork' },
      machine: {
        nozzlesPerChannel: 360,
        nozzlesPerInch: 180,
        bars: 1,
        carriageMmPerS: 700,
        carriageMmPerS2: 7000,
        dwellS: 0.15,
        returnMmPerS: 900,
        feedMmPerS: 60,
        backFeedMmPerS: 120,
        dryOutMmPerS: 15,
        bedWidthMm: 480,
        startUpS: 20,
        fullCutS: 0,
        perforateS: 0,
        loadS: 4,
        handS: 45,
        trailerMm: 0,
        cutter: null,
      },
    },
  },
  {
    id: 'gannet',
    name: 'Gannet',
    config: {
      ...CARRIAGE,
      form: 'page-wide array, 6 bars',
      head: 'page-wide',
      readsChecks: true,
      printableWidthMm: 1000,
      widestMediaMm: 1000,
      registeredEdge: 'centre',
      mediaMarginMm: { leftMm: 4, rightMm: 4 },
      leadMm: 8,
      trailMm: 8,
      longestMm: 30_000,
      sources: [
        { id: 'roll-1', name: 'roll 1', kind: 'roll', holds: 1 },
        { id: 'roll-2', name: 'roll 2', kind: 'roll', holds: 1 },
        { id: 'roll-3', name: 'roll 3', kind: 'roll', holds: 1 },
      ],
      collectsMm: 120_000,
      channels: channels(2000, CMYK, 120, { heads: 1, idleH: 72 }),
      modes: [
        mode('plans', 'Plans', [600, 600], 1, 6, 'Gannet bond', {
          lineMmPerS: 150,
          inkLimit: 1.6,
          mostColumns: 4,
          mostBadShare: 0.02,
        }),
        mode('posters', 'Posters', [1200, 1200], 1, 4, 'Gannet poster', {
          lineMmPerS: 70,
          mostColumns: 2,
          mostBadShare: 0.005,
        }),
      ],
      ratePerHourMinor: 5200,
      changeOver: { stockMin: 5, modeMin: 0.5 },
      defaults: { cutOff: 'full' },
      machine: {
        nozzlesPerChannel: 48_000,
        nozzlesPerInch: 1200,
        bars: 6,
        carriageMmPerS: 1,
        carriageMmPerS2: 1,
        dwellS: 0,
        returnMmPerS: 1,
        feedMmPerS: 200,
        backFeedMmPerS: 200,
        dryOutMmPerS: 80,
        bedWidthMm: 1000,
        startUpS: 30,
        fullCutS: 3,
        perforateS: 0,
        loadS: 0,
        handS: 0,
        trailerMm: 25,
        cutter: null,
      },
    },
  },
];

/** What a device says of itself: what is built in, and nothing that only the shop knows. */
export function aboutOf({ id, name, config }: SeedPrinter): MachineAbout {
  const {
    ratePerHourMinor: _rate,
    changeOver: _change,
    unattended: _alone,
    pool: _pool,
    defaults: _own,
    ...built
  } = config;
  return { id, name, ...built, channels: config.channels.map(({ pricePerMlMicro: _price, ...channel }) => channel) };
}

/** Devices that answer on this floor: the shop's printers, and one that has not been set up yet. */
export function devicesOfFloor(): MachineAbout[] {
  const known = PRINTERS.map(aboutOf);
  const heron = known.find(({ id }) => id === 'heron');
  return heron
    ? [
        ...known,
        {
          ...heron,
          id: 'dunlin',
          name: 'Dunlin',
          form: 'roll to roll, narrow',
          printableWidthMm: 1050,
          widestMediaMm: 1067,
        },
      ]
    : known;
}
