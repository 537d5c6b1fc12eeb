import type { MachineAbout } from '../contract/machine/about.ts';
import {
  type ChannelBuild,
  type ChannelWear,
  cleaned,
  fired,
  freshWear,
  idle,
  settledShare,
} from '../core/machine/nozzles.ts';
import type { Random } from '../core/random.ts';

const HOUR = 3_600_000;

/** What time does to the nozzles of one stand-in: only a check plot, or whoever looks at its own page, can tell. */
export class HeadWear {
  constructor(
    /** By channel; kept with all that the stand-in remembers. */
    private readonly wear: Record<string, ChannelWear>,
    private readonly about: MachineAbout | undefined,
    private readonly random: Random,
    /** Hours that its channels have been idle for when it is first switched on. */
    private readonly idleH: Readonly<Record<string, number>> = {},
  ) {}

  /**
   * @param firing channels that are fired up to now
   * @returns whether it is switched on for the first time: its state says more than before
   */
  pass(nowMs: number, firing: ReadonlySet<string>): boolean {
    const known = Object.keys(this.wear).length;
    for (const { id, idleLimitH } of this.about?.channels ?? []) {
      const before = this.wear[id] ?? freshWear(nowMs - (this.idleH[id] ?? 0) * HOUR, this.random);
      this.wear[id] = firing.has(id)
        ? fired(before, nowMs)
        : idle(before, this.build(id, idleLimitH), nowMs, this.random);
    }
    return Object.keys(this.wear).length > known;
  }

  /** Share of a channel's nozzles that still fire. */
  openShare(channel: string): number {
    const nozzles = this.about?.machine.nozzlesPerChannel ?? 1;
    return 1 - (this.wear[channel]?.clogged.length ?? 0) / nozzles;
  }

  /** When each channel was last fired, to the minute: what a device knows of itself. */
  firedMs(): Record<string, number> {
    return Object.fromEntries(Object.entries(this.wear).map(([id, { firedMs }]) => [id, firedMs - (firedMs % 60_000)]));
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
    return { nozzles, idleLimitMs: idleLimitH * HOUR, settles: id === 'white' };
  }
}
