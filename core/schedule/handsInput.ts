import { RUN_STATES_ON_PRINTER } from '../flow/run.ts';
import { overdueChannels } from '../machine/idleChannels.ts';
import type { HandsPrinter } from './nextHands.ts';
import type { Line } from './plan.ts';

interface PrinterLike {
  readonly id: string;
  readonly name: string;
  readonly state: string;
  readonly reason: string | null;
  readonly held: HandsPrinter['held'];
  readonly spools: readonly { readonly id: string; readonly sourceId: string | null }[];
  readonly firedMs: Readonly<Record<string, number>>;
  readonly checkToRead: string | null;
  readonly config: {
    readonly sources: HandsPrinter['sources'];
    readonly channels: readonly { readonly id: string; readonly name: string; readonly idleLimitH: number }[];
    readonly takeUp: boolean;
  };
}

interface RunLike {
  readonly id: string;
  readonly name: string;
  readonly state: string;
  readonly reason: string | null;
}

/** A printer as next hands take it. Pages and server make it from the same views, so that they ask for the same hands. */
export function handsPrinter(
  { id, name, state, reason, held, spools, firedMs, checkToRead, config }: PrinterLike,
  runs: readonly RunLike[],
  line: Line,
  offered: HandsPrinter['offered'],
  nowMs: number,
): HandsPrinter {
  const { sources, channels, takeUp } = config;
  return {
    ...{ id, name, state, reason, sources, channels, held, line, offered, checkToRead },
    loaded: spools.flatMap(({ id: spoolId, sourceId }) => (sourceId === null ? [] : [{ sourceId, spoolId }])),
    takesUp: takeUp,
    present: runs.find((run) => (RUN_STATES_ON_PRINTER as readonly string[]).includes(run.state)) ?? null,
    overdue: overdueChannels(channels, firedMs, nowMs),
  };
}
