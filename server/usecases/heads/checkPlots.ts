import type { PlotReadingView } from '../../../contract/api/heads.ts';
import { checkPlot } from '../../../core/heads/checkPlot.ts';
import { plotPixels } from '../../../core/heads/drawPlot.ts';
import { markInk, plotPrinter } from '../../../core/heads/printerHeads.ts';
import type { RunHow } from '../../ports/work.ts';
import { findPrinter } from '../../db/findRows.ts';
import type { printers } from '../../db/tables/floorTables.ts';
import type { PlotFileOrder } from '../../render/out/checkPlotFiles.ts';
import { Refused, type Shop } from '../../shop.ts';
import { carePrinter } from '../care/careWork.ts';

type PrinterRow = typeof printers.$inferSelect;

/** Of one picture: a page-wide plot at 300 dpi has 110 million. */
const MOST_PIXELS = 130e6;

/** The check plot of a printer, as list of its lines, page or picture. */
export function checkPlotOf(shop: Shop, printerId: string, as: PlotFileOrder['as'], how: RunHow): Promise<Uint8Array> {
  const printer = carePrinter(shop.db, printerId);
  if (as.kind === 'png') wantPixels(printer, as.dpi);
  const { config } = printer;
  const inks = config.channels.map(({ id, name, colour }) => ({ id, name, colour }));
  const darkest = markInk(config);
  const ink = inks.find(({ colour }) => colour === darkest) ?? { id: '', name: '', colour: darkest };
  const perHead =
    config.head === 'carriage'
      ? config.machine.nozzlesPerChannel
      : config.machine.nozzlesPerChannel / config.machine.bars;
  return shop.work.run('check plot', { printer: plotPrinter(printerId, config), perHead, inks, ink, as }, how);
}

function wantPixels(printer: PrinterRow, dpi: number): void {
  const plot = checkPlot(plotPrinter(printer.id, printer.config));
  const { width, height } = plotPixels(plot, dpi);
  if (width * height <= MOST_PIXELS) return;
  const most = Math.floor(dpi * Math.sqrt(MOST_PIXELS / (width * height)));
  throw new Refused(
    422,
    'too-many-pixels',
    `The plot of ${printer.name} has ${String(width)} × ${String(height)} pixels at ${String(dpi)} dpi, more than a picture can have here.`,
    { width, height, mostDpi: most },
    `Ask for ${String(most)} dpi at most.`,
  );
}

/** Reads pictures of a printer's check plot; nothing is kept of it until a person takes the reading. */
export async function readPictures(
  shop: Shop,
  printerId: string,
  paths: readonly string[],
  how: RunHow,
): Promise<PlotReadingView> {
  const printer = carePrinter(shop.db, printerId);
  if (paths.length === 0) {
    throw new Refused(422, 'no-picture', 'No picture was sent.', undefined, 'Send one or several as `file`.');
  }
  const answer = await shop.work.run(
    'read check plot',
    { printer: plotPrinter(printerId, printer.config), paths },
    how,
  );
  if ('refused' in answer) {
    throw new Refused(
      422,
      'no-picture',
      `That is no picture that can be read: ${answer.refused}.`,
      undefined,
      'Send a PNG, JPEG, TIFF or WebP.',
    );
  }
  if (answer.otherPrinterId !== null) {
    const other = findPrinter(shop.db, answer.otherPrinterId)?.name ?? answer.otherPrinterId;
    throw new Refused(
      422,
      'other-printer',
      `That is a check plot of ${other}, not of ${printer.name}.`,
      { printerId: answer.otherPrinterId },
      `Read it at ${other}, or take a picture of ${printer.name}'s.`,
    );
  }
  if (answer.blocks === 0) {
    throw new Refused(
      422,
      'no-plot',
      `No block of ${printer.name}'s check plot was found: all four corner marks of a block must be in the picture.`,
      { blocks: 0, of: answer.of },
      'Take it again from straight above, with the corner marks in it and in focus.',
    );
  }
  const { otherPrinterId: _none, ...reading } = answer;
  return reading as PlotReadingView;
}
