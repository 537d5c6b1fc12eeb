/** Channels that are shown, by their places in a coat. */
export type Shown = ReadonlySet<number>;

/** All of so many channels. */
export function allShown(count: number): Shown {
  return new Set(Array(count).keys());
}

/** With a channel shown that was hidden, or hidden that was shown. */
export function turned(shown: Shown, channel: number): Shown {
  const next = new Set(shown);
  if (!next.delete(channel)) next.add(channel);
  return next;
}

/** A channel alone; where it is alone already, all of them again. */
export function alone(shown: Shown, channel: number, count: number): Shown {
  return shown.size === 1 && shown.has(channel) ? allShown(count) : new Set([channel]);
}
