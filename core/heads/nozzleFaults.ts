/** What can be wrong with a nozzle: it fires nothing, too little, or beside its place. */
export const NOZZLE_FAULTS = ['missing', 'weak', 'crooked'] as const;
export type NozzleFault = (typeof NOZZLE_FAULTS)[number];

/**
 * Nozzles of one channel that do not print as they should. They are numbered from 0 over all heads of the channel: nozzle n is
 * nozzle n mod N of head floor(n ÷ N). Of a page-wide array they are numbered from its first edge to the other.
 */
export type ChannelFaults = Readonly<Record<NozzleFault, readonly number[]>>;

/** Every nozzle prints. */
export const NO_FAULTS: ChannelFaults = { missing: [], weak: [], crooked: [] };

/** What a nozzle still counts for: a weak one, or one that fires beside its place, half. */
export const FAULT_WORTH: Readonly<Record<NozzleFault, number>> = { missing: 0, weak: 0.5, crooked: 0.5 };

/** What each nozzle counts for, by its number; those that are missing here count 1. */
export function worthByNozzle(faults: ChannelFaults): Map<number, number> {
  const worth = new Map<number, number>();
  for (const fault of ['crooked', 'weak', 'missing'] as const) {
    for (const n of faults[fault]) worth.set(n, FAULT_WORTH[fault]);
  }
  return worth;
}

/** `2 missing, 1 weak`; of a channel with nothing wrong `all print`. */
export function faultsText(faults: ChannelFaults): string {
  const parts = NOZZLE_FAULTS.flatMap((fault) => {
    const count = faults[fault].length;
    return count === 0 ? [] : [`${String(count)} ${fault}`];
  });
  return parts.length === 0 ? 'all print' : parts.join(', ');
}
