import type { Actor } from '../../core/events/actor.ts';

/** Who acts in tests. */
export const TESTER: Actor = { kind: 'person', id: 'tester', name: 'tester' };
