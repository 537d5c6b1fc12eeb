import type { PrinterConfig } from '../../contract/api/floor.ts';
import type { Checks } from '../../core/ticket/finding.ts';
import type { TicketPart } from '../../core/ticket/ticket.ts';

/*
 * The made-up shop: Tidewrack Print Hall. Every constant that the calculations need stands here as data of a printer,
 * a stock or the shop, and is stored in the database, where it can differ.
 */

export const SHOP = {
  zone: 'Europe/Copenhagen',
  dayEndsAt: { h: 18, mi: 0 },
  currency: 'EUR',
  opensAt: '2026-10-06T08:40:00Z',
  demoRate: 60,
} as const;

type Channel = PrinterConfig['channels'][number];

const INK: Record<string, Omit<Channel, 'heads' | 'tankMl'>> = {
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

function channels(tankMl: number, names: readonly string[], heads: Readonly<Record<string, number>> = {}): Channel[] {
  return names.flatMap((name) => {
    const ink = INK[name];
    return ink ? [{ ...ink, tankMl, heads: heads[name] ?? 1 }] : [];
  });
}

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
      form: 'roll to roll',
      printableWidthMm: 1615,
      widestMediaMm: 1625,
      registeredEdge: 'right',
      mediaMarginMm: { leftMm: 5, rightMm: 5 },
      leadMm: 20,
      trailMm: 20,
      longestMm: 50_000,
      freeHangMm: null,
      sources: [{ id: 'roll', name: 'roll' }],
      channels: channels(1500, ['cyan', 'magenta', 'yellow', 'black', 'light-cyan', 'light-magenta', 'white'], {
        white: 2,
      }),
      modes: [
        {
          id: 'production',
          name: 'Production',
          dpiX: 720,
          dpiY: 720,
          passes: 6,
          oneDirectional: false,
          dropPl: 7,
          profile: 'Heron banner 6-pass',
          profilePasses: 6,
        },
        {
          id: 'fine',
          name: 'Fine',
          dpiX: 720,
          dpiY: 1440,
          passes: 12,
          oneDirectional: true,
          dropPl: 7,
          profile: 'Heron film 12-pass',
          profilePasses: 12,
        },
      ],
      ratePerHourMinor: 3800,
      edgeToEdge: false,
      defaults: { cutOff: 'none' },
      machine: {
        nozzlesPerChannel: 768,
        nozzlesPerInch: 360,
        carriageMmPerS: 1100,
        carriageMmPerS2: 9000,
        dwellS: 0.15,
        returnMmPerS: 1400,
        feedMmPerS: 60,
        dryOutMmPerS: 25,
        bedWidthMm: 1680,
        startUpS: 95,
        fullCutS: 0,
        trailerMm: 60,
      },
    },
  },
  {
    id: 'magpie',
    name: 'Magpie',
    config: {
      form: 'print and cut',
      printableWidthMm: 1340,
      widestMediaMm: 1372,
      registeredEdge: 'left',
      mediaMarginMm: { leftMm: 10, rightMm: 10 },
      leadMm: 25,
      trailMm: 25,
      longestMm: 15_000,
      freeHangMm: 420,
      sources: [{ id: 'roll', name: 'roll' }],
      channels: channels(500, ['cyan', 'magenta', 'yellow', 'black', 'white']),
      modes: [
        {
          id: 'label',
          name: 'Label',
          dpiX: 720,
          dpiY: 720,
          passes: 8,
          oneDirectional: false,
          dropPl: 6,
          profile: 'Magpie vinyl 8-pass',
          profilePasses: 8,
        },
        {
          id: 'window',
          name: 'Window',
          dpiX: 720,
          dpiY: 1440,
          passes: 16,
          oneDirectional: true,
          dropPl: 6,
          profile: 'Magpie clear 16-pass',
          profilePasses: 16,
        },
      ],
      ratePerHourMinor: 3200,
      edgeToEdge: false,
      defaults: { cutOff: 'full' },
      machine: {
        nozzlesPerChannel: 360,
        nozzlesPerInch: 180,
        carriageMmPerS: 900,
        carriageMmPerS2: 9000,
        dwellS: 0.15,
        returnMmPerS: 1200,
        feedMmPerS: 50,
        dryOutMmPerS: 20,
        bedWidthMm: 1620,
        startUpS: 70,
        fullCutS: 12,
        trailerMm: 40,
      },
    },
  },
  {
    id: 'bittern',
    name: 'Bittern',
    config: {
      form: 'two-roll paper',
      printableWidthMm: 914,
      widestMediaMm: 914,
      registeredEdge: 'right',
      mediaMarginMm: { leftMm: 3, rightMm: 3 },
      leadMm: 10,
      trailMm: 10,
      longestMm: 18_500,
      freeHangMm: null,
      sources: [
        { id: 'roll-1', name: 'roll 1' },
        { id: 'roll-2', name: 'roll 2' },
      ],
      channels: channels(350, ['cyan', 'magenta', 'yellow', 'black', 'light-black', 'grey']),
      modes: [
        {
          id: 'photo',
          name: 'Photo',
          dpiX: 1200,
          dpiY: 600,
          passes: 8,
          oneDirectional: false,
          dropPl: 4,
          profile: 'Bittern satin 8-pass',
          profilePasses: 8,
        },
        {
          id: 'scroll',
          name: 'Scroll',
          dpiX: 600,
          dpiY: 600,
          passes: 4,
          oneDirectional: false,
          dropPl: 4,
          profile: 'Bittern matt 4-pass',
          profilePasses: 4,
        },
      ],
      ratePerHourMinor: 2600,
      edgeToEdge: true,
      defaults: { cutOff: 'full' },
      machine: {
        nozzlesPerChannel: 1280,
        nozzlesPerInch: 600,
        carriageMmPerS: 1000,
        carriageMmPerS2: 8000,
        dwellS: 0.12,
        returnMmPerS: 1200,
        feedMmPerS: 80,
        dryOutMmPerS: 40,
        bedWidthMm: 980,
        startUpS: 45,
        fullCutS: 6,
        trailerMm: 30,
      },
    },
  },
];

