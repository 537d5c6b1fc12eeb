import type { CheckReadingBody, PlotReadingView } from '../../../../contract/api/heads.ts';
import { NOZZLE_FAULTS, type NozzleFault } from '../../../../core/heads/nozzleFaults.ts';

/** What a person has said of a channel so far: the nozzles that are not well, and those of which nothing is said. */
export interface ChannelDraft {
  readonly faults: ReadonlyMap<number, NozzleFault>;
  readonly unjudged: ReadonlySet<number>;
}

/** By channel. */
export type FaultsDraft = Readonly<Record<string, ChannelDraft>>;

type Found = CheckReadingBody['found'];

/** A draft of what was found before; of channels that are not among it every nozzle prints. */
export function draftOf(channelIds: readonly string[], found: Found | null): FaultsDraft {
  return Object.fromEntries(
    channelIds.map((id) => {
      const own = found?.[id];
      const faults = new Map(NOZZLE_FAULTS.flatMap((fault) => (own?.[fault] ?? []).map((n) => [n, fault] as const)));
      return [id, { faults, unjudged: new Set(own?.unjudged) }];
    }),
  );
}

/** A draft of what pictures show. */
export function draftOfPictures({ channels }: Pick<PlotReadingView, 'channels'>): FaultsDraft {
  const found = Object.fromEntries(channels.map(({ id, ...own }) => [id, own]));
  return draftOf(
    channels.map(({ id }) => id),
    found,
  );
}

/** Missing first: of what is wrong it is the most frequent. */
const NEXT: Readonly<Record<NozzleFault, NozzleFault | null>> = { missing: 'weak', weak: 'crooked', crooked: null };

/** What a nozzle is after one more tap: missing, weak, crooked, then well again. A nozzle that is tapped is judged. */
export function tapped(draft: FaultsDraft, channelId: string, n: number): FaultsDraft {
  const own = draft[channelId];
  if (!own) return draft;
  const before = own.faults.get(n);
  const next = before === undefined ? 'missing' : NEXT[before];
  const faults = new Map(own.faults);
  if (next === null) faults.delete(n);
  else faults.set(n, next);
  const unjudged = new Set(own.unjudged);
  unjudged.delete(n);
  return { ...draft, [channelId]: { faults, unjudged } };
}

/** A draft as it is sent. */
export function foundOf(draft: FaultsDraft): Found {
  return Object.fromEntries(
    Object.entries(draft).map(([id, { faults, unjudged }]) => {
      const of = (fault: NozzleFault): number[] =>
        [...faults]
          .filter(([, is]) => is === fault)
          .map(([n]) => n)
          .sort((a, b) => a - b);
      return [id, { missing: of('missing'), weak: of('weak'), crooked: of('crooked'), unjudged: [...unjudged] }];
    }),
  );
}

/** How many of each, over all channels. */
export function draftCounts(draft: FaultsDraft): Record<NozzleFault | 'unjudged', number> {
  const counts = { missing: 0, weak: 0, crooked: 0, unjudged: 0 };
  for (const { faults, unjudged } of Object.values(draft)) {
    for (const fault of faults.values()) counts[fault] += 1;
    counts.unjudged += unjudged.size;
  }
  return counts;
}
