import type { JobChange } from '../../contract/api/ticket.ts';
import type * as artwork from './artwork.ts';

export interface DemoJob {
  readonly name: string;
  readonly queueId: string;
  readonly file: () => Promise<Uint8Array>;
  readonly ticket: JobChange;
  /** Goes straight into a run together with the others of this name. */
  readonly run?: string;
  /** The run starts no sooner than so many hours after the demo opens. */
  readonly startsH?: number;
  /** Its customer has called it off. */
  readonly cancelled?: boolean;
}

type Artwork = typeof artwork;

const HOUR_MS = 3_600_000;

/** Cut so far outside of what is printed. */
function edge(offsetMm: number): NonNullable<JobChange['contour']> {
  return { from: 'picture', name: null, offsetMm, bleedMm: 0 };
}

/** What has come into the demo's shop by the time that it opens. */
export async function demoJobs(nowMs: number): Promise<DemoJob[]> {
  // Loaded only when a demo is made: the image library has no business on the server's own thread otherwise.
  const art = await import('./artwork.ts');
  const due = (hours: number): number => nowMs + hours * HOUR_MS;
  const pdf =
    (title: string, widthMm: number, heightMm: number, draw: ReturnType<typeof art.waves>, bleedMm = 0) =>
    () =>
      art.pdfOf(title, [{ widthMm, heightMm, bleedMm, draw }]);
  const tram = { customer: 'Quillon Tramways', orderNo: 'QT-2231' };
  const fish = { customer: 'Brackwater Aquarium', orderNo: 'BA-0417' };
  const stars = { customer: 'Hollow Hill Observatory', orderNo: 'HH-118' };
  const market = { customer: 'Lantern Street Night Market', orderNo: 'LM-77' };
  const bikes = { customer: 'Fennick Bicycle Library', orderNo: 'FB-509' };
  const stage = { customer: 'Marram Theatre', orderNo: 'MT-93' };
  return [
    {
      name: 'Stall banner lanterns.pdf',
      queueId: 'heron-banners',
      file: pdf('Stall banner', 2400, 700, art.lanterns(7, 3), 5),
      ticket: { ...market, copies: 3, dueMs: due(7) },
      run: 'market',
    },
    {
      name: 'Market gate banner.pdf',
      queueId: 'heron-banners',
      file: pdf('Gate banner', 3200, 780, art.lanterns(9, 8), 5),
      ticket: { ...market, dueMs: due(7) },
      run: 'market',
    },
    {
      name: 'Star map wall print.pdf',
      queueId: 'bittern-photo',
      file: pdf('Star map', 841, 1189, art.starMap(1400, 5)),
      ticket: { ...stars, copies: 2, dueMs: due(5) },
      run: 'maps',
    },
    {
      name: 'Cycle map poster.jpg',
      queueId: 'bittern-photo',
      file: () => art.bitmapOf(art.mapSvg(4), 420, 150, 'jpeg'),
      ticket: { ...bikes, copies: 6, dueMs: due(26) },
      run: 'maps',
    },
    {
      name: 'Tram side stripe line 4.pdf',
      queueId: 'heron-banners',
      file: pdf('Tram side', 6200, 1180, art.tramStripes(5), 10),
      ticket: { ...tram, copies: 2, dueMs: due(29) },
    },
    {
      name: 'Stop sign Harbour Steps.pdf',
      queueId: 'heron-banners',
      file: pdf('Stop sign', 600, 900, art.stopSign(4), 3),
      ticket: { ...tram, copies: 4, dueMs: due(24) },
    },
    {
      name: 'Stop sign Gasworks.pdf',
      queueId: 'heron-banners',
      file: pdf('Stop sign', 600, 900, art.stopSign(6), 3),
      ticket: { ...tram, copies: 4, dueMs: due(24) },
    },
    {
      name: 'Jellyfish tank panel.png',
      queueId: 'heron-banners',
      file: () => art.bitmapOf(art.jellyfishSvg(2), 900, 90, 'png'),
      ticket: { ...fish, copies: 5, dueMs: due(31) },
    },
    {
      name: 'Backdrop harbour storm.pdf',
      queueId: 'heron-banners',
      file: pdf('Backdrop', 1500, 4200, art.waves(9)),
      ticket: { ...stage, dueMs: due(52) },
    },
    {
      name: 'Gauze flag.pdf',
      queueId: 'heron-banners',
      file: pdf('Flag', 1000, 1500, art.waves(21), 8),
      ticket: { ...stage, copies: 10, dueMs: due(74) },
      run: 'flags',
    },
    {
      name: 'Tower wrap north face.pdf',
      queueId: 'heron-banners',
      file: pdf('Tower wrap', 2450, 3100, art.tramStripes(6)),
      ticket: { ...tram, dueMs: due(98) },
    },
    {
      name: 'Floor fish orange.png',
      queueId: 'magpie-labels',
      file: () => art.bitmapOf(art.fishSvg(11), 280, 180, 'png'),
      ticket: { ...fish, copies: 12, dueMs: due(20), contour: edge(3) },
    },
    {
      name: 'Frame sticker gear 24.png',
      queueId: 'magpie-labels',
      file: () => art.bitmapOf(art.gearSvg(24, '#0E6A6B'), 80, 240, 'png'),
      ticket: { ...bikes, copies: 60, dueMs: due(30), contour: edge(1.5) },
    },
    {
      name: 'Frame sticker gear 18.png',
      queueId: 'magpie-labels',
      file: () => art.bitmapOf(art.gearSvg(18, '#B3261E'), 62, 240, 'png'),
      ticket: { ...bikes, copies: 80, dueMs: due(30), contour: edge(1.5) },
    },
    {
      name: 'Price cards autumn.pdf',
      queueId: 'magpie-labels',
      file: () =>
        art.pdfOf(
          'Price cards',
          Array.from({ length: 6 }, (_, i) => ({ widthMm: 148, heightMm: 105, bleedMm: 2, draw: art.priceCard(i) })),
        ),
      ticket: { ...market, copies: 5, dueMs: due(9) },
    },
    {
      name: 'Crew label small.jpg',
      queueId: 'magpie-labels',
      file: () => art.bitmapOf(art.mapSvg(7), 200, 40, 'jpeg'),
      ticket: { ...stage, copies: 10, dueMs: due(80) },
    },
    {
      name: 'Night sky scroll 18 m.pdf',
      queueId: 'bittern-photo',
      file: pdf('Night sky scroll', 18_000, 840, art.starMap(6000, 31)),
      ticket: { ...stars, dueMs: due(76) },
    },
    {
      name: 'Dome panels.pdf',
      queueId: 'bittern-photo',
      file: () =>
        art.pdfOf(
          'Dome panels',
          Array.from({ length: 4 }, (_, i) => ({ widthMm: 594, heightMm: 841, draw: art.starMap(500, 40 + i) })),
        ),
      ticket: { ...stars, copies: 2, dueMs: due(54) },
    },
    {
      name: 'Tide table poster.pdf',
      queueId: 'bittern-photo',
      file: pdf('Tide table', 420, 594, art.waves(33)),
      ticket: { ...fish, copies: 32, dueMs: due(28) },
      run: 'tides',
    },
    {
      name: 'Archive photo quay.jpg',
      queueId: 'bittern-photo',
      file: () => art.bitmapOf(art.mapSvg(12), 900, 38, 'jpeg'),
      ticket: { ...stage, dueMs: due(50) },
    },
    {
      name: 'Crew list.pdf',
      queueId: 'bittern-photo',
      file: async () =>
        (await art.pdfOf('Crew list', [{ widthMm: 210, heightMm: 297, draw: art.priceCard(2) }])).slice(0, 700),
      ticket: {},
    },
    {
      name: 'Aquarium plan ground floor.pdf',
      queueId: 'gannet-plans',
      file: pdf('Plan', 841, 594, art.mapPlan(3)),
      ticket: { ...fish, copies: 10, dueMs: due(29) },
    },
    {
      name: 'Tram depot wiring.pdf',
      queueId: 'gannet-plans',
      file: () =>
        art.pdfOf(
          'Wiring',
          Array.from({ length: 5 }, (_, i) => ({ widthMm: 841, heightMm: 1189, draw: art.mapPlan(20 + i) })),
        ),
      ticket: { ...tram, copies: 3, dueMs: due(30) },
    },
    {
      name: 'Apron lanterns.png',
      queueId: 'wren-transfers',
      file: () => art.bitmapOf(art.fishSvg(5), 260, 150, 'png'),
      ticket: { ...market, copies: 40, dueMs: due(8) },
      run: 'aprons',
    },
    {
      name: 'Crew shirt front.png',
      queueId: 'puffin-shirts',
      file: () => art.bitmapOf(art.gearSvg(12, '#0E6A6B'), 280, 150, 'png'),
      ticket: { ...stage, copies: 12, dueMs: due(26) },
      run: 'shirts',
    },
    {
      name: 'Gauze sails.pdf',
      queueId: 'heron-banners',
      file: pdf('Sails', 1460, 2600, art.waves(44)),
      ticket: { ...stage, copies: 4, dueMs: due(26), stockId: 'mesh' },
      run: 'sails',
    },
    {
      name: 'Shelf edge fish.png',
      queueId: 'magpie-labels',
      file: () => art.bitmapOf(art.fishSvg(4), 180, 180, 'png'),
      ticket: { ...fish, copies: 150, dueMs: due(6) },
      run: 'fish',
    },
    ...eveningJobs(art, due),
  ];
}

