import type { FaultsByChannel } from '../../core/heads/printerHeads.ts';

const none: readonly number[] = [];

/** Nozzles that are not well when the demo opens, by printer and channel: found by this morning's checks, and so in the stand-ins. */
export const HEAD_FAULTS: Readonly<Record<string, FaultsByChannel>> = {
  // 10 and 266 print the same lines: enough is left for Production, not for Fine.
  heron: {
    cyan: { missing: [10, 431], weak: [266], crooked: none },
    'light-magenta': { missing: none, weak: none, crooked: [77] },
    white: { missing: [1040], weak: none, crooked: none },
  },
  magpie: {
    white: { missing: [33, 512], weak: [340], crooked: none },
    black: { missing: [121], weak: none, crooked: none },
  },
  bittern: { 'light-black': { missing: none, weak: [604], crooked: none } },
  // Single columns of an array that are missing, apart from one another: mild banding.
  gannet: {
    black: { missing: [20_113], weak: [8_804, 30_217], crooked: none },
    cyan: { missing: none, weak: [41_002], crooked: [12_550] },
  },
};
