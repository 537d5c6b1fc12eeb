import type { AwayEvent } from '../../../core/away/awayEvents.ts';
import { type ListPage, listPage } from './listPage.ts';

const EVENT: AwayEvent = {
  ...{ id: 'r', printerId: 'heron', kind: 'run', what: 'Run 3', atMs: Date.parse('2027-03-24T18:30:00Z'), toMs: 0 },
  ...{ outcome: 'hand', why: 'Mesh <1600> has to be loaded', lacks: 'media', pieces: 4, share: 0, lateMs: 0 },
};
const PAGE: ListPage = {
  ...{ shopName: 'Tide & Wrack', zone: 'Europe/Copenhagen', printers: { heron: 'Heron' }, link: null },
  simulation: {
    ...{ fromMs: Date.parse('2027-03-24T17:00:00Z'), toMs: Date.parse('2027-03-25T06:30:00Z'), currency: 'EUR' },
    figures: { runs: 1, pieces: 4, metres: 12.34, worthMinor: 5, lateRuns: 0, careDone: 0, careLost: 0 },
    events: [EVENT],
    before: [
      {
        ...{
          key: 'load',
          kind: 'hand',
          text: 'Load ME-08',
          minutes: 12,
          change: { kind: 'empty', printerId: 'heron' },
        },
        gain: { pieces: 4, care: 1, worthMinor: 1250 },
      },
      {
        key: 'first',
        kind: 'plan',
        text: 'Print Run 3 first',
        minutes: 0,
        change: null,
        gain: { pieces: 0, care: 0, worthMinor: 0 },
      },
    ],
    odds: { nights: 2000, all: { chance: 0.846, error: 0.01 }, byRun: {}, worth: null },
  },
};

test('it is told in local time, with what each hand brings, and names can’t break it', () => {
  const html = listPage(PAGE);
  expect(html).toContain('Away plan, 2027-03-24 18:00 to 2027-03-25 07:30');
  expect(html).toContain('1 run by themselves, 4 pieces, 12.3 m, 85 % sure');
  expect(html).toContain('Load ME-08<small>+ 4 pieces, + 1 of care, + 12.50 EUR, 12 min</small>');
  expect(html).toContain(
    '<td>2027-03-24 19:30</td><td>Heron</td><td>Run 3</td><td>needs a hand: Mesh &lt;1600&gt; has to be loaded</td>',
  );
  expect(html).toContain('Tide &amp; Wrack');
  // Only what a hand can do is on the list, and nothing leads back from a shop that can't be reached.
  expect(html).not.toContain('Print Run 3 first');
  expect(html).not.toContain('<a ');
});

test('a shop that can be reached has a way back; a plan without hands says so', () => {
  const html = listPage({
    ...PAGE,
    link: 'https://shop.example/rota/away',
    simulation: { ...PAGE.simulation, before: [] },
  });
  expect(html).toContain('<a href="https://shop.example/rota/away">');
  expect(html).toContain('Nothing that a hand could do would bring more.');
});
