/** @jest-environment jsdom */
import { cleanup, fireEvent, renderHook } from '@testing-library/react';
import { benchPiece, benchRun, BENCH_SETTINGS } from '../../../testing/benchRun.ts';
import type { Layout, Place } from './layoutState.ts';
import type { Bench } from './useBench.ts';
import { usePieceDrag } from './usePieceDrag.ts';

afterEach(cleanup);

/** Half a pixel a millimetre. */
const SCALE = 0.5;
const RUN = benchRun([benchPiece('a', 100, 200), benchPiece('b', 100, 200), benchPiece('c', 100, 200)]);
const LAYOUT: Layout = {
  settings: BENCH_SETTINGS,
  places: new Map<string, Place>([
    ['a', { xMm: 100, yMm: 100, angleDeg: 0 }],
    ['b', { xMm: 500, yMm: 1000, angleDeg: 0 }],
    ['c', { xMm: 500, yMm: 2000, angleDeg: 0, locked: true }],
  ]),
};

type Shown = ReadonlyMap<string, Place>;

function dragging({ editable = true, running = false, chosen = [] as readonly string[] } = {}) {
  const previews: Shown[] = [];
  const settled: { readonly from: Layout; readonly places: Shown }[] = [];
  const onSelect = jest.fn();
  const bench = {
    layout: LAYOUT,
    editable,
    nest: { running },
    usable: { widthMm: 980, fromMm: 10 },
    preview: (places: Shown) => previews.push(places),
    settle: (from: Layout, places: Shown) => settled.push({ from, places }),
  } as unknown as Bench;
  const { result, unmount } = renderHook(() => usePieceDrag(RUN, bench, SCALE, new Set(chosen), onSelect));
  const press = (key: string, event: Partial<React.PointerEvent> = {}): void => {
    const down = { clientX: 0, clientY: 0, shiftKey: false, preventDefault: jest.fn(), stopPropagation: jest.fn() };
    result.current(key, { ...down, ...event } as unknown as React.PointerEvent);
  };
  return { press, previews, settled, onSelect, unmount };
}

/** With Alt nothing snaps: the figures are those of the pointer alone. */
const at = (clientX: number, clientY: number) => ({ clientX, clientY, altKey: true });

test('on the screen the feed runs to the right, and up is across the media', () => {
  const { press, previews, settled } = dragging();
  press('a');
  fireEvent(window, new MouseEvent('pointermove', at(40, -10)));
  expect(previews.at(-1)?.get('a')).toEqual({ xMm: 120, yMm: 180, angleDeg: 0 });
  fireEvent(window, new MouseEvent('pointerup', at(50, -10)));
  expect(settled).toHaveLength(1);
  // One step to undo for the whole drag, back to where it began.
  expect(settled[0]?.from).toBe(LAYOUT);
  expect(settled[0]?.places.get('a')).toEqual({ xMm: 120, yMm: 200, angleDeg: 0 });
  expect(settled[0]?.places.get('b')).toEqual(LAYOUT.places.get('b'));
});

test('a click that trembles by less than 3 px moves nothing', () => {
  const { press, previews, settled, onSelect } = dragging();
  press('a');
  fireEvent(window, new MouseEvent('pointermove', at(2, 1)));
  fireEvent(window, new MouseEvent('pointerup', at(2, 1)));
  expect(onSelect).toHaveBeenCalledWith(new Set(['a']));
  expect([previews, settled]).toEqual([[], []]);
});

test('Escape puts everything back, and letting go afterwards moves nothing', () => {
  const { press, previews, settled } = dragging();
  press('a');
  fireEvent(window, new MouseEvent('pointermove', at(40, 0)));
  fireEvent.keyDown(window, { key: 'Escape' });
  expect(previews.at(-1)).toBe(LAYOUT.places);
  fireEvent(window, new MouseEvent('pointerup', at(60, 0)));
  expect(settled).toEqual([]);
});

test('all that is chosen moves together, but what is locked stays', () => {
  const { press, settled } = dragging({ chosen: ['a', 'b', 'c'] });
  press('a');
  fireEvent(window, new MouseEvent('pointermove', at(20, 0)));
  fireEvent(window, new MouseEvent('pointerup', at(20, 0)));
  const places = settled[0]?.places;
  expect([places?.get('a')?.yMm, places?.get('b')?.yMm, places?.get('c')?.yMm]).toEqual([140, 1040, 2000]);
});

test('a piece that is not chosen is taken alone; with Shift it joins the others', () => {
  const alone = dragging({ chosen: ['b'] });
  alone.press('a');
  expect(alone.onSelect).toHaveBeenCalledWith(new Set(['a']));
  cleanup();
  const joined = dragging({ chosen: ['b'] });
  joined.press('a', { shiftKey: true });
  expect(joined.onSelect).toHaveBeenCalledWith(new Set(['b', 'a']));
});

test('near a neighbour a piece jumps to the gap from it, unless Alt is held', () => {
  const { press, settled } = dragging();
  press('a');
  // To 6 mm below the edge of b's row: 495 − 100 = 395 is the gap of 5 mm beside b.
  const near = { clientX: 450, clientY: -((392 - 100) * SCALE) };
  fireEvent(window, new MouseEvent('pointermove', near));
  fireEvent(window, new MouseEvent('pointerup', near));
  expect(settled[0]?.places.get('a')?.xMm).toBeCloseTo(395, 6);
});

test.each([
  ['a run that is not a draft', { editable: false }],
  ['a nest that is looking', { running: true }],
])('%s is not moved', (_, how) => {
  const { press, previews, settled } = dragging(how);
  press('a');
  fireEvent(window, new MouseEvent('pointermove', at(40, 0)));
  fireEvent(window, new MouseEvent('pointerup', at(40, 0)));
  expect([previews, settled]).toEqual([[], []]);
});
