import sharp from 'sharp';
import { Type } from 'typebox';
import { CoatPreview, CoatPreviewAsked } from '../../../contract/api/colour/preview.ts';
import { RunChannels } from '../../../contract/api/colour/channels.ts';
import { partCount } from '../../../core/raster/bands.ts';
import { runName } from '../../../core/flow/runName.ts';
import { findRun } from '../../db/findRows.ts';
import { CoatReader, readPartIndex } from '../../render/channels/coatFile.ts';
import { type TilePlace, type ViewTile, viewTile } from '../../render/channels/coatTiles.ts';
import type { RunHow } from '../../ports/work.ts';
import { Refused, type Shop } from '../../shop.ts';
import type { CoatOrder } from '../../render/channels/renderPart.ts';
import { ensureArtwork } from '../../usecases/output/artworkOrder.ts';
import { PROFILE_WAY_OUT, coatPart } from '../../usecases/output/coatParts.ts';
import { previewCoats } from '../../usecases/output/previewCoats.ts';
import {
  type RenderedCoat,
  channelsView,
  ensureCoat,
  orderedCoat,
  renderedCoat,
} from '../../usecases/output/runChannels.ts';
import { FileAnswer, type Route, route } from '../route.ts';

/** Coats that were looked at last: their readers keep where tiles lie. */
const MOST_SEEN = 4;

interface SeenCoat {
  readonly order: CoatOrder;
  readonly reader: CoatReader;
}

/** What a run will fire: channels of its coats, their dots as a file, and tiles to look at. */
export function channelRoutes(shop: Shop): Route[] {
  const seen = new Map<string, SeenCoat>();
  /** Coats that were looked at before they are rendered, by what their rendering will be called. */
  const unscreened = new Map<string, CoatOrder>();
  const looked = ({ order }: RenderedCoat): SeenCoat =>
    remembered(seen, order.key, seen.get(order.key) ?? { order, reader: new CoatReader(shop.paths, order) });
  const isGone = async ({ key, height }: CoatOrder): Promise<boolean> =>
    (await readPartIndex(shop.paths, key, partCount(height) - 1)) === undefined;
  return [
    route({
      method: 'get',
      path: '/api/runs/:id/channels',
      needs: 'see',
      summary: 'What a run fires: coats, channels, dots by level and ml; it is rendered first where it is not yet',
      query: Type.Object({
        render: Type.Boolean({ default: true, description: 'false: only where it is rendered already' }),
      }),
      answer: RunChannels,
      heavy: 'Rendering the channels',
      handle: async ({ params, query, how }) => {
        const coat = await (query.render ? ensureCoat : renderedCoat)(shop, params.id ?? '', how);
        if (!('owed' in coat)) looked(coat);
        return channelsView(shop, params.id ?? '', coat);
      },
    }),
    route({
      method: 'get',
      path: '/api/runs/:id/channels/:coat.tif',
      needs: 'see',
      summary: 'The dots of a coat as BigTIFF: one page for each channel, named by it, two bits a dot',
      produces: 'image/tiff',
      heavy: 'Rendering the channels',
      handle: async ({ params, how }) => {
        const { id = '', coat = '' } = params;
        mustBeCoat(coat);
        const { order } = await ensureCoat(shop, id, how);
        const { head, parts, directories, bytes } = await shop.work.run('coat file', order, how);
        const stem = runName(findRun(shop.db, id)?.number ?? 0)
          .replace(' ', '-')
          .toLowerCase();
        const pieces = [head, ...parts, directories];
        return new FileAnswer('image/tiff', { pieces, length: bytes }, `${stem}-coat-${coat}.tif`);
      },
    }),
    route({
      method: 'get',
      path: '/api/coats/:rendering/parts/:part.tif',
      needs: 'see',
      byDeviceLink: true,
      summary: 'The next rows of a rendering as BigTIFF: what a printer fires that prints while the rest is rendered',
      produces: 'image/tiff',
      heavy: 'Rendering the channels',
      handle: async ({ params, how }) => {
        const { rendering = '', part = '' } = params;
        if (!/^[0-9a-f]{64}$/.test(rendering) || !/^\d{1,6}$/.test(part)) {
          throw new Refused(404, 'no-such-rendering', 'There is no such rendering.');
        }
        const file = await coatPart(shop, rendering, Number(part), how);
        if (!file) {
          throw new Refused(409, 'not-rendered', 'These rows are not rendered yet.', undefined, 'Ask for them again.');
        }
        const { head, parts, directories, bytes } = file;
        return new FileAnswer(
          'image/tiff',
          { pieces: [head, ...parts, directories], length: bytes },
          `part-${part}.tif`,
        );
      },
    }),
    route({
      method: 'post',
      path: '/api/preview/coats',
      needs: 'see',
      summary:
        'How a page of a job would print with other values, and what a piece of it would take; nothing is changed by asking',
      body: CoatPreviewAsked,
      answer: CoatPreview,
      heavy: 'Drawing the print',
      handle: ({ body, how }) => previewCoats(shop, body, how),
    }),
    route({
      method: 'get',
      path: '/api/runs/:id/tiles/:coat/:channel/:zoom/:x/:y',
      needs: 'see',
      summary:
        'Ink of one channel in a tile of 256 px, 0 … 255, or of *all*, one below the other; a pixel is 2^zoom dots along each side',
      query: Type.Object({
        rendering: Type.Optional(
          Type.String({ pattern: '^[0-9a-f]{64}$', description: 'as the coat calls it: that one, and no newer one' }),
        ),
        screened: Type.Boolean({
          default: true,
          description: 'false: ink before screening, which is there before the run is rendered',
        }),
      }),
      produces: 'image/png',
      heavy: 'Rendering the channels',
      handle: async ({ params, query, how }) => {
        mustBeCoat(params.coat ?? '');
        if (!query.screened) {
          const known = unscreened.get(query.rendering ?? '');
          const order = known ?? (await orderedCoat(shop, params.id ?? '', how)).order;
          remembered(unscreened, order.key, order);
          return tileAnswer(await unscreenedTiles(shop, order, params, how), order, query.rendering);
        }
        const { order, reader } =
          seen.get(query.rendering ?? '') ?? looked(await ensureCoat(shop, params.id ?? '', how));
        const tiles: ViewTile[] = [];
        try {
          for (const channel of channelsOf(params.channel, order)) {
            const tile = await viewTile(reader, order, order.drops, { channel, ...placeOf(params) });
            if (!tile) throw new Refused(404, 'no-such-tile', 'Nothing of the run lies there.');
            tiles.push(tile);
          }
        } catch (error) {
          if (error instanceof Refused || !(await isGone(order))) throw error;
          seen.delete(order.key);
          throw new Refused(
            409,
            'not-rendered',
            'What was rendered has gone: room was needed.',
            undefined,
            'Render it again.',
          );
        }
        return tileAnswer(tiles, order, query.rendering);
      },
    }),
  ];
}

