import { type ClogRisk, clogRisk } from '../../../core/machine/clogRisk.ts';
import type { Printer } from '../../api/data.ts';

const HOUR = 3_600_000;

export interface IdleChannel {
  readonly channel: Printer['config']['channels'][number];
  readonly idleMs: number;
  readonly risk: ClogRisk;
}

/** How long each channel has not been fired, as far as the device says. */
export function idleChannels({ config, firedMs }: Printer, nowMs: number): IdleChannel[] {
  return config.channels.flatMap((channel) => {
    const at = firedMs[channel.id];
    if (at === undefined) return [];
    const idleMs = Math.max(0, nowMs - at);
    return [{ channel, idleMs, risk: clogRisk(idleMs, channel.idleLimitH * HOUR) }];
  });
}

/** `6 d 2 h`, `5 d`, `14 h`. */
export function longText(ms: number): string {
  const hours = Math.floor(ms / HOUR);
  const days = Math.floor(hours / 24);
  const rest = hours % 24;
  if (days === 0) return `${String(hours)} h`;
  return rest === 0 ? `${String(days)} d` : `${String(days)} d ${String(rest)} h`;
}
