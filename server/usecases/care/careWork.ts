import { eq } from 'drizzle-orm';
import type { CareWhat } from '../../../core/care/careData.ts';
import { type PurgeFigures, purgeFigures } from '../../../core/care/purge.ts';
import { checkPlot } from '../../../core/heads/checkPlot.ts';
import { FEED_NOMINAL_MM } from '../../../core/heads/feedCheck.ts';
import { markInk, plotPrinter } from '../../../core/heads/printerHeads.ts';
import { mmText } from '../../../core/units/lengthText.ts';
import { purgeDesigns } from '../../db/tables/careTables.ts';
import { findPrinter, findRun } from '../../db/findRows.ts';
import type { Reader } from '../../db/open.ts';
import type { printers } from '../../db/tables/floorTables.ts';
import { runName } from '../../../core/flow/runName.ts';
import { Refused } from '../../shop.ts';

export type DesignRow = typeof purgeDesigns.$inferSelect;
type PrinterRow = typeof printers.$inferSelect;

/** What some care takes of a printer: lengths mm, ink ml by channel. */
export interface CareWork {
  readonly title: string;
  readonly durationMs: number;
  readonly inkMl: Readonly<Record<string, number>>;
  /** 0: it takes no media. */
  readonly fedMm: number;
  /** What it is printed on; null: whatever is loaded, the widest first. */
  readonly stockId: string | null;
}

/** A printer by its id. @throws Refused where there is none */
export function carePrinter(db: Reader, printerId: string): PrinterRow {
  const printer = findPrinter(db, printerId);
  if (!printer) throw new Refused(404, 'no-such-printer', `There is no printer ${printerId}.`);
  return printer;
}

/** A purge design by its id. @throws Refused where there is none */
export function designRow(db: Reader, designId: string): DesignRow {
  const design = db.select().from(purgeDesigns).where(eq(purgeDesigns.id, designId)).get();
  if (!design) throw new Refused(404, 'no-such-design', `There is no purge design ${designId}.`);
  return design;
}

/**
 * What a design takes of its printer.
 * @throws Refused with the figures where it can't be printed there
 */
export function figuresOf(
  { config, name }: Pick<PrinterRow, 'config' | 'name'>,
  design: Pick<DesignRow, 'modeId' | 'sheet'>,
): PurgeFigures {
  const mode = config.modes.find(({ id }) => id === design.modeId);
  if (!mode) throw new Refused(422, 'no-such-mode', `${name} has no print mode ${design.modeId}.`);
  const figures = purgeFigures(design.sheet, mode, config);
  if (figures.ok) return figures.value;
  const { code, widthMm, mostMm } = figures.reason;
  if (code === 'nothing-fired') {
    throw new Refused(422, code, 'No channel is fired.', undefined, 'Switch a channel on, or raise the density.');
  }
  throw new Refused(
    422,
    code,
    code === 'too-wide'
      ? `It is wider than ${name} prints: ${mmText(widthMm)} of ${mmText(mostMm)}.`
      : `Nothing of it lies within the margins of ${name}.`,
    { widthMm, mostMm },
    'Choose another size.',
  );
}

/**
 * What care comes to on a printer.
 * @throws Refused where it makes no sense there: a design of another printer, a channel that it has not
 */
export function careWork(db: Reader, printer: Pick<PrinterRow, 'id' | 'name' | 'config'>, what: CareWhat): CareWork {
  const { config, name } = printer;
  const perHead = (ml: number, ids?: readonly string[]): Record<string, number> =>
    Object.fromEntries(
      config.channels.filter(({ id }) => ids?.includes(id) ?? true).map(({ id, heads }) => [id, ml * heads]),
    );
  const minutes = (count: number): number => count * 60_000;
  const none = { inkMl: {}, fedMm: 0, stockId: null };
  switch (what.kind) {
    case 'purge': {
      const design = designRow(db, what.designId);
      if (design.printerId !== printer.id) {
        throw new Refused(
          422,
          'other-printer',
          `${design.name} is designed for another printer than ${name}.`,
          undefined,
          'Copy the design to this printer first.',
        );
      }
      const { durationMs, inkMl, fedMm } = figuresOf(printer, design);
      return { title: design.name, durationMs, inkMl, fedMm, stockId: design.stockId };
    }
    case 'check': {
      const { minutes: long, mlPerHead } = config.care.check;
      // Onto a bed a person lays something that is no stock.
      const feeds = config.sources.some(({ kind }) => kind !== 'bed');
      const fedMm = feeds
        ? config.leadMm +
          checkPlot(plotPrinter(printer.id, config)).heightMm +
          config.trailMm +
          config.machine.trailerMm
        : 0;
      return { ...none, title: 'nozzle check', durationMs: minutes(long), inkMl: perHead(mlPerHead), fedMm };
    }
    case 'clean': {
      const unknown = what.channelIds.find((id) => !config.channels.some((channel) => channel.id === id));
      if (unknown !== undefined) throw new Refused(422, 'no-such-channel', `${name} has no channel ${unknown}.`);
      const { minutes: long, mlPerHead } = config.care[what.strength];
      const title = `${what.strength} clean`;
      return { ...none, title, durationMs: minutes(long), inkMl: perHead(mlPerHead, what.channelIds) };
    }
    case 'stir':
      if (!config.channels.some(({ id }) => id === 'white')) {
        throw new Refused(422, 'no-white', `${name} has no white that could settle.`);
      }
      return { ...none, title: 'stir white', durationMs: minutes(config.care.stirMinutes) };
    case 'feed': {
      // Two bars of the ink that shows best, and the way between them.
      const { minutes: long, mlPerHead } = config.care.check;
      const darkest = markInk(config);
      const inkMl = Object.fromEntries(
        config.channels.filter(({ colour }) => colour === darkest).map(({ id, heads }) => [id, mlPerHead * heads]),
      );
      const fedMm = config.leadMm + FEED_NOMINAL_MM + config.trailMm + config.machine.trailerMm;
      return { title: 'feed check', durationMs: minutes(long), inkMl, fedMm, stockId: what.stockId };
    }
    case 'release': {
      const run = findRun(db, what.runId);
      if (!run) throw new Refused(404, 'no-such-run', `There is no run ${what.runId}.`);
      return { ...none, title: `release ${runName(run.number)}`, durationMs: 0 };
    }
  }
}
