import type { Checks } from '../../core/ticket/finding.ts';
import type { Rule } from '../../core/routing/rules.ts';
import type { TakeUp } from '../../core/stock/takeUp.ts';
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
  /** Its morning work is queued so long before, that printers are in the middle of it when the demo opens. */
  leadMs: 2_100_000,
  demoRate: 60,
} as const;

export interface SeedSpool {
  readonly id: string;
  readonly label: string;
  readonly lot: string;
  readonly stockId: string;
  readonly receivedMm: number;
  /** Used before the demo opens. */
  readonly usedMm: number;
  readonly place?: readonly [printerId: string, sourceId: string];
  readonly takeUp?: TakeUp;
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
    takeUp: { winding: 'printed side out', tension: 'medium' },
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
    takeUp: { winding: 'printed side out', tension: 'light' },
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
  {
    id: 'spool-pb-61',
    label: 'PB-61',
    lot: 'B3310',
    stockId: 'bond-914',
    receivedMm: 150_000,
    usedMm: 96_200,
    place: ['gannet', 'roll-1'],
  },
  {
    id: 'spool-pb-62',
    label: 'PB-62',
    lot: 'B3311',
    stockId: 'bond-420',
    receivedMm: 150_000,
    usedMm: 31_000,
    place: ['gannet', 'roll-2'],
  },
  {
    id: 'spool-sp-46',
    label: 'SP-46',
    lot: 'P2052',
    stockId: 'satin-914',
    receivedMm: 30_000,
    usedMm: 24_300,
    place: ['gannet', 'roll-3'],
  },
  {
    id: 'spool-tf-14',
    label: 'TF-14',
    lot: 'F0912',
    stockId: 'film-450',
    receivedMm: 100_000,
    usedMm: 71_400,
    place: ['wren', 'roll'],
  },
  {
    id: 'spool-fs-03',
    label: 'FS-03',
    lot: 'F0877',
    stockId: 'film-sheet',
    receivedMm: 45_000,
    usedMm: 28_800,
    place: ['wren', 'tray'],
  },
  {
    id: 'spool-sw-20',
    label: 'SW-20',
    lot: 'G118',
    stockId: 'shirt-white',
    receivedMm: 36_000,
    usedMm: 9_000,
    place: ['puffin', 'bed'],
  },
  { id: 'spool-sb-21', label: 'SB-21', lot: 'G119', stockId: 'shirt-black', receivedMm: 36_000, usedMm: 21_500 },
  { id: 'spool-sr-22', label: 'SR-22', lot: 'G121', stockId: 'shirt-brick-red', receivedMm: 24_000, usedMm: 0 },
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
  wren: { cyan: 0.33, magenta: 0.29, yellow: 0.36, black: 0.41, white: 0.63 },
  puffin: { cyan: 0.18, magenta: 0.22, yellow: 0.2, black: 0.31, white: 0.57 },
  gannet: { cyan: 0.44, magenta: 0.38, yellow: 0.35, black: 0.69 },
  bittern: { cyan: 0.21, magenta: 0.25, yellow: 0.33, black: 0.58, 'light-black': 0.44, grey: 0.86 },
};

/** Hours that channels have stood idle when the demo opens. */
export const IDLE_H: Readonly<Record<string, Readonly<Record<string, number>>>> = {
  heron: { white: 1 },
  magpie: { white: 1 },
  wren: { white: 58 },
  puffin: { white: 22 },
  gannet: { cyan: 152, magenta: 152, yellow: 152, black: 152 },
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
  {
    id: 'wren-transfers',
    name: 'Wren transfers',
    printerId: 'wren',
    gapMm: 5,
    arrivalRule: 'prepare',
    goAfterMin: 0,
    checks: { warnBelowDpi: 150, noteBelowDpi: 240, bleedMm: 0, thinLineMm: 0.2, mostPages: 200 },
    settings: { modeId: 'transfer', stockId: 'film-450' },
  },
  {
    id: 'puffin-shirts',
    name: 'Puffin shirts',
    printerId: 'puffin',
    gapMm: 0,
    arrivalRule: 'wait',
    goAfterMin: 0,
    checks: { warnBelowDpi: 120, noteBelowDpi: 200, bleedMm: 0, thinLineMm: 0.3, mostPages: 50 },
    settings: { modeId: 'light-shirt', stockId: 'shirt-white', place: { kind: 'centred' } },
  },
  {
    id: 'gannet-plans',
    name: 'Gannet plans',
    printerId: 'gannet',
    gapMm: 4,
    arrivalRule: 'go',
    goAfterMin: 2,
    checks: { warnBelowDpi: 100, noteBelowDpi: 150, bleedMm: 0, thinLineMm: 0.1, mostPages: 500 },
    settings: { modeId: 'plans', stockId: 'bond-914' },
  },
];

export const RULES: readonly Omit<Rule, 'on'>[] = [
  {
    id: 'rule-mesh',
    name: 'Wide mesh to Heron',
    when: [
      { about: 'stock', is: 'contains', text: 'mesh' },
      { about: 'widthMm', is: 'over', figure: 1500 },
    ],
    printerIds: ['heron'],
  },
  {
    id: 'rule-plans',
    name: 'Plans to Gannet, else Bittern',
    when: [{ about: 'stock', is: 'contains', text: 'plan bond' }],
    printerIds: ['gannet', 'bittern'],
  },
];

/** When people are there, by ISO weekday; no entry: closed. */
export const HOURS = [1, 2, 3, 4, 5, 6].map((weekday) => ({ weekday, from: '07:30', to: '18:00' }));

export const HOLIDAYS = [
  { date: '2026-10-24', name: 'Lantern Week opens' },
  { date: '2026-12-25', name: 'Winter feast' },
];

export const PEOPLE = [
  { id: 'person-odile', name: 'Odile Marr', does: 'coordinates', role: 'coordinator', mail: 'odile@tidewrack.example' },
  { id: 'person-bram', name: 'Bram Teller', does: 'loads and finishes', role: 'operator', mail: null },
  { id: 'person-ines', name: 'Ines Quay', does: 'loads and finishes', role: 'operator', mail: null },
] as const;

/** Run settings of stocks on printers: what each needs there. */
export const STOCK_SETTINGS: readonly {
  readonly printerId: string;
  readonly stockId: string;
  readonly settings: TicketPart;
}[] = [
  { printerId: 'heron', stockId: 'block-out', settings: { dryOut: true } },
  { printerId: 'heron', stockId: 'mesh', settings: { dryOut: true, span: 'whole bed' } },
];
