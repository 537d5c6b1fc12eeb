import type { JobChange } from '../../contract/api/ticket.ts';

/** Work that comes back week after week: what the weeks before the demo printed. */
export interface PastWork {
  readonly name: string;
  readonly queueId: string;
  readonly file: () => Promise<Uint8Array>;
  readonly ticket: JobChange;
  readonly copies: readonly [least: number, most: number];
  /** How often in a week. */
  readonly perWeek: number;
  /** None of it in so many days before the demo opens. */
  readonly restsDays?: number;
}

const DROP_LATER = { kind: 'days', days: 9 } as const;
const KEPT = { kind: 'job only' } as const;

/** What the demo shop printed week after week before it opens: names, artwork, tickets, and how often each comes. */
export async function pastWork(): Promise<PastWork[]> {
  // Loaded only when a demo is made: the image library has no business on the server's own thread otherwise.
  const art = await import('./artwork.ts');
  const pdf = (title: string, widthMm: number, heightMm: number, draw: ReturnType<typeof art.waves>) => () =>
    art.pdfOf(title, [{ widthMm, heightMm, bleedMm: 0, draw }]);
  const market = { customer: 'Lantern Street Night Market', keep: DROP_LATER };
  const tram = { customer: 'Quillon Tramways', keep: DROP_LATER };
  const fish = { customer: 'Brackwater Aquarium', keep: KEPT };
  const stars = { customer: 'Hollow Hill Observatory', keep: KEPT };
  const bikes = { customer: 'Fennick Bicycle Library', keep: DROP_LATER };
  const stage = { customer: 'Marram Theatre', keep: DROP_LATER };
  return [
    {
      name: 'Stall banner',
      queueId: 'heron-banners',
      file: pdf('Stall banner', 1500, 700, art.lanterns(5, 31)),
      ticket: market,
      copies: [4, 12],
      perWeek: 3,
    },
    {
      name: 'Detour banner',
      queueId: 'heron-banners',
      file: pdf('Detour', 2400, 750, art.tramStripes(3)),
      ticket: tram,
      copies: [2, 8],
      perWeek: 2,
    },
    {
      name: 'Playbill gauze',
      queueId: 'heron-banners',
      file: pdf('Playbill', 1000, 1400, art.waves(61)),
      ticket: { ...stage, stockId: 'flag-gauze' },
      copies: [2, 6],
      perWeek: 1,
    },
    {
      name: 'Price cards',
      queueId: 'magpie-labels',
      file: pdf('Price cards', 148, 105, art.priceCard(4)),
      ticket: market,
      copies: [24, 90],
      perWeek: 3,
    },
    {
      name: 'Frame numbers',
      queueId: 'magpie-labels',
      file: pdf('Frame numbers', 90, 60, art.priceCard(1)),
      ticket: bikes,
      copies: [40, 140],
      perWeek: 2,
    },
    {
      name: 'Tide table',
      queueId: 'bittern-photo',
      file: pdf('Tide table', 420, 594, art.waves(12)),
      ticket: fish,
      copies: [6, 24],
      perWeek: 3,
    },
    {
      name: 'Sky of the week',
      queueId: 'bittern-photo',
      file: pdf('Sky of the week', 594, 841, art.starMap(300, 9)),
      ticket: stars,
      copies: [4, 14],
      perWeek: 2,
    },
    {
      name: 'Apron crest',
      queueId: 'wren-transfers',
      file: pdf('Apron crest', 240, 180, art.lanterns(2, 5)),
      ticket: market,
      copies: [12, 40],
      perWeek: 2,
    },
    {
      name: 'Crew shirt',
      queueId: 'puffin-shirts',
      file: pdf('Crew shirt', 280, 340, art.tramStripes(2)),
      ticket: stage,
      copies: [4, 14],
      perWeek: 2,
    },
    {
      name: 'Depot plan',
      queueId: 'gannet-plans',
      file: pdf('Depot plan', 841, 594, art.mapPlan(8)),
      ticket: tram,
      copies: [8, 40],
      perWeek: 4,
      restsDays: 6,
    },
    {
      name: 'Wiring sheets',
      queueId: 'gannet-plans',
      file: pdf('Wiring sheets', 841, 1189, art.mapPlan(14)),
      ticket: tram,
      copies: [4, 22],
      perWeek: 2,
      restsDays: 6,
    },
  ];
}
