import fc from 'fast-check';
import { seededRandom } from '../random.ts';
import type { FloorSnapshot, PlanRun } from '../schedule/plan.ts';
import { planFloor } from '../schedule/planFloor.ts';
import { plannedWork } from '../schedule/planInput.ts';
import { Attendance } from '../schedule/shopHours.ts';
import { onRack, plannedPrinter, sourceWith } from '../testing/plannedPrinter.ts';
import { type SpoolQuestion, proposeSpools, spoolsTogether } from './proposeSpools.ts';

const HOUR = 3_600_000;
const limits = () => ({ random: seededRandom(1), maxSteps: 2000, shouldStop: () => false });

const queued = (id: string, needMm: number, more: Partial<PlanRun> = {}): PlanRun => ({
  ...plannedWork({
    id,
    stockId: 'a',
    modeId: 'm',
    estimateMs: HOUR,
    needMm,
    outMm: needMm,
    byHand: false,
    unattended: true,
  }),
  ...{ state: 'queued', leastWidthMm: 1600 },
  ...more,
});

function question(runs: readonly PlanRun[], rack: readonly number[], inMm: number): SpoolQuestion {
  const printer = plannedPrinter('heron', { sources: [sourceWith({ spoolId: 'in', leftMm: inMm })] });
  const floor: FloorSnapshot = {
    printers: [{ printer, runs }],
    rack: rack.map((mm, i) => onRack(`r${String(i)}`, 'a', mm)),
    attendance: Attendance.always(),
    nowMs: 0,
  };
  const spool = { stockId: 'a', lot: '', widthMm: 1600, isUnopened: false, minorPerMm: 1 };
  return {
    floor,
    spools: [
      { ...spool, id: 'in', leftMm: inMm, printerId: 'heron' },
      ...rack.map((leftMm, i) => ({
        ...spool,
        id: `r${String(i)}`,
        leftMm,
        printerId: null,
        isUnopened: leftMm >= 50_000,
      })),
    ],
    stocks: new Map([['a', { usableMm: 3000, partDiscount: 0.15, leaderMm: 0 }]]),
    loadMinor: () => 500,
    notOn: new Map(),
    oneLotFor: new Map(),
  };
}

/** The floor once the proposal is taken. */
function taken(asked: SpoolQuestion): FloorSnapshot {
  const { stocks, orders } = proposeSpools(asked, limits());
  const meant = new Map(
    stocks.flatMap(({ proposed }) => proposed.lines.flatMap((line) => line.runIds.map((id) => [id, line.spoolId]))),
  );
  const printers = asked.floor.printers.map(({ printer, runs }) => {
    const order = orders.find(({ printerId }) => printerId === printer.id)?.runIds ?? runs.map(({ id }) => id);
    const sorted = [...runs].sort((a, b) => order.indexOf(a.id) - order.indexOf(b.id));
    return { printer, runs: sorted.map((run) => ({ ...run, meantSpoolId: meant.get(run.id) ?? null })) };
  });
  return { ...asked.floor, printers };
}

test('beside today: what the plan takes, and what would use the part rolls up', () => {
  const runs = [9100, 8300, 7400, 6200, 5900, 5100].map((mm, i) => queued(`R${String(i + 1)}`, mm));
  const asked = question(runs, [16_500, 11_300, 50_000], 14_200);
  const [stock] = proposeSpools(asked, limits()).stocks;
  expect(stock?.isExact).toBe(true);
  expect(stock?.proposed).toMatchObject({ stubMm: 0, opened: 0, without: [] });
  expect(stock?.today.stubMm).toBeGreaterThan(0);
  expect(stock?.proposed.lossMinor).toBeLessThan(stock?.today.lossMinor ?? 0);
});

