import { checkPlot } from './checkPlot.ts';
import { NO_FAULTS } from './nozzleFaults.ts';
import {
  type HeadsConfig,
  afterCheck,
  channelsThatShow,
  headOf,
  newClogs,
  plotPrinter,
  unfitFor,
  unfitModes,
} from './printerHeads.ts';

const PLAIN = { classShare: 0.5, mostColumns: 2, mostBadShare: 0.005 };

const HERON: HeadsConfig = {
  head: 'carriage',
  printableWidthMm: 1615,
  channels: [
    { id: 'cyan', name: 'Cyan', heads: 1, colour: '#1391C7' },
    { id: 'yellow', name: 'Yellow', heads: 1, colour: '#E8C400' },
    { id: 'white', name: 'White', heads: 2, colour: '#F4F1EA' },
  ],
  modes: [
    { id: 'production', name: 'Production', dpiX: 720, dpiY: 720, passes: 6, ...PLAIN },
    { id: 'fine', name: 'Fine', dpiX: 720, dpiY: 1440, passes: 12, ...PLAIN },
  ],
  machine: { nozzlesPerChannel: 768, nozzlesPerInch: 360, bars: 1 },
  care: { channelShare: 0.95 },
};

test('two cyan nozzles that lie together are fine for Production and not for Fine', () => {
  // Classes of Fine, 12 passes and 4 interlaces, hold three nozzles: 10, 266, 522.
  const unfit = unfitModes(
    { ...HERON, modes: HERON.modes.map((mode) => ({ ...mode, classShare: mode.id === 'fine' ? 0.9 : 0.3 })) },
    {
      cyan: { missing: [10, 266], weak: [], crooked: [] },
    },
  );
  expect(unfit).toEqual({ fine: { cyan: '2 missing; of the 3 nozzles for one line 1 are left, 2.7 needed' } });
  expect(unfitFor(unfit, { modeId: 'fine', inkMl: { cyan: 3 } })).toHaveLength(1);
  // A channel that a run does not fire is no obstacle.
  expect(unfitFor(unfit, { modeId: 'fine', inkMl: { yellow: 3, cyan: 0 } })).toEqual([]);
  expect(unfitFor(unfit, { modeId: 'production', inkMl: { cyan: 3 } })).toEqual([]);
});

test('white shows on dark and clear media only, the others on light and clear', () => {
  const on = (colour: string, clear = false): string[] => channelsThatShow(HERON.channels, { colour, clear });
  expect(on('#FFFFFF')).toEqual(['cyan', 'yellow']);
  expect(on('#22201E')).toEqual(['white']);
  expect(on('#EAF1F2', true)).toEqual(['cyan', 'yellow', 'white']);
  // A block keeps its marks whichever others are drawn with it, so that a plot of white alone is not taken for one of cyan.
  const whole = checkPlot(plotPrinter('heron', HERON)).blocks;
  const alone = checkPlot(plotPrinter('heron', HERON, on('#22201E'))).blocks;
  const ids = (blocks: typeof whole): number[] => blocks.flatMap(({ marks }) => marks.map(({ id }) => id));
  expect(alone.map(({ channelId }) => channelId)).toEqual(['white', 'white']);
  expect(ids(alone)).toEqual(ids(whole.filter(({ channelId }) => channelId === 'white')));
});

test('nozzles belong to heads in turn, those of an array to bars', () => {
  expect([0, 767, 768].map((n) => headOf(HERON, n))).toEqual([0, 0, 1]);
  const array = {
    ...HERON,
    head: 'page-wide' as const,
    machine: { nozzlesPerChannel: 48_000, nozzlesPerInch: 1200, bars: 6 },
  };
  expect([0, 7999, 8000, 47_999].map((n) => headOf(array, n))).toEqual([0, 0, 1, 5]);
});

test('what a check does not judge stays as it was known; clogs are counted once', () => {
  const before = { missing: [1, 5], weak: [7], crooked: [9] };
  const now = afterCheck(before, { missing: [2, 3], weak: [5], crooked: [], unjudged: [3, 7, 9] });
  expect(now).toEqual({ missing: [2], weak: [5, 7], crooked: [9] });
  expect(newClogs(before, now)).toBe(1);
  expect(newClogs(undefined, before)).toBe(3);
  expect(newClogs(before, NO_FAULTS)).toBe(0);
});
