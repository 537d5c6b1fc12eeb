/** A stock of the demo shop; what is left out is as most stocks have it. */
export interface SeedStock {
  readonly id: string;
  readonly name: string;
  readonly widthMm: number;
  readonly thicknessMm: number;
  readonly coreMm: number;
  readonly colour: string;
  readonly pricePerM2Minor: number;
  readonly form?: 'sheet' | 'garment';
  /** One sheet of it (mm); of a garment what one counts. */
  readonly sheetMm?: number;
  readonly clear?: boolean;
  /** Modes by printer; left out: whatever takes its width. */
  readonly suits?: Readonly<Record<string, readonly string[]>>;
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
    suits: { magpie: ['label'], heron: ['production'] },
  },
  {
    id: 'clear-window',
    name: 'Clear window 1372',
    widthMm: 1372,
    thicknessMm: 0.24,
    coreMm: 76,
    colour: '#EAF1F2',
    clear: true,
    pricePerM2Minor: 740,
    suits: { magpie: ['window'] },
  },
  {
    id: 'foil-copper',
    name: 'Foil copper 500',
    widthMm: 500,
    thicknessMm: 0.18,
    coreMm: 76,
    colour: '#C98B5E',
    pricePerM2Minor: 1450,
    suits: { magpie: ['label'] },
  },
  {
    id: 'block-out',
    name: 'Block-out banner 1600',
    widthMm: 1600,
    thicknessMm: 0.46,
    coreMm: 76,
    colour: '#FFFFFF',
    pricePerM2Minor: 420,
    suits: { heron: ['production', 'fine'] },
  },
  {
    id: 'mesh',
    name: 'Mesh banner 1600',
    widthMm: 1600,
    thicknessMm: 0.38,
    coreMm: 76,
    colour: '#F6F4EF',
    pricePerM2Minor: 380,
    suits: { heron: ['production'] },
  },
  {
    id: 'flag-gauze',
    name: 'Flag gauze 1500',
    widthMm: 1500,
    thicknessMm: 0.2,
    coreMm: 76,
    colour: '#FBFAF6',
    pricePerM2Minor: 510,
    suits: { heron: ['production', 'fine'] },
  },
  {
    id: 'satin-914',
    name: 'Satin photo 914',
    widthMm: 914,
    thicknessMm: 0.26,
    coreMm: 76,
    colour: '#FFFFFF',
    pricePerM2Minor: 360,
    suits: { bittern: ['photo', 'scroll'], gannet: ['posters'] },
  },
  {
    id: 'satin-610',
    name: 'Satin photo 610',
    widthMm: 610,
    thicknessMm: 0.26,
    coreMm: 76,
    colour: '#FFFFFF',
    pricePerM2Minor: 360,
    suits: { bittern: ['photo', 'scroll'], gannet: ['posters'] },
  },
  {
    id: 'cotton-rag',
    name: 'Cotton rag 610',
    widthMm: 610,
    thicknessMm: 0.48,
    coreMm: 76,
    colour: '#FAF6EC',
    pricePerM2Minor: 1120,
    suits: { bittern: ['photo'] },
  },
  {
    id: 'bond-914',
    name: 'Plan bond 914',
    widthMm: 914,
    thicknessMm: 0.1,
    coreMm: 76,
    colour: '#FFFFFF',
    pricePerM2Minor: 45,
    suits: { gannet: ['plans'], bittern: ['scroll'] },
  },
  {
    id: 'bond-420',
    name: 'Plan bond 420',
    widthMm: 420,
    thicknessMm: 0.1,
    coreMm: 76,
    colour: '#FFFFFF',
    pricePerM2Minor: 45,
    suits: { gannet: ['plans'], bittern: ['scroll'] },
  },
  {
    id: 'film-450',
    name: 'Transfer film 450',
    widthMm: 450,
    thicknessMm: 0.09,
    coreMm: 76,
    colour: '#E9EEEA',
    clear: true,
    pricePerM2Minor: 310,
    suits: { wren: ['transfer', 'draft'] },
  },
  {
    id: 'film-sheet',
    name: 'Film sheet 320 × 450',
    widthMm: 320,
    thicknessMm: 0.1,
    coreMm: 0,
    colour: '#E9EEEA',
    clear: true,
    pricePerM2Minor: 380,
    suits: { wren: ['transfer', 'draft'] },
    form: 'sheet',
    sheetMm: 450,
  },
  ...(
    [
      ['white', '#FBFAF7'],
      ['black', '#24221F'],
      ['brick red', '#9A4334'],
    ] as const
  ).map(([colour, hex]) => ({
    id: `shirt-${colour.replace(' ', '-')}`,
    name: `Shirt cotton ${colour}`,
    widthMm: 400,
    thicknessMm: 0.8,
    coreMm: 0,
    colour: hex,
    pricePerM2Minor: 2100,
    form: 'garment' as const,
    sheetMm: 500,
  })),
];