export interface SeedStock {
  readonly id: string;
  readonly name: string;
  readonly widthMm: number;
  readonly thicknessMm: number;
  readonly coreMm: number;
  readonly colour: string;
  readonly pricePerM2Minor: number;
}

export const STOCKS: readonly SeedStock[] = [
  {
    id: 'gloss-wrap',
    name: 'Gloss wrap 1372',
    widthMm: 1372,
    thicknessMm: 0.22,
    coreMm: 76,
    colour: '#FFFFFF',
    pricePerM2Minor: 690,
  },
  {
    id: 'clear-window',
    name: 'Clear window 1372',
    widthMm: 1372,
    thicknessMm: 0.24,
    coreMm: 76,
    colour: '#EAF1F2',
    pricePerM2Minor: 740,
  },
  {
    id: 'foil-copper',
    name: 'Foil copper 500',
    widthMm: 500,
    thicknessMm: 0.18,
    coreMm: 76,
    colour: '#C98B5E',
    pricePerM2Minor: 1450,
  },
  {
    id: 'block-out',
    name: 'Block-out banner 1600',
    widthMm: 1600,
    thicknessMm: 0.46,
    coreMm: 76,
    colour: '#FFFFFF',
    pricePerM2Minor: 420,
  },
  {
    id: 'mesh',
    name: 'Mesh banner 1600',
    widthMm: 1600,
    thicknessMm: 0.38,
    coreMm: 76,
    colour: '#F6F4EF',
    pricePerM2Minor: 380,
  },
  {
    id: 'flag-gauze',
    name: 'Flag gauze 1500',
    widthMm: 1500,
    thicknessMm: 0.2,
    coreMm: 76,
    colour: '#FBFAF6',
    pricePerM2Minor: 510,
  },
  {
    id: 'satin-914',
    name: 'Satin photo 914',
    widthMm: 914,
    thicknessMm: 0.26,
    coreMm: 76,
    colour: '#FFFFFF',
    pricePerM2Minor: 360,
  },
  {
    id: 'satin-610',
    name: 'Satin photo 610',
    widthMm: 610,
    thicknessMm: 0.26,
    coreMm: 76,
    colour: '#FFFFFF',
    pricePerM2Minor: 360,
  },
  {
    id: 'cotton-rag',
    name: 'Cotton rag 610',
    widthMm: 610,
    thicknessMm: 0.48,
    coreMm: 76,
    colour: '#FAF6EC',
    pricePerM2Minor: 1120,
  },
];

export interface SeedSpool {
  readonly id: string;
  readonly label: string;
  readonly lot: string;
  readonly stockId: string;
  readonly receivedMm: number;
  /** Used before the demo opens. */
  readonly usedMm: number;
  readonly place?: readonly [printerId: string, sourceId: string];
}

