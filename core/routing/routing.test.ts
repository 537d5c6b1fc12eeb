import { type FitNeeds, type FitOption, fitList } from './fitList.ts';
import { type Rule, type RoutedJob, conditionHolds, routeByRules } from './rules.ts';

const HOUR = 3_600_000;
const NEEDS: FitNeeds = {
  stockId: 'mesh',
  stockName: 'Mesh banner 1600',
  leastWidthMm: 1500,
  channels: ['cyan', 'black'],
  leastDpi: 720,
  contour: false,
  unattended: true,
  dues: [{ dueMs: 4 * HOUR, latePerHMinor: 1200 }],
  extraMinor: 0,
};
const LAID = {
  lengthMm: 2000,
  fedMm: 2060,
  wasteMinor: 100,
  mediaMinor: 900,
  inkMinor: 50,
  timeMs: HOUR,
  timeMinor: 3000,
  startMs: HOUR,
  endMs: 2 * HOUR,
  changeOverMin: 0,
  changeOverMinor: 0,
  restsOn: [],
  offcut: null,
  costMicro: 0,
  inkMl: {},
};
const OPTION: FitOption = {
  printerId: 'heron',
  printerName: 'Heron',
  modeId: 'production',
  modeDpi: 720,
  usableWidthMm: 1590,
  widestMediaMm: 1625,
  stockWidthMm: 1600,
  longestMm: 50_000,
  asks: { cutOff: 'none', edgeToEdge: false },
  laid: LAID,
  layTrouble: null,
  loadedMm: null,
  rackMm: 11_880,
  elsewhere: [],
  channels: ['cyan', 'magenta', 'yellow', 'black'],
  unfit: {},
  suits: true,
  finishing: { fullCut: false, perforate: true, contourCut: false },
  edgeToEdge: false,
  needsHand: false,
  hasQueue: true,
  state: 'idle',
  stateReason: null,
};
const option = (printerId: string, more: Partial<FitOption>): FitOption => ({
  ...OPTION,
  printerId,
  printerName: printerId,
  ...more,
});

describe('fit list', () => {
  test('ranked by the money of all terms; lateness counts by its price', () => {
    const late = option('slow', { laid: { ...LAID, timeMinor: 1000, endMs: 5 * HOUR } });
    const changed = option('far', { laid: { ...LAID, changeOverMin: 10, changeOverMinor: 633 } });
    const list = fitList(NEEDS, [changed, OPTION, late]);
    expect(list.map((fit) => fit.printerId)).toEqual(['slow', 'heron', 'far']);
    expect(list[0]).toMatchObject({
      can: true,
      lateMs: HOUR,
      terms: { wasteMinor: 100, inkMinor: 50, timeMinor: 1000, changeOverMinor: 0, lateMinor: 1200 },
      totalMinor: 2350,
      why: 'faster',
    });
    expect(list[1]).toMatchObject({ totalMinor: 3150, why: 'slower' });
    expect(list[2]).toMatchObject({ totalMinor: 3783, why: 'slower' });
    // Twice the price of an hour: the slow one is no longer the best.
    const dear = fitList({ ...NEEDS, dues: [{ dueMs: 4 * HOUR, latePerHMinor: 2400 }] }, [changed, OPTION, late]);
    expect(dear.map((fit) => fit.printerId)).toEqual(['heron', 'slow', 'far']);
    expect(dear[0]).toMatchObject({ why: 'less late' });
  });
  test('each job is late by its own date: the earliest date with the sum of all prices would be a hundred times as dear', () => {
    const dues = [
      { dueMs: 0, latePerHMinor: 100 },
      { dueMs: 90 * 60_000, latePerHMinor: 5000 },
      { dueMs: 9 * HOUR, latePerHMinor: 70_000 },
    ];
    // Done after two hours: 2 h × 1.00 + ½ h × 50.00; the third is in time.
    expect(fitList({ ...NEEDS, dues }, [OPTION])[0]).toMatchObject({ lateMs: 2 * HOUR, terms: { lateMinor: 2700 } });
  });
  test.each<[string, Partial<FitOption>, Partial<FitNeeds>, string, RegExp]>([
    ['width', { usableWidthMm: 1320 }, {}, 'Wider than x prints on it: 1,500\u00a0mm of 1,320\u00a0mm', /tile it in 2/],
    [
      'stock',
      { widestMediaMm: 914 },
      {},
      'Mesh banner 1600 is wider than x takes: 1,600\u00a0mm of 914\u00a0mm',
      /narrower/,
    ],
    ['stock', { suits: false }, {}, 'Mesh banner 1600 is not for x', /Setup/],
    ['length', { longestMm: 1500 }, {}, 'Longer than x prints in one go: 2,000\u00a0mm of 1,500\u00a0mm', /Split/],
    [
      'media',
      { rackMm: 1000, loadedMm: 2000 },
      {},
      'Too little Mesh banner 1600 for x: 2.00\u00a0m of 2.06\u00a0m on its longest spool',
      /bring in/,
    ],
    ['channel', {}, { channels: ['white'] }, 'x has no white', /elsewhere/],
    [
      'heads',
      { unfit: { cyan: { name: 'Cyan', text: '12 missing', remedy: 'a light clean takes 4 min and costs 0.84 EUR' } } },
      {},
      "Cyan of x can't print it: 12 missing",
      /light clean takes 4 min and costs 0.84 EUR/,
    ],
    [
      'sharp',
      { modeDpi: 600 },
      {},
      'Not as sharp on x: 600 dpi at best on Mesh banner 1600, 720 asked',
      /coarser mode/,
    ],
    ['finishing', {}, { contour: true }, 'x cuts no contours', /contour off/],
    ['finishing', { asks: { cutOff: 'full', edgeToEdge: false } }, {}, 'x has no cutter', /none/],
    ['edge', { asks: { cutOff: 'none', edgeToEdge: true } }, {}, 'x does not print edge to edge', /margins/],
    ['off', { state: 'off' }, {}, 'x does not answer', /Switch it on/],
    [
      'lay',
      {
        laid: null,
        layTrouble: { text: 'Longer than x takes: 2,100\u00a0mm of 1,900\u00a0mm', way: 'Make it smaller.' },
      },
      {},
      'Longer than x takes: 2,100\u00a0mm of 1,900\u00a0mm',
      /smaller/,
    ],
    ['mode', { laid: null }, {}, 'x has no print mode for Mesh banner 1600', /Setup/],
    [
      'media',
      { rackMm: null, loadedMm: null, elsewhere: ['BO-31 of Heron'] },
      {},
      'Too little Mesh banner 1600 for x: 0.00\u00a0m of 2.06\u00a0m on its longest spool',
      /Take out BO-31 of Heron/,
    ],
    ['fault', { state: 'faulted', stateReason: 'head strike' }, {}, 'x has a fault: head strike', /Repair/],
  ])('can’t for %s, with the figure and a way out', (code, more, needs, text, way) => {
    const [fit] = fitList({ ...NEEDS, ...needs }, [option('x', more)]);
    expect(fit?.can).toBe(false);
    const trouble = fit?.can === false ? fit.troubles[0] : undefined;
    expect(trouble).toMatchObject({ code, text });
    expect(trouble?.way).toMatch(way);
  });
});

