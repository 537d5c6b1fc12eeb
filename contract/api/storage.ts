import { Type, type Static } from 'typebox';
import { nullable } from './common.ts';

/**
 * Whether the shop can write down what happens. *low*: there is room, but not for long · *full*: below the limit, or a write has
 * failed · *locked*: another program holds the database. In the last two nothing new is taken or sent.
 */
export const STORAGE_STATES = ['fine', 'low', 'full', 'locked'] as const;

export const StorageView = Type.Object({
  state: Type.Enum([...STORAGE_STATES]),
  freeBytes: nullable(Type.Number({ description: 'on the disk of the data folder; null: not known yet' })),
  leastFreeBytes: Type.Number({ description: 'below this nothing new is taken or sent' }),
  text: nullable(Type.String({ description: 'what a person is told; null: nothing' })),
  remedy: nullable(Type.String()),
});
export type StorageView = Static<typeof StorageView>;
