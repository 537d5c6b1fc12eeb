import { useMemo } from 'react';
import { sideMargins, usableWidth } from '../../../../core/layout/usableWidth.ts';
import { usePrinters, useStocks, type JobDetail, type Printer, type Queue, type Stock } from '../../../api/data.ts';
import { useZone } from '../../../app/shopTime.ts';
import type { FormPlace } from '../../../ticket/formPlace.ts';
import type { Names } from '../../../ticket/valueText.ts';

export interface Surroundings {
  readonly place: FormPlace;
  readonly names: Names;
}

/** Printer, stocks and words that the ticket of a job in this queue is shown with. */
export function useSurroundings(
  queue: Queue | undefined,
  { spots, cutLines }: Pick<FormPlace, 'spots' | 'cutLines'>,
): Surroundings {
  const { data: printers } = usePrinters();
  const { data: stocks } = useStocks();
  const zone = useZone();
  return useMemo(() => {
    const printer = printers?.find((each) => each.id === queue?.printerId);
    const modes = (printers ?? []).flatMap((each) => each.config.modes.map((mode) => [mode.id, mode.name] as const));
    return {
      place: { printer, stocks: stocks ?? [], zone, spots, cutLines, arriving: false },
      names: { modes: new Map(modes), stocks: new Map((stocks ?? []).map((each) => [each.id, each.name])), zone },
    };
  }, [printers, stocks, zone, queue?.printerId, spots, cutLines]);
}

export interface MediaFacts {
  readonly name: string;
  readonly mediaWidthMm: number;
  readonly usableWidthMm: number;
  readonly usableFromMm: number;
}

/** The media of a job's ticket on its printer, and where it may be printed on. */
export function mediaOf(
  job: JobDetail,
  printer: Printer | undefined,
  stocks: readonly Stock[],
): MediaFacts | undefined {
  const stock = stocks.find((each) => each.id === job.ticket.values.stockId);
  if (!stock || !printer) return undefined;
  const { leftMm, rightMm } = sideMargins(printer.config, job.ticket.values.edgeToEdge, stock.widthMm);
  return {
    name: stock.name,
    mediaWidthMm: stock.widthMm,
    ...usableWidth(printer.config, stock.widthMm, leftMm, rightMm),
  };
}
