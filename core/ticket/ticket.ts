import type { ChannelCurve } from '../coats/curves.ts';
import { type ArtworkRule, PLAIN_ARTWORK } from '../coats/artworkProfiles.ts';
import type { Intent } from '../coats/intent.ts';
import type { Screening } from '../coats/screening.ts';
import { PLAIN_TONE, type Tone } from '../coats/tone.ts';
import type { ContourRule } from '../contour/contourRule.ts';
import type { Grain } from '../layout/orientations.ts';
import type { TileRule } from '../layout/arrange/tiles.ts';
import type { CarriageSpan, CutOff } from '../machine/constants.ts';
import type { SizeRule } from './sizeRule.ts';

/** Where a value came from, weakest first: a later one wins. */
export const ORIGINS = ['printer', 'stock', 'queue', 'preset', 'file name', 'ticket file', 'set here'] as const;
export type Origin = (typeof ORIGINS)[number];

export const PRIORITIES = ['low', 'normal', 'high', 'rush'] as const;
export type Priority = (typeof PRIORITIES)[number];

/** Lengths on the four sides of something, as it is seen (mm). */
export interface Sides {
  readonly leftMm: number;
  readonly topMm: number;
  readonly rightMm: number;
  readonly bottomMm: number;
}

/** Where across the media a piece must lie; `nested` leaves it to the nest. Distances from the registered edge or the collar. */
export type PlaceRule =
  | { readonly kind: 'nested' }
  | { readonly kind: 'from edge'; readonly mm: number }
  | { readonly kind: 'centred' }
  | { readonly kind: 'below collar'; readonly mm: number };

/** What is made of the colours: everything in one print, black alone, or each ink and spot as a print of its own. */
export type Separations =
  | { readonly kind: 'all inks' }
  | { readonly kind: 'black only' }
  | { readonly kind: 'each alone' }
  | { readonly kind: 'named'; readonly names: string[] };

/** What a customer pays beside ink, media and time, in minor units of the shop's currency. */
export interface Charge {
  readonly text: string;
  readonly minor: number;
}

/** What becomes of a job and of what was rendered for it once all of it is printed. */
export type KeepRule =
  | { readonly kind: 'job and data' }
  | { readonly kind: 'job only' }
  | { readonly kind: 'days'; readonly days: number }
  | { readonly kind: 'drop' };

/** All settings of one job. Null: not known, or as the file has it. */
export interface TicketValues {
  readonly copies: number;
  readonly quarterTurn: boolean;
  /** Whether it may lie upside down in the nest; counts for contours only, a rectangle needs no half turn. */
  readonly halfTurn: boolean;
  /** Which way the artwork must lie to the media's grain, which runs along the feed. */
  readonly grain: Grain;
  /** Copies lie in one block in the nest. */
  readonly together: boolean;
  readonly modeId: string;
  readonly stockId: string;
  readonly span: CarriageSpan;
  readonly dryOut: boolean;
  /** So long it rests on the printer before it is cut off, wound or moved on (min). */
  readonly dryMin: number;
  /** What the heater is set to (°C); null: as it stands. */
  readonly heaterC: number | null;
  /** Most ink of all channels together, as a share of one channel in full; null: what the profile says. */
  readonly inkLimit: number | null;
  /** Output profile by its name; null: that of the mode. */
  readonly profile: string | null;
  /** By which profiles the artwork's own colours are read. */
  readonly artwork: ArtworkRule;
  /** How colours that can't be printed are brought to those that can. */
  readonly intent: Intent;
  readonly screening: Screening;
  /** How the artwork is made lighter, harder or more colourful. */
  readonly tone: Tone;
  /** What channels are bent by: those of the artwork, and those of the printer. */
  readonly curves: ChannelCurve[];
  readonly cutOff: CutOff;
  readonly edgeToEdge: boolean;
  readonly customer: string | null;
  readonly orderNo: string | null;
  /** All of the order, or of this job where it has no number, from one lot. */
  readonly oneLot: boolean;
  readonly dueMs: number | null;
  readonly priority: Priority;
  readonly notes: string | null;
  readonly charges: Charge[];
  /** What each hour after the due date costs the shop (minor units); routes and orders weigh it against the rest. */
  readonly latePerHMinor: number;
  /** May be printed with nobody there. */
  readonly unattended: boolean;
  readonly keep: KeepRule;
  readonly size: SizeRule;
  /** Taken off the artwork before it is sized (mm of the artwork as it came). */
  readonly crop: Sides;
  /** Bleed to print on all sides; null: what the file brings. */
  readonly bleedMm: number | null;
  /** Counter-clockwise; `best` takes the turn that fits and feeds less. */
  readonly turn: 0 | 90 | 180 | 270 | 'best';
  readonly mirror: boolean;
  readonly place: PlaceRule;
  readonly separations: Separations;
  /** Pages of one file as one job, or a job each. Counts on arrival only. */
  readonly pagesAs: 'one job' | 'a job each';
  /** Panels of artwork that is wider than the media; null: in one. */
  readonly tiles: TileRule | null;
  /** What it is cut along; null: its rectangle. */
  readonly contour: ContourRule | null;
}

export type TicketKey = keyof TicketValues;
export type TicketPart = Partial<TicketValues>;

/** What each origin says; most say little. */
export type TicketLayers = Readonly<Partial<Record<Origin, TicketPart>>>;

export interface PresetMark {
  readonly id: string;
  readonly name: string;
}

/**
 * A ticket is a copy: stamped when the job arrives, then the job's own. The layers are kept, so that what a value would be
 * otherwise is known and it can be put back; values and origins follow from them.
 */
export interface Ticket {
  readonly values: TicketValues;
  readonly origins: Readonly<Record<TicketKey, Origin>>;
  readonly layers: TicketLayers;
  readonly preset: PresetMark | null;
}

