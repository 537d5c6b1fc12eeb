import { inkMl } from '../estimate/ink.ts';
import { runTime } from '../estimate/runTime.ts';
import type { CarriageConstants, PrintMode } from '../machine/constants.ts';
import { type Result, ok, refuse } from '../result.ts';

/** A purge as it is designed: ink pushed through the nozzles on plain media. Lengths mm, shares 0 … 1. */
export interface PurgeSheet {
  /** A sheet of its stock, or a length of a roll. */
  readonly form: 'sheet' | 'roll';
  /** Of the sheet; on a roll what is printed, margins off. */
  readonly widthMm: number;
  readonly lengthMm: number;
  /** Share of the dots that are laid down at full level. */
  readonly density: number;
  /** By channel; one that is left out is not fired. */
  readonly levels: Readonly<Record<string, number>>;
}

/** What of a printer a purge depends on. */
export interface PurgedPrinter {
  readonly printableWidthMm: number;
  readonly leadMm: number;
  readonly trailMm: number;
  readonly mediaMarginMm: { readonly leftMm: number; readonly rightMm: number };
  readonly channels: readonly { readonly id: string; readonly heads: number }[];
  readonly machine: CarriageConstants;
}

type PurgeMode = Pick<PrintMode, 'dpiX' | 'dpiY' | 'dropPl' | 'passes' | 'oneDirectional' | 'lineMmPerS'> & {
  readonly whiteOneDirectional: boolean;
};

export interface PurgeFigures {
  /** What is printed. */
  readonly widthMm: number;
  readonly lengthMm: number;
  /** The media that it lies on, margins and all. */
  readonly mediaWidthMm: number;
  readonly mediaLengthMm: number;
  /** Of each channel that is fired (ml). */
  readonly inkMl: Readonly<Record<string, number>>;
  /** Length that leaves the spool or the tray. */
  readonly fedMm: number;
  readonly sheets: number;
  readonly durationMs: number;
}

export interface PurgeRefusal {
  readonly code: 'too-wide' | 'no-area' | 'nothing-fired';
  readonly widthMm: number;
  readonly mostMm: number;
}

/** Settling pigment is laid in one direction where the mode says so. */
const WHITE = 'white';

/**
 * Ink, media and time of a purge: ink = area ÷ 645.16 · dpi_x · dpi_y · density · level · pl · 1e−9 · heads, of what is printed;
 * media one sheet, or lead + length + trail + trailer; time that of a run as wide as the media.
 * @returns refused where nothing would be printed, or more than the printer's width
 */
export function purgeFigures(
  sheet: PurgeSheet,
  mode: PurgeMode,
  printer: PurgedPrinter,
): Result<PurgeFigures, PurgeRefusal> {
  const { leftMm, rightMm } = printer.mediaMarginMm;
  const onSheet = sheet.form === 'sheet';
  const widthMm = onSheet ? sheet.widthMm - leftMm - rightMm : sheet.widthMm;
  const lengthMm = onSheet ? sheet.lengthMm - printer.leadMm - printer.trailMm : sheet.lengthMm;
  const no = (code: PurgeRefusal['code']): Result<never, PurgeRefusal> =>
    refuse({ code, widthMm, mostMm: printer.printableWidthMm });
  if (widthMm <= 0 || lengthMm <= 0) return no('no-area');
  if (widthMm > printer.printableWidthMm + 1e-6) return no('too-wide');
  const fired = printer.channels.filter(({ id }) => (sheet.levels[id] ?? 0) > 0);
  if (fired.length === 0 || sheet.density <= 0) return no('nothing-fired');
  const { dpiX, dpiY, dropPl } = mode;
  const ml = Object.fromEntries(
    fired.map(({ id, heads }) => [
      id,
      inkMl(sheet.density * (sheet.levels[id] ?? 0), widthMm * lengthMm, dpiX, dpiY, dropPl, heads),
    ]),
  );
  const mediaWidthMm = onSheet ? sheet.widthMm : widthMm + leftMm + rightMm;
  const white = fired.some(({ id }) => id === WHITE);
  const time = runTime(
    {
      lengthMm,
      mediaWidthMm,
      mode: { ...mode, oneDirectional: mode.oneDirectional || (white && mode.whiteOneDirectional) },
      span: 'media',
      dryOut: false,
      cutOff: 'none',
      pieces: [],
      sheets: onSheet ? { lengthMm, byHand: false } : undefined,
    },
    printer.machine,
  );
  return ok({
    widthMm,
    lengthMm,
    mediaWidthMm,
    mediaLengthMm: onSheet ? sheet.lengthMm : printer.leadMm + lengthMm + printer.trailMm,
    inkMl: ml,
    fedMm: onSheet ? sheet.lengthMm : printer.leadMm + lengthMm + printer.trailMm + printer.machine.trailerMm,
    sheets: onSheet ? 1 : 0,
    durationMs: time.totalMs,
  });
}
