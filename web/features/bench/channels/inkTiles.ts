import type { ShownCoat } from './shownCoat.ts';
import type { Rgb } from '../../../../core/coats/heat.ts';
import { heatOf, mixInks } from './inkColours.ts';

/** A tile with the ink of every channel, 0 … 255 a pixel. */
export interface InkTile {
  readonly width: number;
  readonly height: number;
  readonly inks: readonly Uint8Array[];
}

export interface TileKey {
  readonly zoom: number;
  readonly x: number;
  readonly y: number;
}

/** Tiles that are kept: some screens of them. */
const MOST_TILES = 160;
/** Tiles that are fetched at once. */
const AT_ONCE = 2;
/** Wishes that are kept: of a view that was passed by nothing is fetched any more. */
const MOST_WISHES = 48;

const [IS_THERE, IS_BEING_MADE] = [200, 202];
const AGAIN_MS = 250;
const MOST_TRIES = 40;

const nameOf = ({ zoom, x, y }: TileKey): string => `${String(zoom)} ${String(x)} ${String(y)}`;

/** Tiles of one coat: asked for once each, mixed anew when other channels are shown. */
export class InkTiles {
  private readonly tiles = new Map<string, InkTile | 'missing'>();
  private readonly wishes = new Map<string, TileKey>();
  private readonly underWay = new Set<string>();
  private readonly mixed = new Map<string, { readonly look: string; readonly picture: HTMLCanvasElement }>();

  /** @param arrived told when a tile has come */
  constructor(
    private readonly runId: string,
    private readonly coat: ShownCoat,
    private readonly arrived: () => void,
  ) {}

  /** A tile where it is there; it is asked for where it is not. */
  tile(key: TileKey): InkTile | undefined {
    const name = nameOf(key);
    const known = this.tiles.get(name);
    if (known === undefined) {
      this.wish(key, name);
      return undefined;
    }
    if (typeof known === 'string') return undefined;
    // Used last, it is the last to go.
    this.tiles.delete(name);
    this.tiles.set(name, known);
    return known;
  }

  /** A tile where it is there; it is not asked for. */
  known(key: TileKey): InkTile | undefined {
    const known = this.tiles.get(nameOf(key));
    return typeof known === 'string' ? undefined : known;
  }

  /** A tile as it looks with some of its channels on media of a colour, or how much ink they lay down, as heat. */
  picture(
    key: TileKey,
    shown: readonly { readonly index: number; readonly colour: Rgb }[],
    media: Rgb,
    asHeat = false,
  ): HTMLCanvasElement | undefined {
    const tile = this.tile(key);
    if (!tile) return undefined;
    const name = nameOf(key);
    const look = `${shown.map(({ index }) => index).join(' ')} ${media.join(' ')} ${asHeat ? 'heat' : ''}`;
    const known = this.mixed.get(name);
    if (known?.look === look) return known.picture;
    const picture = document.createElement('canvas');
    picture.width = tile.width;
    picture.height = tile.height;
    const context = picture.getContext('2d');
    if (!context) return undefined;
    const pixels = context.createImageData(tile.width, tile.height);
    const lit = shown.map(({ index, colour }) => ({ inks: tile.inks[index] ?? new Uint8Array(), colour }));
    if (asHeat) {
      const inks = lit.map((each) => each.inks);
      heatOf(media, inks, this.coat.inkLimit, pixels.data);
    } else mixInks(media, lit, pixels.data);
    context.putImageData(pixels, 0, 0);
    this.mixed.set(name, { look, picture });
    return picture;
  }

  /** What was wished for last is fetched first. */
  private wish(key: TileKey, name: string): void {
    if (this.underWay.has(name)) return;
    this.wishes.delete(name);
    this.wishes.set(name, key);
    for (const oldest of this.wishes.keys()) {
      if (this.wishes.size <= MOST_WISHES) break;
      this.wishes.delete(oldest);
    }
    this.fetchNext();
  }

  private fetchNext(): void {
    // The whole view is wished for before any of it is fetched.
    queueMicrotask(() => {
      while (this.underWay.size < AT_ONCE) {
        const last = [...this.wishes].at(-1);
        if (!last) return;
        const [name, key] = last;
        this.wishes.delete(name);
        this.underWay.add(name);
        void this.fetch(key, name).finally(() => {
          this.underWay.delete(name);
          this.fetchNext();
        });
      }
    });
  }

  private async fetch({ zoom, x, y }: TileKey, name: string): Promise<void> {
    const { channels, no, rendering, isScreened } = this.coat;
    try {
      const path = `/api/runs/${this.runId}/tiles/${String(no)}/all/${String(zoom)}/${String(x)}/${String(y)}`;
      const { width, height, inks } = await inksAt(
        `${path}?rendering=${rendering}${isScreened ? '' : '&screened=false'}`,
      );
      // The channels lie one below the other.
      const pixels = (width * height) / channels.length;
      this.tiles.set(name, {
        width,
        height: height / channels.length,
        inks: channels.map((_, i) => inks.subarray(i * pixels, (i + 1) * pixels)),
      });
      for (const oldest of this.tiles.keys()) {
        if (this.tiles.size <= MOST_TILES) break;
        this.tiles.delete(oldest);
        this.mixed.delete(oldest);
      }
      this.arrived();
    } catch {
      // Asked for again when it is looked at the next time, but not before: a server that is away is not asked without end.
      this.tiles.set(name, 'missing');
      setTimeout(() => {
        if (this.tiles.get(name) === 'missing') this.tiles.delete(name);
        this.arrived();
      }, 3000);
    }
  }
}

async function inksAt(
  path: string,
): Promise<{ readonly width: number; readonly height: number; readonly inks: Uint8Array }> {
  let answer = await fetch(path);
  // It takes a while: asked again, it is worked on once all the same.
  for (let i = 0; answer.status === IS_BEING_MADE && i < MOST_TRIES; i += 1) {
    await new Promise((done) => setTimeout(done, AGAIN_MS));
    answer = await fetch(path);
  }
  if (answer.status !== IS_THERE) throw new Error(`no tile: ${String(answer.status)}`);
  // As the numbers are: no colour is meant by them.
  const bitmap = await createImageBitmap(await answer.blob(), { colorSpaceConversion: 'none' });
  const canvas = new OffscreenCanvas(bitmap.width, bitmap.height);
  const context = canvas.getContext('2d', { willReadFrequently: true });
  if (!context) throw new Error('no canvas');
  context.drawImage(bitmap, 0, 0);
  const { data } = context.getImageData(0, 0, bitmap.width, bitmap.height);
  return {
    width: bitmap.width,
    height: bitmap.height,
    inks: Uint8Array.from({ length: bitmap.width * bitmap.height }, (_, i) => data[i * 4] ?? 0),
  };
}
