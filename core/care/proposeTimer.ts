import { type ClogPace, spellClogs } from './clogs.ts';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;

/** A channel that a purge could keep healthy. */
export interface ProposedChannel {
  readonly limitH: number;
  /** Over all of its heads. */
  readonly nozzles: number;
  /** As its checks have told; left out: nothing is known yet. */
  readonly pace?: ClogPace;
  readonly exercisedMs: number;
  /** Instants to come at which planned work or a timer that is there exercises it. */
  readonly plannedMs: readonly number[];
}

/** How often a purge would be printed, and what clogs with it and without it over the horizon. */
export interface TimerProposal {
  readonly everyDays: number;
  readonly times: number;
  readonly clogs: number;
  readonly clogsBefore: number;
}

/** So many more nozzles than with a purge every day are not left to clog. */
const FEW_CLOGS = 0.5;
const RHYTHMS_DAYS = [7, 5, 4, 3, 2, 1];

/**
 * The rarest rhythm of a purge with which hardly more nozzles are expected to clog than with one every day, beside what is planned
 * already. What clogs before the first one can be printed is in all figures alike.
 * @param channels that the purge exercises
 * @param firstMs when the first would be printed
 * @returns undefined: what is planned is as good
 */
export function proposeTimer(
  channels: readonly ProposedChannel[],
  { nowMs, firstMs, days }: { readonly nowMs: number; readonly firstMs: number; readonly days: number },
): TimerProposal | undefined {
  const endMs = nowMs + days * DAY;
  const every = (everyDays: number): TimerProposal => {
    const purges: number[] = [];
    for (let at = firstMs; at < endMs; at += everyDays * DAY) purges.push(at);
    return { everyDays, times: purges.length, clogs: clogsWith(purges), clogsBefore };
  };
  const clogsWith = (purges: readonly number[]): number =>
    channels.reduce((sum, channel) => sum + clogsOf(channel, purges, nowMs, endMs), 0);
  const clogsBefore = clogsWith([]);
  const best = every(1);
  if (clogsBefore <= best.clogs + FEW_CLOGS) return undefined;
  return RHYTHMS_DAYS.map(every).find(({ clogs }) => clogs <= best.clogs + FEW_CLOGS);
}

/**
 * Clogs to be expected of one channel from now on: those of each idle spell between the instants that exercise it. What has clogged
 * in the present spell already, no purge prevents.
 */
function clogsOf(channel: ProposedChannel, purges: readonly number[], nowMs: number, endMs: number): number {
  const { exercisedMs, plannedMs, limitH, nozzles, pace } = channel;
  const instants = [...plannedMs, ...purges]
    .filter((ms) => ms > Math.max(exercisedMs, nowMs) && ms < endMs)
    .sort((a, b) => a - b);
  let from = exercisedMs;
  let clogs = -spellClogs(Math.max(0, nowMs - from) / HOUR, limitH, nozzles, pace);
  for (const at of [...instants, endMs]) {
    clogs += spellClogs((at - from) / HOUR, limitH, nozzles, pace);
    from = at;
  }
  return clogs;
}
