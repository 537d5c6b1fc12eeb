import { RUN_STATES_ON_PRINTER } from './run.ts';
import { isStopped } from './stopped.ts';

/** Something at a printer that stands until a person has seen to it: told wherever that person looks. */
export interface Alert {
  /** The same for as long as it is the same trouble. */
  readonly key: string;
  readonly printerId: string;
  readonly kind: 'fault' | 'stop' | 'supply';
  readonly text: string;
  /** What to do first. */
  readonly way: string;
}

interface PrinterLike {
  readonly id: string;
  readonly name: string;
  readonly state: string;
  readonly reason: string | null;
  readonly held: { readonly runId: string; readonly text: string; readonly way: string; readonly hand: boolean } | null;
  readonly config: { readonly channels: readonly { readonly id: string; readonly name: string }[] };
  readonly inkLeftMl: Readonly<Record<string, number>>;
}

interface RunLike {
  readonly id: string;
  readonly name: string;
  readonly printerId: string;
  readonly state: string;
  readonly reason: string | null;
  readonly inkMl: Readonly<Record<string, number>>;
}

const WAYS: Readonly<Record<string, string>> = {
  'media out': 'Load the next roll of the same stock, then let it go on.',
  'ink out': 'Put in a full tank, then let it go on.',
  jam: 'Take the media out of the path, then let it go on.',
  'cover open': 'Close the cover, then let it go on.',
  'head strike': 'Look at the heads before anything is printed again.',
  'basket full': 'Empty the basket, confirm it, then let it go on.',
};

/**
 * What has to be noticed now: faults and dead lines first, then printers that stand in the middle of a run or before the next
 * one, then ink that the present run will not have. A printer that nobody wants anything of may be off.
 */
export function alertsOf(printers: readonly PrinterLike[], runs: readonly RunLike[]): Alert[] {
  const alerts = printers.flatMap((printer): Alert[] => {
    const { id, name, state, reason, held } = printer;
    const own = runs.filter((run) => run.printerId === id);
    const present = own.find(({ state: s }) => (RUN_STATES_ON_PRINTER as readonly string[]).includes(s));
    const alert = (kind: Alert['kind'], what: string, text: string, way: string): Alert => ({
      ...{ key: `${id} ${kind} ${what}`, printerId: id, kind, text, way },
    });
    if (state === 'off') {
      if (!present && !own.some((run) => run.state === 'queued')) return [];
      return [alert('fault', 'off', `${name} does not answer`, 'Check that it is switched on and connected.')];
    }
    if (state === 'faulted') {
      const why = reason ?? 'a fault';
      return [alert('fault', why, `${name}: ${why}`, WAYS[why] ?? 'Clear the fault at the printer.')];
    }
    if (present?.state === 'paused') {
      const why = present.reason ?? reason ?? '';
      if (!isStopped('waiting', why) && why !== 'basket full') return [];
      const way = WAYS[why] ?? 'See to it at the printer, then let it go on.';
      return [alert('stop', `${why} ${present.id}`, `${name} stands in ${present.name}: ${why}`, way)];
    }
    if (present)
      return dry(printer, present).map(({ what, text }) => alert('supply', what, text, 'Have a full tank at hand.'));
    if (held?.hand === true) {
      const named = held.text.includes(name) ? held.text : `${name}: ${held.text}`;
      return [alert('stop', held.runId, named, held.way)];
    }
    return [];
  });
  const rank = { fault: 0, stop: 1, supply: 2 };
  return alerts.sort((a, b) => rank[a.kind] - rank[b.kind]);
}

/** Channels that are empty while a run that needs them is printed. */
function dry({ name, config, inkLeftMl }: PrinterLike, run: RunLike): { what: string; text: string }[] {
  return config.channels.flatMap((channel) => {
    const left = inkLeftMl[channel.id];
    if (left === undefined || left > 0 || (run.inkMl[channel.id] ?? 0) <= 0) return [];
    return [{ what: `${channel.id} ${run.id}`, text: `${channel.name} of ${name} is empty while ${run.name} prints` }];
  });
}