export const NO_SIDES: Sides = { leftMm: 0, topMm: 0, rightMm: 0, bottomMm: 0 };

/** What holds where nobody has said anything; counts as the printer's. */
export const PLAIN_TICKET: Omit<TicketValues, 'modeId' | 'stockId'> = {
  copies: 1,
  quarterTurn: true,
  halfTurn: true,
  grain: 'free',
  together: false,
  span: 'media',
  dryOut: false,
  dryMin: 0,
  heaterC: null,
  inkLimit: null,
  profile: null,
  artwork: PLAIN_ARTWORK,
  intent: 'relative with black point',
  screening: 'error diffusion',
  tone: PLAIN_TONE,
  curves: [],
  cutOff: 'none',
  edgeToEdge: false,
  customer: null,
  orderNo: null,
  oneLot: false,
  dueMs: null,
  priority: 'normal',
  notes: null,
  charges: [],
  latePerHMinor: 1500,
  unattended: true,
  keep: { kind: 'job only' },
  size: { kind: 'as it came' },
  crop: NO_SIDES,
  bleedMm: null,
  turn: 0,
  mirror: false,
  place: { kind: 'nested' },
  separations: { kind: 'all inks' },
  pagesAs: 'one job',
  tiles: null,
  contour: null,
};

export const TICKET_KEYS = [...Object.keys(PLAIN_TICKET), 'modeId', 'stockId'] as readonly TicketKey[];

/** Each key with the value and origin that win. @throws where no layer names a mode or a stock */
export function makeTicket(layers: TicketLayers, preset: PresetMark | null = null): Ticket {
  const values: Record<string, unknown> = { ...PLAIN_TICKET };
  const origins: Record<string, Origin> = Object.fromEntries(TICKET_KEYS.map((key) => [key, 'printer']));
  for (const origin of ORIGINS) {
    for (const [key, value] of Object.entries(layers[origin] ?? {})) {
      values[key] = value;
      origins[key] = origin;
    }
  }
  if (values.modeId === undefined || values.stockId === undefined) throw new Error('a ticket without mode or stock');
  return { values: values as unknown as TicketValues, origins: origins as Record<TicketKey, Origin>, layers, preset };
}

/** What a value would be if it were not set here, and where that comes from. */
export function inheritedValue(ticket: Ticket, key: TicketKey): { readonly value: unknown; readonly origin: Origin } {
  for (const origin of [...ORIGINS].reverse()) {
    const part = origin === 'set here' ? undefined : ticket.layers[origin];
    if (part && key in part) return { value: part[key], origin };
  }
  return { value: (PLAIN_TICKET as TicketPart)[key], origin: 'printer' };
}

/** Whether two values of a ticket say the same, whatever order their parts stand in. */
export function sameValue(a: unknown, b: unknown): boolean {
  return JSON.stringify(a) === JSON.stringify(b);
}

/** Sets values by hand. A value that is what it would be anyhow is put back instead. */
export function setHere(ticket: Ticket, changes: TicketPart): Ticket {
  const here: Record<string, unknown> = { ...ticket.layers['set here'] };
  for (const [key, value] of Object.entries(changes)) {
    if (sameValue(inheritedValue(ticket, key as TicketKey).value, value)) Reflect.deleteProperty(here, key);
    else here[key] = value;
  }
  return makeTicket({ ...ticket.layers, 'set here': here }, ticket.preset);
}

/** Takes back what was set here: these keys, or all. */
export function putBack(ticket: Ticket, keys: readonly TicketKey[] | 'all'): Ticket {
  const here = Object.entries(ticket.layers['set here'] ?? {}).filter(
    ([key]) => keys !== 'all' && !keys.includes(key as TicketKey),
  );
  return makeTicket({ ...ticket.layers, 'set here': Object.fromEntries(here) }, ticket.preset);
}

/** Lays another preset over printer, stock and queue; null takes it off. */
export function usePresetOf(ticket: Ticket, preset: (PresetMark & { readonly values: TicketPart }) | null): Ticket {
  const layers = { ...ticket.layers, preset: preset?.values ?? {} };
  return makeTicket(layers, preset && { id: preset.id, name: preset.name });
}

/** Something set here stands over a value that the preset names: the preset is changed for this job. */
export function presetIsChanged(ticket: Ticket): boolean {
  const named = ticket.layers.preset ?? {};
  return ticket.preset !== null && Object.keys(named).some((key) => ticket.origins[key as TicketKey] === 'set here');
}

/**
 * A job moves to another printer, stock or queue: those three layers are taken anew, the others stay. A mode, or a stock,
 * that is not to be had there is left behind.
 */
export function rebaseTicket(
  ticket: Ticket,
  anew: Pick<TicketLayers, 'printer' | 'stock' | 'queue'>,
  known: { readonly modeIds: readonly string[]; readonly stockIds: readonly string[] },
): Ticket {
  const layers: Partial<Record<Origin, TicketPart>> = { ...anew };
  for (const origin of ['preset', 'file name', 'ticket file', 'set here'] as const) {
    const { modeId, stockId, ...rest } = ticket.layers[origin] ?? {};
    layers[origin] = {
      ...rest,
      ...(modeId !== undefined && known.modeIds.includes(modeId) ? { modeId } : {}),
      ...(stockId !== undefined && known.stockIds.includes(stockId) ? { stockId } : {}),
    };
  }
  return makeTicket(layers, ticket.preset);
}

/** The values in which two tickets differ. */
export function changedKeys(a: TicketValues, b: TicketValues): TicketKey[] {
  return TICKET_KEYS.filter((key) => !sameValue(a[key], b[key]));
}
