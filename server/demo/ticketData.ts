import type { TicketPart } from '../../core/ticket/ticket.ts';
import type { ShopSizes } from '../../contract/api/ticket.ts';

export const PRESETS: readonly { readonly id: string; readonly name: string; readonly settings: TicketPart }[] = [
  { id: 'fit-the-roll', name: 'Fit the roll', settings: { size: { kind: 'media width' }, turn: 'best' } },
  { id: 'rush-order', name: 'Rush order', settings: { priority: 'rush', quarterTurn: true } },
  { id: 'window-mirrored', name: 'Window, mirrored', settings: { mirror: true, bleedMm: 3 } },
];

export const SIZES: ShopSizes = [
  { name: 'Market apron bib', widthMm: 260, heightMm: 300 },
  { name: 'Stall banner', widthMm: 2400, heightMm: 600 },
  { name: 'Tram side panel', widthMm: 1320, heightMm: 2100 },
];