export const SPOOLS: readonly SeedSpool[] = [
  {
    id: 'spool-bo-31',
    label: 'BO-31',
    lot: 'T4417',
    stockId: 'block-out',
    receivedMm: 50_000,
    usedMm: 14_350,
    place: ['heron', 'roll'],
  },
  { id: 'spool-bo-32', label: 'BO-32', lot: 'T4418', stockId: 'block-out', receivedMm: 50_000, usedMm: 0 },
  { id: 'spool-me-08', label: 'ME-08', lot: 'T3902', stockId: 'mesh', receivedMm: 50_000, usedMm: 38_120 },
  { id: 'spool-fg-12', label: 'FG-12', lot: 'T4120', stockId: 'flag-gauze', receivedMm: 100_000, usedMm: 61_800 },
  {
    id: 'spool-gw-19',
    label: 'GW-19',
    lot: 'K0771',
    stockId: 'gloss-wrap',
    receivedMm: 50_000,
    usedMm: 27_460,
    place: ['magpie', 'roll'],
  },
  { id: 'spool-gw-20', label: 'GW-20', lot: 'K0772', stockId: 'gloss-wrap', receivedMm: 50_000, usedMm: 0 },
  { id: 'spool-cw-05', label: 'CW-05', lot: 'K0714', stockId: 'clear-window', receivedMm: 50_000, usedMm: 41_900 },
  { id: 'spool-fc-02', label: 'FC-02', lot: 'K0699', stockId: 'foil-copper', receivedMm: 25_000, usedMm: 9_200 },
  {
    id: 'spool-sp-44',
    label: 'SP-44',
    lot: 'P2051',
    stockId: 'satin-914',
    receivedMm: 30_000,
    usedMm: 8_730,
    place: ['bittern', 'roll-1'],
  },
  { id: 'spool-sp-45', label: 'SP-45', lot: 'P2051', stockId: 'satin-914', receivedMm: 30_000, usedMm: 0 },
  {
    id: 'spool-cr-07',
    label: 'CR-07',
    lot: 'P1988',
    stockId: 'cotton-rag',
    receivedMm: 15_000,
    usedMm: 6_400,
    place: ['bittern', 'roll-2'],
  },
  { id: 'spool-sp-39', label: 'SP-39', lot: 'P1940', stockId: 'satin-610', receivedMm: 30_000, usedMm: 22_000 },
];

/** Share of each tank that the weeks before the demo have used. */
export const INK_USED: Readonly<Record<string, Readonly<Record<string, number>>>> = {
  heron: {
    cyan: 0.42,
    magenta: 0.37,
    yellow: 0.55,
    black: 0.61,
    'light-cyan': 0.28,
    'light-magenta': 0.24,
    white: 0.35,
  },
  magpie: { cyan: 0.3, magenta: 0.66, yellow: 0.48, black: 0.39, white: 0.72 },
  bittern: { cyan: 0.21, magenta: 0.25, yellow: 0.33, black: 0.58, 'light-black': 0.44, grey: 0.86 },
};

export interface SeedQueue {
  readonly id: string;
  readonly name: string;
  readonly printerId: string;
  readonly gapMm: number;
  readonly arrivalRule: 'wait' | 'prepare' | 'go';
  readonly goAfterMin: number;
  readonly checks: Checks;
  readonly settings: TicketPart;
}

export const QUEUES: readonly SeedQueue[] = [
  {
    id: 'heron-banners',
    name: 'Heron banners',
    printerId: 'heron',
    gapMm: 10,
    arrivalRule: 'prepare',
    goAfterMin: 0,
    checks: { warnBelowDpi: 50, noteBelowDpi: 90, bleedMm: 0, thinLineMm: 0.25, mostPages: 200 },
    settings: { modeId: 'production', stockId: 'block-out' },
  },
  {
    id: 'magpie-labels',
    name: 'Magpie labels',
    printerId: 'magpie',
    gapMm: 5,
    arrivalRule: 'prepare',
    goAfterMin: 0,
    checks: { warnBelowDpi: 120, noteBelowDpi: 180, bleedMm: 2, thinLineMm: 0.1, mostPages: 200 },
    settings: { modeId: 'label', stockId: 'gloss-wrap', span: 'artwork' },
  },
  {
    id: 'bittern-photo',
    name: 'Bittern photo',
    printerId: 'bittern',
    gapMm: 6,
    arrivalRule: 'prepare',
    goAfterMin: 0,
    checks: { warnBelowDpi: 100, noteBelowDpi: 150, bleedMm: 0, thinLineMm: 0.08, mostPages: 200 },
    settings: { modeId: 'photo', stockId: 'satin-914' },
  },
];

/** Run settings of stocks on printers: what each needs there. */
export const STOCK_SETTINGS: readonly {
  readonly printerId: string;
  readonly stockId: string;
  readonly settings: TicketPart;
}[] = [
  { printerId: 'heron', stockId: 'block-out', settings: { dryOut: true } },
  { printerId: 'heron', stockId: 'mesh', settings: { dryOut: true, span: 'whole bed' } },
];
