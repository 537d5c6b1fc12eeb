import { createHash } from 'node:crypto';
import type { CoatView, RunChannels } from '../../../contract/api/colour/channels.ts';
import type { PrinterConfig } from '../../../contract/api/floor.ts';
import { ASSUMED_CMYK } from '../../../core/coats/artworkProfiles.ts';
import { dropsOfMode, firedShare } from '../../../core/coats/dropSizes.ts';
import { BAND_ROWS, PART_ROWS, WARM_UP_ROWS, WINDOW_COLUMNS } from '../../../core/raster/bands.ts';
import { type CoatProgress, progressOf, renderParts } from './coatParts.ts';
import { countedMl, keepCounts } from './countedInk.ts';
import { runName } from '../../../core/flow/runName.ts';
import { findRun } from '../../db/findRows.ts';
import { TABLE_NODES } from '../../render/colour/bakeInks.ts';
import { VIEW_TILE, mostZoom } from '../../render/channels/coatTiles.ts';
import type { CoatOrder, PartIndex } from '../../render/channels/renderPart.ts';
import type { RunHow } from '../../ports/work.ts';
import { shopCurrency } from '../setup/shopSetup.ts';
import { Refused, type Shop } from '../../shop.ts';
import { laidPieces } from '../layout/measureRun.ts';
import { modeOf, printerOf } from '../run/runRows.ts';
import { artworkOrder, coloursOfJobs } from './artworkOrder.ts';
import { colourChannels, wantedProfile } from './wantedProfile.ts';
import { notPrintedOnce } from './printedOnce.ts';
import { ensureLaidOut } from './runPdf.ts';

const MM_PER_IN = 25.4;
const MICRO_PER_MINOR = 10_000;
/** Part of what names a rendering: how pages are cut up, how tables are baked, and which way of computing this is. A change makes all anew. */
const RENDERING = JSON.stringify([WINDOW_COLUMNS, BAND_ROWS, WARM_UP_ROWS, PART_ROWS, TABLE_NODES, 4]);
/** Bytes that a dot of a channel may come to: 0.06 were measured on photographs, 0.11 on noise. */
const BYTES_PER_DOT = 0.16;
/** What stands in place of a profile where inks of the artwork are printed each alone. */
const BLACK_ALONE = 'black alone, without a profile';
/** Of the first coat; others come to lie before and behind it. */
const COLOURS = { no: 1, name: 'Colours' } as const;

/** A coat with what was counted of it. */
export interface RenderedCoat {
  readonly order: CoatOrder;
  /** Of each channel: dots of each level, [0] none … [3] full. */
  readonly dots: readonly (readonly number[])[];
}

/** How much of a run's coat is rendered by now. @throws Refused where it can't be */
export async function coatProgress(shop: Shop, runId: string, how: RunHow = {}): Promise<CoatProgress> {
  const { order } = await coatOrder(shop, runId, how);
  return progressOf(shop, order);
}

/** A run's coat where all of it is rendered; else what is owed of it. */
export async function renderedCoat(
  shop: Shop,
  runId: string,
  how: RunHow = {},
): Promise<RenderedCoat | { readonly owed: NonNullable<RunChannels['owed']> }> {
  const ordered = await orderedCoat(shop, runId, how);
  const { parts, made } = await progressOf(shop, ordered.order);
  if (made === parts) return countedCoat(shop, runId, ordered, await renderParts(shop, ordered.order, how));
  const { config } = printerOf(shop.db, runOf(shop, runId));
  const { order } = ordered;
  const large = tooLarge(shop, runId, order);
  return {
    owed: {
      coat: { ...lookOf(order), channels: order.channels.map((id) => channelLook(id, config)) },
      ...{ parts, made },
      refused: large ? `${large.message} ${large.remedy ?? ''}` : null,
    },
  };
}

/** A coat of which all parts are there. What was counted of it is from then on what the run is planned to fire. */
function countedCoat(
  shop: Shop,
  runId: string,
  { order, version }: OrderedCoat,
  indexes: readonly PartIndex[],
): RenderedCoat {
  const dots = dotsOf(order, indexes);
  keepCounts(shop, runId, { order, version, dots });
  return { order, dots };
}

