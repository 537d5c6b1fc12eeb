import { normalQuantile } from '../distributions.ts';
import { seededRandom } from '../random.ts';
import { type SeriesValue, shopChanges } from './shopChanges.ts';

const DAY = 86_400_000;
const NOW = 100 * DAY;
const asked = { nowMs: NOW, days: 90, latelyMs: NOW - 60 * DAY };

/** A shop of three printers with four kinds of work each; from a day on one kind takes longer. */
function shop(
  seed: number,
  grown: { readonly series: string; readonly fromDay: number; readonly by: number } | null,
): SeriesValue[] {
  const random = seededRandom(seed);
  const values: SeriesValue[] = [];
  for (let day = 0; day < 100; day += 1) {
    for (const printer of ['heron', 'wren', 'gannet']) {
      for (const work of ['a', 'b', 'c', 'd']) {
        if (random() < 0.4) continue;
        const series = `${printer} ${work}`;
        const bias = printer === 'heron' ? 0.1 : -0.05;
        const more = grown?.series === series && day >= grown.fromDay ? Math.log(1 + grown.by) : 0;
        const chance = 0.04 * normalQuantile(Math.max(1e-9, random()));
        values.push({ series, above: printer, atMs: day * DAY + values.length, ratio: Math.exp(bias + chance + more) });
      }
    }
  }
  return values;
}

test('work that takes an eighth longer is found, where it began and by how much; other work is not blamed', () => {
  let found = 0;
  let others = 0;
  const shares: number[] = [];
  const offDays: number[] = [];
  for (let seed = 0; seed < 25; seed += 1) {
    const { changes } = shopChanges(shop(seed, { series: 'wren b', fromDay: 70, by: 0.125 }), asked);
    const own = changes.find(({ series }) => series === 'wren b');
    others += changes.filter(({ series }) => series !== 'wren b').length;
    if (!own) continue;
    found += 1;
    offDays.push(Math.abs(own.sinceMs / DAY - 70));
    // What made the alarm go is a little more than the rule: the mean over shops tells.
    shares.push(own.share);
    expect(own.seenMs).toBeGreaterThanOrEqual(own.sinceMs);
  }
  expect(found).toBeGreaterThanOrEqual(22);
  expect(offDays.reduce((sum, each) => sum + each, 0) / offDays.length).toBeLessThan(4);
  const mean = shares.reduce((sum, share) => sum + share, 0) / shares.length;
  expect(mean).toBeGreaterThan(0.1);
  expect(mean).toBeLessThan(0.17);
  // One false alarm in ninety days is taken.
  expect(others / 25).toBeLessThan(1.2);
});

test('a shop in which nothing changes has about one false alarm in the days that were said, and none for a bias of long standing', () => {
  let alarms = 0;
  const shops = 40;
  for (let seed = 100; seed < 100 + shops; seed += 1) alarms += shopChanges(shop(seed, null), asked).changes.length;
  expect(alarms / shops).toBeLessThan(1.2);
  expect(shopChanges([], asked)).toEqual({ changes: [], values: 50 });
});

test('what began long ago is no news', () => {
  const values = shop(3, { series: 'heron a', fromDay: 20, by: 0.3 });
  expect(shopChanges(values, { ...asked, latelyMs: 0 }).changes.map(({ series }) => series)).toContain('heron a');
  expect(shopChanges(values, asked).changes.map(({ series }) => series)).not.toContain('heron a');
});
