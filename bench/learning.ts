/*
 * How often finishes come within the ranges that were told of them. Made-up shops with hidden ways of their printers in each mode on each
 * stock; their logs have seen some runs. Every finish of a line counts, and those behind several runs by themselves, too.
 * Usage: npm run bench:learning [-- --shops 500]
 */
import { parseArgs } from 'node:util';
import { type ToldFinish, type TruthLaw, toldFinishes } from '../core/testing/learningShop.ts';
import { seededRandom } from '../core/random.ts';

const { values } = parseArgs({ options: { shops: { type: 'string', default: '500' } } });
const LAWS: readonly (readonly [string, TruthLaw])[] = [
  ['as thought beforehand', { between: 0.5, mostSeen: 300, queued: 8 }],
  ['young shops', { between: 0.5, mostSeen: 20, queued: 8 }],
  ['twice as far apart as thought', { between: 1, mostSeen: 300, queued: 8 }],
];

function share(told: readonly ToldFinish[]): string {
  const inside = told.filter(({ endMs, lowMs, highMs }) => endMs >= lowMs && endMs <= highMs).length;
  return `${((100 * inside) / Math.max(1, told.length)).toFixed(1)} % of ${String(told.length)}`;
}

for (const [name, law] of LAWS) {
  const told = Array.from({ length: Number(values.shops) }, (_, i) =>
    toldFinishes(seededRandom(i + 1), i + 1, law),
  ).flat();
  const first = told.filter(({ behind }) => behind === 0);
  const last = told.filter(({ behind }) => behind >= 5);
  process.stdout.write(
    `${name.padEnd(32)} all ${share(told)}, the next ${share(first)}, behind five or more ${share(last)}\n`,
  );
}