/** Keeps what was looked at last. */
function remembered<T>(all: Map<string, T>, key: string, value: T): T {
  all.delete(key);
  all.set(key, value);
  const [oldest] = all.keys();
  if (all.size > MOST_SEEN && oldest !== undefined) all.delete(oldest);
  return value;
}

/** Tiles of channels as one picture, one below the other. @param asked which rendering was asked for by its name */
async function tileAnswer(
  tiles: readonly ViewTile[],
  { key }: CoatOrder,
  asked: string | undefined,
): Promise<FileAnswer> {
  const width = tiles[0]?.width ?? 0;
  const height = tiles.reduce((sum, tile) => sum + tile.height, 0);
  const ink = Buffer.concat(tiles.map((tile) => tile.ink));
  const bytes = await sharp(ink, { raw: { width, height, channels: 1 } })
    .png({ compressionLevel: 3 })
    .toBuffer();
  // What a rendering is called changes with everything that it is made of.
  const cache = asked === key ? 'private, max-age=31536000, immutable' : 'no-cache';
  return new FileAnswer('image/png', { bytes }, undefined, { 'Cache-Control': cache });
}

/** Tiles of a coat that is not rendered. @throws Refused where nothing of the run lies, or its profile can't be used */
async function unscreenedTiles(
  shop: Shop,
  order: CoatOrder,
  params: Readonly<Record<string, string>>,
  how: RunHow,
): Promise<ViewTile[]> {
  const place = placeOf(params);
  const channels = channelsOf(params.channel, order);
  await ensureArtwork(shop, order, { ...how, priority: 'a person waits' });
  const tile = await shop.work.run(
    'unscreened tile',
    { coat: order, ...place },
    { ...how, priority: 'a person waits' },
  );
  if (!tile) throw new Refused(404, 'no-such-tile', 'Nothing of the run lies there.');
  if ('refused' in tile) throw new Refused(422, 'no-rendering', tile.refused, undefined, PROFILE_WAY_OUT);
  const { width, height, inks } = tile;
  return channels.map((channel) => ({ width, height, ink: inks[channel] ?? new Uint8Array(width * height) }));
}

function mustBeCoat(coat: string): void {
  if (coat !== '1') throw new Refused(404, 'no-such-coat', 'A run has one coat: 1.', { coats: 1 });
}

/** Channels that are asked for by their id or as *all*, by their places in the coat. */
function channelsOf(id: string | undefined, { channels }: CoatOrder): number[] {
  if (id === 'all') return [...channels.keys()];
  const channel = channels.indexOf(id ?? '');
  if (channel >= 0) return [channel];
  throw new Refused(404, 'no-such-channel', `There is no channel ${id ?? ''}: ${channels.join(', ')}, or all.`);
}

function placeOf({ zoom, x, y }: Readonly<Record<string, string>>): Omit<TilePlace, 'channel'> {
  const whole = [zoom, x, y].map((value) => (/^\d{1,7}$/.test(value ?? '') ? Number(value) : NaN));
  const [zoomNo = NaN, column = NaN, row = NaN] = whole;
  if (whole.some(Number.isNaN) || zoomNo > 20) {
    throw new Refused(422, 'no-place', 'Zoom and place of a tile are whole numbers from 0 on.');
  }
  return { zoom: zoomNo, x: column, y: row };
}