/** What fills the lines until the evening, and what prints on when nobody is there. */
function eveningJobs(art: Artwork, due: (hours: number) => number): DemoJob[] {
  const one =
    (title: string, widthMm: number, heightMm: number, draw: ReturnType<Artwork['waves']>) => (): Promise<Uint8Array> =>
      art.pdfOf(title, [{ widthMm, heightMm, bleedMm: 0, draw }]);
  const tram = { customer: 'Quillon Tramways', orderNo: 'QT-2240' };
  const fish = { customer: 'Brackwater Aquarium', orderNo: 'BA-0421' };
  const stars = { customer: 'Hollow Hill Observatory', orderNo: 'HH-121' };
  const market = { customer: 'Lantern Street Night Market', orderNo: 'LM-81' };
  const stage = { customer: 'Marram Theatre', orderNo: 'MT-95' };
  return [
    {
      name: 'Fence banner pier.pdf',
      queueId: 'heron-banners',
      file: one('Fence banner', 5000, 1500, art.waves(71)),
      ticket: { ...market, copies: 4, dueMs: due(28) },
      run: 'fence',
    },
    {
      name: 'Lantern ceiling.pdf',
      queueId: 'heron-banners',
      file: one('Lantern ceiling', 6000, 1450, art.lanterns(16, 12)),
      ticket: { ...market, copies: 3, dueMs: due(25) },
      run: 'ceiling',
      startsH: 7.6,
    },
    {
      name: 'Tunnel wall.pdf',
      queueId: 'heron-banners',
      file: one('Tunnel wall', 7000, 1500, art.tramStripes(8)),
      ticket: { ...tram, copies: 2, dueMs: due(23) },
      run: 'tunnel',
    },
    {
      name: 'Gallery prints.pdf',
      queueId: 'bittern-photo',
      file: one('Gallery print', 500, 700, art.starMap(500, 77)),
      ticket: { ...stars, copies: 8, dueMs: due(8), stockId: 'cotton-rag' },
      run: 'gallery',
    },
    {
      name: 'Comet scroll 12 m.pdf',
      queueId: 'bittern-photo',
      file: one('Comet scroll', 12_000, 850, art.starMap(3500, 88)),
      ticket: { ...stars, dueMs: due(30) },
      run: 'comet',
      startsH: 7.75,
    },
    {
      name: 'Quay panorama.pdf',
      queueId: 'bittern-photo',
      file: one('Quay panorama', 6500, 860, art.waves(54)),
      ticket: { ...stage, copies: 2, dueMs: due(30) },
      run: 'quay',
    },
    {
      name: 'Tram flank numbers.pdf',
      queueId: 'magpie-labels',
      file: one('Flank number', 400, 480, art.priceCard(7)),
      ticket: { ...tram, copies: 60, dueMs: due(26) },
      run: 'flanks',
    },
    {
      name: 'Market map decal.pdf',
      queueId: 'magpie-labels',
      file: one('Market map', 620, 440, art.mapPlan(17)),
      ticket: { ...market, copies: 22, dueMs: due(28) },
      run: 'decals',
    },
    {
      name: 'Ride tickets.pdf',
      queueId: 'magpie-labels',
      file: one('Ride ticket', 105, 74, art.priceCard(5)),
      ticket: { ...market, copies: 300, dueMs: due(7) },
      run: 'rides',
    },
    {
      name: 'Window lanterns.pdf',
      queueId: 'magpie-labels',
      file: one('Window lantern', 600, 420, art.lanterns(4, 41)),
      ticket: { ...market, copies: 20, dueMs: due(27), stockId: 'clear-window', modeId: 'window' },
      run: 'windows',
    },
    {
      name: 'Stall crest.pdf',
      queueId: 'wren-transfers',
      file: one('Stall crest', 200, 260, art.lanterns(2, 19)),
      ticket: { ...market, copies: 48, dueMs: due(7) },
      run: 'crests',
    },
    {
      name: 'Lantern badge sheet.pdf',
      queueId: 'wren-transfers',
      file: one('Badge sheet', 290, 400, art.lanterns(6, 29)),
      ticket: { ...market, copies: 20, dueMs: due(26), stockId: 'film-sheet' },
      run: 'badges',
    },
    {
      name: 'Ticket crew shirt.pdf',
      queueId: 'puffin-shirts',
      file: one('Ticket crew', 280, 320, art.tramStripes(4)),
      ticket: { ...tram, copies: 16, dueMs: due(27) },
      run: 'crew',
    },
    {
      name: 'Programme posters.pdf',
      queueId: 'gannet-plans',
      file: one('Programme', 594, 841, art.lanterns(4, 63)),
      ticket: { ...market, copies: 24, dueMs: due(7) },
      run: 'programme',
      startsH: 3.4,
    },
    {
      name: 'Feeding times.pdf',
      queueId: 'gannet-plans',
      file: one('Feeding times', 400, 566, art.waves(90)),
      ticket: { ...fish, copies: 48, dueMs: due(30), stockId: 'bond-420' },
      run: 'feeding',
    },
    {
      name: 'Gate sign old date.pdf',
      queueId: 'heron-banners',
      file: one('Gate sign', 1200, 800, art.stopSign(5)),
      ticket: { ...stage, copies: 2 },
      cancelled: true,
    },
  ];
}
