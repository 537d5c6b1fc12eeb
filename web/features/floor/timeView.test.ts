import fc from 'fast-check';
import { type Drawn, TimeView, place, stepOf } from './timeView.ts';

const HOUR = 3_600_000;

beforeEach(() => {
  jest.useFakeTimers();
});
afterEach(() => {
  jest.useRealTimers();
});

function opened(span = { backH: 1, allH: 13 }): { view: TimeView; drawn: () => Drawn | undefined } {
  let last: Drawn | undefined;
  const view = new TimeView(0, 100 * HOUR, (drawn) => (last = drawn), span);
  view.resize(1300);
  return { view, drawn: () => last };
}

test('a point and its instant are one another’s inverse, whatever was panned and zoomed', () => {
  const { view } = opened();
  expect(view.at(100)).toBe(100 * HOUR);
  expect(view.pxOf(112 * HOUR)).toBeCloseTo(1300, 9);
  const px = fc.double({ min: 0, max: 1300, noNaN: true });
  fc.assert(
    fc.property(px, px, fc.double({ min: 0.3, max: 3, noNaN: true }), (at, by, factor) => {
      view.pan(by - 650);
      view.zoom(factor, at);
      expect(view.pxOf(view.at(at))).toBeCloseTo(at, 6);
    }),
  );
});

test('what is panned follows the hand: to the right, and earlier times come into sight', () => {
  const { view } = opened();
  const under = view.at(500);
  view.pan(200);
  expect(view.pxOf(under)).toBeCloseTo(700, 9);
  expect(view.at(0)).toBe(97 * HOUR);
});

test('zooming keeps the instant under the pointer where it is, and stops at an hour and at eight days', () => {
  const { view } = opened();
  const under = view.at(400);
  for (const factor of [0.7, 0.5, 1.9, 1.3]) {
    view.zoom(factor, 400);
    expect(Math.abs(view.at(400) - under)).toBeLessThan(1);
  }
  for (let i = 0; i < 30; i += 1) view.zoom(0.5, 400);
  expect(view.span.allH).toBe(1);
  for (let i = 0; i < 30; i += 1) view.zoom(2, 400);
  expect(view.span.allH).toBe(192);
});

test('what is drawn covers what is seen after every move, and is renewed only when it does not', () => {
  const { view, drawn } = opened();
  const first = drawn();
  expect([first?.fromMs, first?.toMs, first?.pxPerH]).toEqual([86 * HOUR, 125 * HOUR, 100]);
  view.pan(-300);
  expect(drawn()).toBe(first);
  view.pan(-1200);
  const second = drawn();
  expect(second).not.toBe(first);
  fc.assert(
    fc.property(fc.integer({ min: -900, max: 900 }), fc.double({ min: 0.2, max: 4, noNaN: true }), (px, factor) => {
      view.pan(px);
      view.zoom(factor, 650);
      const now = drawn();
      expect(now?.fromMs).toBeLessThanOrEqual(view.at(0));
      expect(now?.toMs).toBeGreaterThanOrEqual(view.at(1300) - 1);
    }),
  );
});

test('time goes by under it: now stays where it was put', () => {
  const { view } = opened();
  view.tick(103 * HOUR);
  expect(view.at(100)).toBe(103 * HOUR);
});

test('labels never stand closer than they are wide, on round steps', () => {
  expect([10, 62, 100, 700, 1300].map((px) => stepOf(px) / HOUR)).toEqual([12, 1, 1, 1 / 6, 1 / 12]);
  fc.assert(
    fc.property(fc.double({ min: 6, max: 1300, noNaN: true }), (px) => {
      expect((stepOf(px) / HOUR) * px).toBeGreaterThanOrEqual(62);
    }),
  );
  expect(place(0, 2 * HOUR, 2.5 * HOUR)).toEqual({
    left: 'calc(var(--pxh) * 2.00000)',
    width: 'calc(var(--pxh) * 0.50000)',
  });
});