/** Of each channel: dots of each level, over all parts. */
function dotsOf({ channels }: CoatOrder, indexes: readonly PartIndex[]): number[][] {
  return channels.map((_, channel) =>
    [0, 1, 2, 3].map((level) => indexes.reduce((sum, index) => sum + (index.dots[channel]?.[level] ?? 0), 0)),
  );
}

/**
 * Renders a run to the dots of its coat, part by part, where that has not been done yet. What is there already is not made again, so that a
 * rendering that was stopped goes on where it was.
 * @throws Refused where it can't be rendered, with the reason and the way out
 */
export async function ensureCoat(shop: Shop, runId: string, how: RunHow = {}): Promise<RenderedCoat> {
  const ordered = await coatOrder(shop, runId, how);
  return countedCoat(shop, runId, ordered, await renderParts(shop, ordered.order, how));
}

/** A run's coats as they will be fired. */
export function channelsView(
  shop: Shop,
  runId: string,
  coat: RenderedCoat | { readonly owed: NonNullable<RunChannels['owed']> },
): RunChannels {
  const run = runOf(shop, runId);
  const { config } = printerOf(shop.db, run);
  return {
    currency: shopCurrency(shop.db),
    owed: 'owed' in coat ? coat.owed : null,
    coats: 'owed' in coat ? [] : [coatView(coat, config)],
    notOnce: notPrintedOnce(shop.db, run),
    notes: notesOf(shop, runId, config),
  };
}

function coatView({ order, dots }: RenderedCoat, config: PrinterConfig): CoatView {
  const mlOf = countedMl(order, dots, config);
  return {
    ...lookOf(order),
    channels: order.channels.map((id, i) => {
      const counts = dots[i] ?? [];
      const ml = mlOf[id] ?? 0;
      const price = config.channels.find((each) => each.id === id)?.pricePerMlMicro ?? 0;
      return {
        ...channelLook(id, config),
        drops: [...counts],
        ml,
        costMinor: (ml * price) / MICRO_PER_MINOR,
        coverage: firedShare(counts, order.drops),
      };
    }),
  };
}

function channelLook(id: string, config: PrinterConfig): { id: string; name: string; colour: string } {
  const channel = config.channels.find((each) => each.id === id);
  return { id, name: channel?.name ?? id, colour: channel?.colour ?? '#000000' };
}

/** What a coat is, but for its channels. */
function lookOf(order: CoatOrder): Omit<CoatView, 'channels'> {
  const { width, height, drops } = order;
  return {
    ...COLOURS,
    rendering: order.key,
    widthDots: width,
    heightDots: height,
    dpiX: order.dpiX,
    dpiY: order.dpiY,
    profile: order.profile?.name ?? BLACK_ALONE,
    intent: order.intent,
    screening: order.screening,
    inkLimit: order.inkLimit ?? order.channels.length,
    dropsPl: [...drops],
    mostZoom: mostZoom(width, height),
    tilePx: VIEW_TILE,
  };
}

/** What is not rendered as it will have to be, so that nobody takes it for the whole. */
function notesOf(shop: Shop, runId: string, config: PrinterConfig): string[] {
  const files = coloursOfJobs(shop, jobIdsOf(shop, runId));
  const { artwork } = runOf(shop, runId).ticket;
  const spots = new Set(files.flatMap((file) => file.spots));
  const isAssumed = files.some(
    ({ colourSpaces, profile }) => colourSpaces.includes('CMYK') && (profile === null || !artwork.embedded),
  );
  const white = 'White is not rendered: it has a coat of its own.';
  const ofPrinter = config.channels.some(({ id }) => id === 'white') ? [white] : [];
  if (separationsOf(shop, runId).separations > 0)
    return ['Inks of the files are printed each alone, in black: no profile takes part.', ...ofPrinter];
  const notes: string[] = [];
  if (isAssumed) notes.push(`CMYK that brings no profile is read as ${artwork.cmyk ?? ASSUMED_CMYK}.`);
  if (!artwork.embedded && files.some(({ profile }) => profile !== null))
    notes.push('Profiles that files bring are left aside, as the ticket says.');
  if (spots.size > 0) notes.push(`Spot colours are mixed from the printer’s inks: ${[...spots].join(', ')}.`);
  return [...notes, ...ofPrinter];
}

