import type { MachineAbout } from '../contract/machine/about.ts';
import {
  type ChannelBuild,
  type ChannelWear,
  cleaned,
  dosed,
  faultsOf,
  freshWear,
  idle,
  machineCleaned,
  withFaults,
  settledShare,
  stirred,
} from '../core/machine/nozzles.ts';
import { type ChannelFaults, NO_FAULTS } from '../core/heads/nozzleFaults.ts';
import { exerciseMl } from '../core/care/exercise.ts';
import type { CareOrder } from '../contract/machine/protocol.ts';
import type { Random } from '../core/random.ts';

const HOUR = 3_600_000;

/** What time does to the nozzles of one stand-in: only a check plot, or whoever looks at its own page, can tell. */
export class HeadWear {
  constructor(
    /** By channel; kept with all that the stand-in remembers. */
    private readonly wear: Record<string, ChannelWear>,
    private readonly about: MachineAbout | undefined,
    private readonly random: Random,
    /** What it is like when it is first switched on: hours that its channels have been idle for, nozzles that are not well. */
    private readonly first: {
      readonly idleH?: Readonly<Record<string, number>> | undefined;
      readonly faults?: Readonly<Record<string, ChannelFaults>> | undefined;
    } = {},
  ) {}

  /**
   * @param firedMl what each channel has fired since the last time
   * @returns whether it is switched on for the first time: its state says more than before
   */
  pass(nowMs: number, firedMl: Readonly<Record<string, number>>): boolean {
    const known = Object.keys(this.wear).length;
    for (const { id, idleLimitH } of this.about?.channels ?? []) {
      const before = this.wear[id] ?? this.firstWear(id, nowMs);
      const build = this.build(id, idleLimitH);
      const ml = firedMl[id] ?? 0;
      // What is exercised just now has not stood idle until now.
      const after = ml > 0 ? dosed(before, build, ml, nowMs) : before;
      this.wear[id] = after.firedMs === nowMs ? after : idle(after, build, nowMs, this.random);
    }
    return Object.keys(this.wear).length > known;
  }

  private firstWear(id: string, nowMs: number): ChannelWear {
    const wear = freshWear(nowMs - (this.first.idleH?.[id] ?? 0) * HOUR, this.random);
    const faults = this.first.faults?.[id];
    return faults ? withFaults(wear, faults) : wear;
  }

  /** Share of a channel's ink that its nozzles still fire: a weak one half, a crooked one all of it. */
  openShare(channel: string): number {
    const heads = this.about?.channels.find(({ id }) => id === channel)?.heads ?? 1;
    const nozzles = (this.about?.machine.nozzlesPerChannel ?? 1) * heads;
    const { missing, weak } = this.faults(channel);
    return 1 - (missing.length + weak.length / 2) / nozzles;
  }

  /** What is wrong with the nozzles of a channel: what its check plot shows. */
  faults(channel: string): ChannelFaults {
    const wear = this.wear[channel];
    return wear ? faultsOf(wear) : NO_FAULTS;
  }

  /** When each channel was last exercised, to the minute: what a device knows of itself. */
  firedMs(): Record<string, number> {
    return Object.fromEntries(Object.entries(this.wear).map(([id, { firedMs }]) => [id, firedMs - (firedMs % 60_000)]));
  }

  /** What care does to the nozzles, when it is done. */
  cared({ kind, clean }: CareOrder, nowMs: number): void {
    for (const { id, idleLimitH } of this.about?.channels ?? []) {
      const before = this.wear[id];
      if (!before) continue;
      if (kind === 'stir') this.wear[id] = stirred(before, nowMs);
      else if (clean?.channelIds.includes(id) === true) {
        this.wear[id] = machineCleaned(before, this.build(id, idleLimitH), clean.strength, nowMs, this.random);
      }
    }
  }

  clean(nowMs: number): void {
    for (const [id, before] of Object.entries(this.wear)) this.wear[id] = cleaned(before, nowMs);
  }

  truth(nowMs: number): Record<string, { readonly clogged: number; readonly settled: number }> {
    return Object.fromEntries(
      (this.about?.channels ?? []).flatMap(({ id, idleLimitH }) => {
        const wear = this.wear[id];
        if (!wear) return [];
        return [[id, { clogged: wear.clogged.length, settled: settledShare(wear, this.build(id, idleLimitH), nowMs) }]];
      }),
    );
  }

  private build(id: string, idleLimitH: number): ChannelBuild {
    const nozzles = this.about?.machine.nozzlesPerChannel ?? 1;
    const heads = this.about?.channels.find((channel) => channel.id === id)?.heads ?? 1;
    const dropPl = Math.max(0, ...(this.about?.modes ?? []).map((mode) => mode.dropPl));
    return {
      nozzles: nozzles * heads,
      idleLimitMs: idleLimitH * HOUR,
      settles: id === 'white',
      exerciseMl: exerciseMl({ heads, nozzles, dropPl }),
    };
  }
}
