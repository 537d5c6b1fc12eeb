import { createHash } from 'node:crypto';
import { LINE_PITCH, TILE } from '../../../core/raster/dotLines.ts';
import type { printers } from '../../db/schema.ts';
import { linedChannelFile } from '../../render/out/channelFile.ts';
import { purgePdf } from '../../render/out/purgePdf.ts';
import { Refused } from '../../shop.ts';
import { type DesignRow, figuresOf } from './careWork.ts';

type PrinterRow = typeof printers.$inferSelect;

const MM_PER_IN = 25.4;
/** More tiles than this are no purge: their list alone would be tens of megabytes. */
const MOST_TILES = 200_000;

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
  const { widthMm, lengthMm } = figuresOf(printer, design);
  const { dpiX, dpiY, dropPl } = modeOf(printer, design);
  const size = {
    ...{ dpiX, dpiY },
    width: Math.round((widthMm / MM_PER_IN) * dpiX),
    height: Math.round((lengthMm / MM_PER_IN) * dpiY),
  };
  if (Math.ceil(size.width / TILE.width) * Math.ceil(size.height / TILE.height) > MOST_TILES) {
    throw new Refused(
      422,
      'too-large',
      `${design.name} is too large for a channel file.`,
      undefined,
      'Make it shorter.',
    );
  }
  const channels = firedOf(printer, design);
  const lined = channels.map(({ id, share }, i) => ({
    name: id,
    share,
    // Lines of several channels lie beside one another.
    offset: Math.round((LINE_PITCH * i) / channels.length),
  }));
  const file = linedChannelFile(fires ? lined.filter(({ name }) => fires.includes(name)) : lined, size);
  return { file, sha256: createHash('sha256').update(file).digest('hex'), dropPl };
}

/** A purge as PDF: each channel a separation. */
export function purgeAsPdf(printer: PrinterRow, design: DesignRow): Promise<Uint8Array> {
  const figures = figuresOf(printer, design);
  const { leadMm, trailMm, mediaMarginMm } = printer.config;
  const onSheet = design.sheet.form === 'sheet';
  return purgePdf(design.name, {
    widthMm: onSheet ? design.sheet.widthMm : figures.widthMm + mediaMarginMm.leftMm + mediaMarginMm.rightMm,
    heightMm: onSheet ? design.sheet.lengthMm : leadMm + figures.lengthMm + trailMm,
    printed: { xMm: mediaMarginMm.leftMm, yMm: leadMm, widthMm: figures.widthMm, heightMm: figures.lengthMm },
    pitchMm: (LINE_PITCH / modeOf(printer, design).dpiX) * MM_PER_IN,
    channels: firedOf(printer, design),
  });
}

function modeOf({ config, name }: PrinterRow, design: DesignRow): PrinterRow['config']['modes'][number] {
  const mode = config.modes.find(({ id }) => id === design.modeId);
  if (!mode) throw new Refused(422, 'no-such-mode', `${name} has no print mode ${design.modeId}.`);
  return mode;
}

function firedOf({ config }: PrinterRow, { sheet }: DesignRow) {
  return config.channels
    .map(({ id, name, colour }) => ({ id, name, colour, share: sheet.density * (sheet.levels[id] ?? 0) }))
    .filter(({ share }) => share > 0);
}