/** How many pieces are laid out, and how many of them are one ink of their file alone. */
function separationsOf(shop: Shop, runId: string): { readonly separations: number; readonly pieces: number } {
  const placed = laidPieces(shop.db, runId).filter((piece) => piece.placed);
  return { separations: placed.filter(({ part }) => part !== null).length, pieces: placed.length };
}

function jobIdsOf(shop: Shop, runId: string): string[] {
  return laidPieces(shop.db, runId).map(({ jobId }) => jobId);
}

function runOf(shop: Shop, runId: string) {
  const run = findRun(shop.db, runId);
  if (!run) throw new Refused(404, 'no-such-run', `There is no run ${runId}.`);
  return run;
}

interface OrderedCoat {
  readonly order: CoatOrder;
  /** Of the run that it was ordered for. */
  readonly version: number;
}

/** Everything that the dots of a run's coat depend on. @throws Refused where it can't be rendered, also for want of room */
async function coatOrder(shop: Shop, runId: string, how: RunHow): Promise<OrderedCoat> {
  const ordered = await orderedCoat(shop, runId, how);
  const large = tooLarge(shop, runId, ordered.order);
  if (large) throw large;
  return ordered;
}

/** Why a coat has no room; undefined: it has. */
function tooLarge(shop: Shop, runId: string, { width, height, channels }: CoatOrder): Refused | undefined {
  const bytes = width * height * channels.length * BYTES_PER_DOT;
  const limit = shop.limits.renderedBytes;
  if (bytes <= limit) return undefined;
  const gb = (value: number): string => (value / 1e9).toFixed(1);
  const name = runName(runOf(shop, runId).number);
  return new Refused(
    422,
    'no-room',
    `${name} may take ${gb(bytes)} GB when it is rendered, and ${gb(limit)} GB is the limit of rendered data.`,
    { bytes: Math.round(bytes), limit },
    'Cut it into shorter runs.',
  );
}

/** As {@link coatOrder}, whether there is room for its dots or not. */
export async function orderedCoat(shop: Shop, runId: string, how: RunHow): Promise<OrderedCoat> {
  const run = runOf(shop, runId);
  const printer = printerOf(shop.db, run);
  const mode = modeOf(printer.config, run.ticket.modeId);
  const { separations, pieces } = separationsOf(shop, runId);
  const isSeparated = separations > 0 && separations === pieces;
  if (separations > 0 && !isSeparated) {
    throw new Refused(
      422,
      'separations',
      `${runName(run.number)} prints inks of some files each alone, in black, and others in colour: they can’t be rendered as one.`,
      { separations, pieces },
      'Lay separations out in a run of their own.',
    );
  }
  const profile = isSeparated
    ? null
    : await wantedProfile(shop, {
        ...{ what: runName(run.number), printerName: printer.name },
        ...{ mode, ticket: run.ticket },
      });
  const { pageWidthMm } = await ensureLaidOut(shop, runId, how);
  const pdfKey = runOf(shop, runId).pdfKey;
  if (pdfKey === null) throw new Error(`run ${runId} has no PDF`);
  // On pages of separations there is nothing but grey.
  const artwork = isSeparated
    ? null
    : await artworkOrder(shop, run, pdfKey, coloursOfJobs(shop, jobIdsOf(shop, runId)));
  const dots = (mm: number, dpi: number): number => Math.max(1, Math.round((mm / MM_PER_IN) * dpi));
  const content = {
    pdfKey,
    width: dots(pageWidthMm, mode.dpiX),
    height: dots(run.lengthMm, mode.dpiY),
    dpiX: mode.dpiX,
    dpiY: mode.dpiY,
    channels: colourChannels(printer.config).map(({ id }) => id),
    profile,
    intent: run.ticket.intent,
    artwork,
    tone: run.ticket.tone,
    curves: run.ticket.curves,
    inkLimit: Math.min(mode.inkLimit, run.ticket.inkLimit ?? mode.inkLimit),
    screening: run.ticket.screening,
    drops: dropsOfMode(mode),
  } as const;
  const key = createHash('sha256').update(RENDERING).update(JSON.stringify(content)).digest('hex');
  return { order: { ...content, key }, version: run.version };
}
