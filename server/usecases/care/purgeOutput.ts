import { createHash } from 'node:crypto';
import { LINE_PITCH, TILE } from '../../../core/raster/dotLines.ts';
import type { printers } from '../../db/tables/floorTables.ts';
import { tileGrid } from '../../../core/raster/channelFile.ts';
import { metresText } from '../../../core/units/lengthText.ts';
import { type ChannelSize, linedChannelFile } from '../../render/out/channelFile.ts';
import { purgePdf } from '../../render/out/purgePdf.ts';
import { Refused } from '../../shop.ts';
import { modeOf } from '../run/runRows.ts';
import { type DesignRow, figuresOf } from './careWork.ts';

type PrinterRow = typeof printers.$inferSelect;

const MM_PER_IN = 25.4;
/** Of one channel. A purge is made while the server waits: listing so many tiles takes a tenth of a second. */
const MOST_TILES = 20_000;

/** What a device fires of a purge, and how large its drops are. */
export interface PurgeRaster {
  readonly file: Uint8Array;
  readonly sha256: string;
  readonly dropPl: number;
}

/**
 * A purge as channel file, of the channels that are fired.
 * @param fires ids; left out: all that the design fires
 */
export function purgeRaster(printer: PrinterRow, design: DesignRow, fires?: readonly string[]): PurgeRaster {
  const { dropPl } = modeOf(printer.config, design.modeId);
  const size = rasterSize(printer, design);
  const channels = firedOf(printer, design);
  const lined = channels.map(({ id, share }, i) => ({
    name: id,
    share,
    // Lines of several channels lie beside one another.
    offset: Math.round((LINE_PITCH * i) / channels.length),
  }));
  const wanted = fires ? lined.filter(({ name }) => fires.includes(name)) : lined;
  if (wanted.length === 0) throw new Refused(422, 'nothing-fired', `${design.name} fires none of these channels.`);
  const file = linedChannelFile(wanted, size);
  return { file, sha256: createHash('sha256').update(file).digest('hex'), dropPl };
}

/**
 * Size of a purge in dots.
 * @throws Refused where it is larger than anybody purges
 */
export function rasterSize(printer: PrinterRow, design: Omit<DesignRow, 'id'>): ChannelSize {
  const { widthMm, lengthMm } = figuresOf(printer, design);
  const { dpiX, dpiY } = modeOf(printer.config, design.modeId);
  const width = Math.round((widthMm / MM_PER_IN) * dpiX);
  const height = Math.round((lengthMm / MM_PER_IN) * dpiY);
  const { across, down } = tileGrid(width, height);
  if (across * down <= MOST_TILES) return { width, height, dpiX, dpiY };
  const mostMm = ((Math.floor(MOST_TILES / across) * TILE.height) / dpiY) * MM_PER_IN;
  throw new Refused(
    422,
    'too-long',
    `It is longer than a purge can be: ${metresText(lengthMm)} of ${metresText(mostMm)}.`,
    { lengthMm, mostMm },
    'Make it shorter, or denser.',
  );
}

/** A purge as PDF: each channel a separation. */
export function purgeAsPdf(printer: PrinterRow, design: DesignRow): Promise<Uint8Array> {
  const { widthMm, lengthMm, mediaWidthMm, mediaLengthMm } = figuresOf(printer, design);
  const { leadMm, mediaMarginMm } = printer.config;
  return purgePdf(design.name, {
    widthMm: mediaWidthMm,
    heightMm: mediaLengthMm,
    printed: { xMm: mediaMarginMm.leftMm, yMm: leadMm, widthMm, heightMm: lengthMm },
    pitchMm: (LINE_PITCH / modeOf(printer.config, design.modeId).dpiX) * MM_PER_IN,
    channels: firedOf(printer, design),
  });
}

function firedOf({ config }: PrinterRow, { sheet }: DesignRow) {
  return config.channels
    .map(({ id, name, colour }) => ({ id, name, colour, share: sheet.density * (sheet.levels[id] ?? 0) }))
    .filter(({ share }) => share > 0);
}