describe('rules', () => {
  const job: RoutedJob = {
    stock: 'Mesh banner 1600',
    widthMm: 1501,
    lengthMm: 4000,
    pieces: 2,
    customer: 'Marram Theatre',
    queue: 'Heron banners',
    preset: '',
    name: 'Gauze flag.pdf',
    dueH: 5,
    format: 'pdf',
  };
  const rule = (id: string, when: Rule['when'], ...printerIds: string[]): Rule => ({
    id,
    name: id,
    when,
    printerIds,
    on: true,
  });
  const mesh = rule(
    'mesh',
    [
      { about: 'stock', is: 'contains', text: 'mesh' },
      { about: 'widthMm', is: 'over', figure: 1500 },
    ],
    'heron',
  );
  const plans = rule('plans', [{ about: 'stock', is: 'contains', text: 'plan' }], 'gannet', 'bittern');

  test('mesh over 1,500 wide → Heron; plans → Gannet, else Bittern', () => {
    expect(routeByRules(job, [plans, mesh], () => true)).toMatchObject({
      rule: mesh,
      printerId: 'heron',
      passedOver: [],
    });
    expect(routeByRules({ ...job, widthMm: 1500 }, [plans, mesh], () => true)).toBeUndefined();
    const plan = { ...job, stock: 'Plan bond 914' };
    expect(routeByRules(plan, [plans, mesh], () => true)?.printerId).toBe('gannet');
    expect(routeByRules(plan, [plans, mesh], (id) => id !== 'gannet')).toMatchObject({
      printerId: 'bittern',
      passedOver: ['gannet'],
    });
  });
  test('a rule that is off, or none of whose printers can, is passed by', () => {
    const all = rule('all', [], 'magpie');
    expect(routeByRules(job, [{ ...mesh, on: false }, all], () => true)?.rule.id).toBe('all');
    expect(routeByRules(job, [mesh, all], (id) => id === 'magpie')?.rule.id).toBe('all');
    expect(routeByRules(job, [mesh], () => false)).toBeUndefined();
  });
  test('texts by their letters, figures by their value, and no due date meets nothing', () => {
    expect(conditionHolds(job, { about: 'customer', is: 'is', text: ' marram THEATRE' })).toBe(true);
    expect(conditionHolds(job, { about: 'customer', is: 'is not', text: 'Marram Theatre' })).toBe(false);
    expect(conditionHolds(job, { about: 'dueH', is: 'at most', figure: 5 })).toBe(true);
    expect(conditionHolds({ ...job, dueH: null }, { about: 'dueH', is: 'at most', figure: 5 })).toBe(false);
    expect(conditionHolds({ ...job, dueH: null }, { about: 'dueH', is: 'over', figure: 5 })).toBe(false);
  });
});
