import { useMemo } from 'react';
import type { PrinterView } from '../../../contract/api/floor.ts';
import { usePrinters, useStocks, type Printer } from '../../api/data.ts';
import { useZone } from '../../app/shopTime.ts';
import type { FormPlace } from '../../ticket/formPlace.ts';

const NO_SPOTS: readonly string[] = [];
const NO_LINES: FormPlace['cutLines'] = [];

/** What a ticket form is shown with where no job is there yet; without a printer it offers the modes of all. */
export function useSetupPlace(printerId: string | undefined): FormPlace {
  const { data: printers } = usePrinters();
  const { data: stocks } = useStocks();
  const zone = useZone();
  return useMemo(() => {
    const printer =
      printerId === undefined ? anyPrinter(printers ?? []) : printers?.find((each) => each.id === printerId);
    return { printer, stocks: stocks ?? [], zone, spots: NO_SPOTS, cutLines: NO_LINES, arriving: true };
  }, [printers, stocks, zone, printerId]);
}

/** A preset belongs to no printer: it may name any mode and any stock. */
function anyPrinter(printers: readonly Printer[]): PrinterView | undefined {
  const [first] = printers;
  if (!first) return undefined;
  const modes = printers.flatMap((each) =>
    each.config.modes.map((mode) => ({ ...mode, name: `${each.name} ${mode.name}` })),
  );
  return { ...first, config: { ...first.config, modes, widestMediaMm: Number.MAX_SAFE_INTEGER } };
}
