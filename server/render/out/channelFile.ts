import { deflateSync } from 'node:zlib';
import { type ChannelPage, channelDirectories, channelHeader, tileGrid } from '../../../core/raster/channelFile.ts';
import { lineTile } from '../../../core/raster/dotLines.ts';

/** A channel that is laid down in lines over a whole page. */
export interface LinedChannel {
  readonly name: string;
  /** Of all dots, 0 … 1. */
  readonly share: number;
  /** Of its lines along the row, in dots. */
  readonly offset: number;
}

/** Size of every page, in dots. */
export interface ChannelSize {
  readonly width: number;
  readonly height: number;
  readonly dpiX: number;
  readonly dpiY: number;
}

const HEADER_BYTES = 16;
/** Fastest: tiles are made while somebody waits. */
const DEFLATE_LEVEL = 1;

/** A channel file of lines. All tiles of a page are one: it is packed once. */
export function linedChannelFile(channels: readonly LinedChannel[], size: ChannelSize): Uint8Array {
  const { across, down } = tileGrid(size.width, size.height);
  const packed = channels.map(({ share, offset }) => deflateSync(lineTile(share, offset), { level: DEFLATE_LEVEL }));
  let at = HEADER_BYTES;
  const pages = channels.map(({ name }, i): ChannelPage => {
    const bytes = packed[i]?.length ?? 0;
    const page = {
      name,
      ...size,
      tiles: new Array<ChannelPage['tiles'][number]>(across * down).fill({ offset: at, bytes }),
    };
    at += bytes;
    return page;
  });
  // Directories begin at a whole word.
  const directoryAt = Math.ceil(at / 8) * 8;
  const gap = new Uint8Array(directoryAt - at);
  return Buffer.concat([channelHeader(directoryAt), ...packed, gap, channelDirectories(pages, directoryAt)]);
}
