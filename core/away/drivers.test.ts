import { awayRun, awayShop } from '../testing/awayShop.ts';
import { NO_CHANCE } from '../testing/nightShop.ts';
import { plannedPrinter } from '../testing/plannedPrinter.ts';
import { awayEvents } from './awayEvents.ts';
import { planAway } from './awayWorld.ts';
import type { AwayAction } from './beforeYouGo.ts';
import { driversOf, nightsOf, wantedRuns } from './drivers.ts';
import { oddsOf } from './nights.ts';

const HOUR = 3_600_000;
const GAIN = { pieces: 0, care: 0, worthMinor: 0 };
const action = (key: string, minutes: number, change: AwayAction['change']): AwayAction => ({
  ...{ key, kind: 'hand', text: key, minutes, gain: GAIN, change },
});

/** Two runs of six hours on a printer that fails once in twenty; a third one goes before them and is worth little. */
function world() {
  const runs = [
    awayRun('early', { estimateMs: 4 * HOUR }),
    awayRun('one', { estimateMs: 3 * HOUR }),
    awayRun('two', { estimateMs: 3 * HOUR }),
  ];
  return awayShop({ toH: 10, there: [[12, 20]], printers: [{ printer: plannedPrinter('heron'), runs }] });
}
const chance = { ...NO_CHANCE, faults: { heron: { kind: 'known', rate: 0.05 } as const } };

test('what a plan wants is what it says is done, and its odds are those of all of it', () => {
  const wanted = wantedRuns(world(), planAway(world()));
  expect(wanted).toEqual(['early', 'one', 'two']);
  const { plan } = nightsOf(world(), chance, { from: 0, count: 2000, seed: 3 });
  const right = Math.exp(-0.05 * 10);
  expect(Math.abs(oddsOf(plan).chance - right)).toBeLessThan(4 * Math.sqrt((right * (1 - right)) / 2000));
});

test('of several actions those that raise the odds beyond chance are told, the fewer minutes first where they are alike', () => {
  // A supply that ends in the second run: either hand mends it.
  const runs = [awayRun('one', { estimateMs: 2 * HOUR, inkMl: { cyan: 4 } }), awayRun('two', { estimateMs: HOUR })];
  const printer = plannedPrinter('heron', { inkLeftMl: { cyan: 4.2 } });
  const inky = awayShop({ toH: 10, there: [[12, 20]], printers: [{ printer, runs }] });
  // It fires up to a fifth more than it should.
  const thirsty = { ...NO_CHANCE, ink: { heron: { mean: 0, deviation: 0.1 } } };
  const ways = [
    action('slow fill', 20, { kind: 'fill', printerId: 'heron', channelId: 'cyan', ml: 100 }),
    action('fill', 3, { kind: 'fill', printerId: 'heron', channelId: 'cyan', ml: 90 }),
    action('nothing', 1, { kind: 'empty', printerId: 'heron' }),
    action('not to be had', 0, null),
  ];
  const drivers = driversOf(inky, thirsty, ways, 5);
  expect(drivers.map(({ key }) => key)).toEqual(['fill', 'slow fill']);
  // It would run dry where it fires five of a hundred more: Φ(ln(4.2 ÷ 4) ÷ 0.1) = 0.687 is printed without.
  for (const { gain } of drivers) expect(Math.abs(gain.chance - 0.313)).toBeLessThan(4 * gain.error);
});

test('where nothing would change the odds, nothing is told', () => {
  expect(driversOf(world(), chance, [action('empty', 2, { kind: 'empty', printerId: 'heron' })], 1)).toEqual([]);
  expect(driversOf(world(), chance, [], 1)).toEqual([]);
  const empty = awayShop({ toH: 10, printers: [{ printer: plannedPrinter('heron'), runs: [] }] });
  expect(driversOf(empty, chance, [action('empty', 2, { kind: 'empty', printerId: 'heron' })], 1)).toEqual([]);
});

test('every run of a plan is told once, however it ends', () => {
  const planned = planAway(world());
  expect(awayEvents(world(), planned).map(({ id, outcome }) => [id, outcome])).toEqual([
    ['early', 'done'],
    ['one', 'done'],
    ['two', 'done'],
  ]);
});