test('once it is taken, the plan prints each run from its spool, and nothing better is left to propose', () => {
  const lengths = fc.array(fc.integer({ min: 3000, max: 20_000 }), { minLength: 1, maxLength: 3 });
  const needs = fc.array(fc.integer({ min: 800, max: 9000 }), { minLength: 1, maxLength: 6 });
  fc.assert(
    fc.property(lengths, needs, fc.integer({ min: 0, max: 15_000 }), (rack, mm, inMm) => {
      const asked = question(
        mm.map((each, i) => queued(`R${String(i)}`, each)),
        [...rack, 50_000],
        inMm,
      );
      const first = proposeSpools(asked, limits());
      const floor = taken(asked);
      const fed = planFloor(floor)
        .lines.get('heron')
        ?.events.flatMap((event) => (event.kind === 'run' ? [[event.id, event.fed?.spoolId]] : []));
      const meant = first.stocks.flatMap(({ proposed }) =>
        proposed.lines.flatMap((line) => line.runIds.map((id) => [id, line.spoolId])),
      );
      expect(new Map(fed as [string, string][])).toEqual(new Map(meant as [string, string][]));
      const again = proposeSpools({ ...asked, floor }, limits());
      for (const { today, proposed } of again.stocks)
        expect(proposed.lossMinor).toBeGreaterThanOrEqual(today.lossMinor - 1e-6);
    }),
    { numRuns: 60 },
  );
});

test('a date that would be missed keeps its line as it is', () => {
  const due = [{ dueMs: 2.1 * HOUR, latePerHMinor: 1000 }];
  // Together on their spool, the two long ones would go before the one that is due.
  const runs = [queued('A', 7000), queued('B', 3000, { dues: due }), queued('C', 7200)];
  const asked = question(runs, [14_200], 3000);
  const { orders, lateProposedMinor, lateTodayMinor } = proposeSpools(asked, limits());
  expect(lateProposedMinor).toBeLessThanOrEqual(lateTodayMinor);
  for (const { runIds } of orders) expect(runIds.indexOf('B')).toBeLessThan(2);
});

test('runs of a spool follow each other; what is loaded first, what has its time stays, a pair stays together', () => {
  const runs = [
    queued('A', 1, { fixedStartMs: 5 }),
    queued('B', 1),
    queued('C', 1),
    queued('D', 1, { together: 'p' }),
    queued('E', 1, { together: 'p', needMm: 0 }),
    queued('F', 1),
  ];
  const meant = new Map('ABCDF'.split('').map((id) => [id, 'ABF'.includes(id) ? 'one' : 'two']));
  const order = (loaded: string): string =>
    spoolsTogether(runs, meant, new Set([loaded]))
      .map(({ id }) => id)
      .join('');
  expect(order('one')).toBe('ABFCDE');
  expect(order('two')).toBe('ACDEBF');
});

test('runs of an order stay on one lot, and on the one that it was begun on', () => {
  const runs = ['a', 'b'].map((id) => queued(id, 9000));
  const asked = question(runs, [9500, 9500, 20_000], 100);
  const lots = ['x', 'y', 'z', 'x'];
  const spools = asked.spools.map((spool, i) => ({ ...spool, lot: lots[i] ?? '' }));
  const lotsOf = (lot: string | null): (string | undefined)[] => {
    const oneLotFor = new Map(runs.map(({ id }) => [id, { order: 'o', lot }]));
    const [stock] = proposeSpools({ ...asked, spools, oneLotFor }, limits()).stocks;
    expect(stock?.proposed.without).toEqual(lot === 'y' ? [expect.any(String)] : []);
    return (stock?.proposed.lines ?? []).map(({ spoolId }) => spools.find(({ id }) => id === spoolId)?.lot);
  };
  // Only the long one takes both; two short ones of two lots would leave less.
  expect(lotsOf(null)).toEqual(['x']);
  expect(lotsOf('x')).toEqual(['x']);
  // One fits on what there is of that lot, the other waits for more of it.
  expect(lotsOf('y')).toEqual(['y']);
  expect(proposeSpools({ ...asked, spools }, limits()).stocks[0]?.proposed.lines).toHaveLength(2);
});
