import { type ClogRisk, clogRisk } from './clogRisk.ts';

const HOUR = 3_600_000;

interface Channel {
  readonly id: string;
  readonly name: string;
  readonly idleLimitH: number;
}

export interface IdleChannel<C extends Channel = Channel> {
  readonly channel: C;
  readonly idleMs: number;
  readonly risk: ClogRisk;
}

/** How long each channel has not been fired, as far as the device says. */
export function idleChannels<C extends Channel>(
  channels: readonly C[],
  firedMs: Readonly<Record<string, number>>,
  nowMs: number,
): IdleChannel<C>[] {
  return channels.flatMap((channel) => {
    const at = firedMs[channel.id];
    if (at === undefined) return [];
    const idleMs = Math.max(0, nowMs - at);
    return [{ channel, idleMs, risk: clogRisk(idleMs, channel.idleLimitH * HOUR) }];
  });
}

/** Channels that have stood longer than they may, in words. */
export function overdueChannels(
  channels: readonly Channel[],
  firedMs: Readonly<Record<string, number>>,
  nowMs: number,
): { readonly channelId: string; readonly text: string }[] {
  return idleChannels(channels, firedMs, nowMs)
    .filter(({ risk }) => risk === 'overdue')
    .map(({ channel: { id, name, idleLimitH }, idleMs }) => ({
      channelId: id,
      text: `${name.toLowerCase()} idle for ${longText(idleMs)} of ${longText(idleLimitH * HOUR)}`,
    }));
}

/** `6 d 2 h`, `5 d`, `14 h`. */
export function longText(ms: number): string {
  const hours = Math.floor(ms / HOUR);
  const days = Math.floor(hours / 24);
  const rest = hours % 24;
  if (days === 0) return `${String(hours)} h`;
  return rest === 0 ? `${String(days)} d` : `${String(days)} d ${String(rest)} h`;
}
