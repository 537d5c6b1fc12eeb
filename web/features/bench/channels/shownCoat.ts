import type { ChannelDots, CoatView, RunChannels } from '../../../../contract/api/colour/channels.ts';

/** A coat as it is looked at, rendered or not yet: then no dots are counted, and its tiles are ink before screening. */
export interface ShownCoat extends Omit<CoatView, 'channels'> {
  readonly isScreened: boolean;
  readonly channels: readonly (Pick<ChannelDots, 'id' | 'name' | 'colour'> & {
    readonly counted: Pick<ChannelDots, 'ml' | 'costMinor' | 'coverage'> | undefined;
  })[];
}

/** The coat of a run; undefined: it has none. */
export function shownCoat({ coats: [coat], owed }: RunChannels): ShownCoat | undefined {
  if (coat) return { ...coat, isScreened: true, channels: coat.channels.map((each) => ({ ...each, counted: each })) };
  if (!owed) return undefined;
  const channels = owed.coat.channels.map((each) => ({ ...each, counted: undefined }));
  return { ...owed.coat, isScreened: false, channels };
}
