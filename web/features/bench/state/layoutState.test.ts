import fc from 'fast-check';
import { BENCH_SETTINGS as SETTINGS, benchPiece as piece, benchRun as run } from '../../../testing/benchRun.ts';
import {
  type Layout,
  type LayoutAction,
  type LayoutState,
  type Place,
  changeOf,
  laidPieces,
  layoutOf,
  layoutReducer,
  movedPlaces,
  nestOf,
  refusalText,
  turnedPlaces,
  withLock,
} from './layoutState.ts';

const start = (layout: Layout): LayoutState => ({ now: layout, past: [], future: [], version: 0 });
const at = (xMm: number, yMm: number, angleDeg = 0): Place => ({ xMm, yMm, angleDeg });
const empty: Layout = { settings: SETTINGS, places: new Map() };

const anyAction: fc.Arbitrary<LayoutAction> = fc.oneof(
  fc.integer({ min: 0, max: 500 }).map((x): LayoutAction => ({
    kind: 'arrange',
    layout: { settings: SETTINGS, places: new Map([['a', at(x, 0)]]) },
  })),
  fc.integer({ min: 0, max: 500 }).map((x): LayoutAction => ({
    kind: 'arrange',
    layout: { settings: { ...SETTINGS, gapMm: x }, places: new Map() },
  })),
  fc.constant<LayoutAction>({ kind: 'undo' }),
  fc.constant<LayoutAction>({ kind: 'redo' }),
);

test('undo leads back through every step, redo forward again, whatever was done', () => {
  fc.assert(
    fc.property(fc.array(anyAction, { maxLength: 40 }), (actions) => {
      let state = start(empty);
      for (const action of actions) state = layoutReducer(state, action);
      const end = state.now;
      const steps = state.past.length;
      for (let i = 0; i < steps; i++) state = layoutReducer(state, { kind: 'undo' });
      expect(state.now).toBe(empty);
      expect(layoutReducer(state, { kind: 'undo' })).toBe(state);
      for (let i = 0; i < steps; i++) state = layoutReducer(state, { kind: 'redo' });
      expect(state.now).toBe(end);
    }),
    { seed: 5 },
  );
});

test('a drag is one step, however many moves it took; its previews are not kept', () => {
  const from: Layout = { settings: SETTINGS, places: new Map([['a', at(0, 20)]]) };
  let state = start(from);
  for (let x = 1; x < 30; x++) state = layoutReducer(state, { kind: 'preview', places: new Map([['a', at(x, 20)]]) });
  expect([state.past.length, state.version]).toEqual([0, 0]);
  state = layoutReducer(state, { kind: 'settle', from, places: new Map([['a', at(30, 20)]]) });
  expect([state.past.length, state.version]).toEqual([1, 1]);
  expect(layoutReducer(state, { kind: 'undo' }).now).toBe(from);
  const after = layoutReducer(layoutReducer(state, { kind: 'undo' }), { kind: 'arrange', layout: empty });
  expect(after.future).toEqual([]);
});

test('pieces move together and turn about their own middle, four times round to where they were', () => {
  const pieces = [piece('a', 300, 100), piece('b', 200, 200)];
  const places = new Map([
    ['a', at(10, 20)],
    ['b', at(400, 20)],
  ]);
  expect(movedPlaces(places, ['a', 'missing'], 0.1, -5).get('a')).toEqual(at(10.1, 15));
  expect(movedPlaces(places, ['a'], 5, 5).get('b')).toBe(places.get('b'));
  const once = turnedPlaces(run(pieces), places, new Set(['a']));
  expect(once.get('a')).toEqual(at(110, -80, 90));
  expect(turnedPlaces(run(pieces), once, new Set(['a'])).get('a')).toEqual(at(10, 20, 180));
});

test('what is kept and what is drawn are the same layout', () => {
  const pieces = [piece('a', 300, 100, { placed: true, xMm: 5, yMm: 20, angleDeg: 90 }), piece('b', 50, 60)];
  const layout = layoutOf(run(pieces));
  expect(changeOf(layout)).toEqual({
    settings: SETTINGS,
    placements: [{ pieceId: 'a', xMm: 5, yMm: 20, angleDeg: 90 }],
  });
  expect(laidPieces(run(pieces), layout.places)).toEqual([{ key: 'a', xMm: 5, yMm: 20, widthMm: 100, heightMm: 300 }]);
});

test('turning needs the leave of the job and of the run; what is too wide is named with its figures', () => {
  const pieces = [piece('tall', 1200, 400), piece('fixed', 300, 200, { quarterTurn: false })];
  const input = nestOf({ ...run(pieces), registeredEdge: 'left' }, SETTINGS, 980, new Map());
  expect(input.ok && input.value.input.pieces.map((each) => each.quarterTurn)).toEqual([true, false]);
  expect(input.ok && input.value.input.margins).toEqual({ leadMm: 20, trailMm: 20, leftMm: 0, rightMm: 0 });
  const refused = nestOf(
    { ...run(pieces), registeredEdge: 'left' },
    { ...SETTINGS, quarterTurns: false },
    980,
    new Map(),
  );
  expect(refused.ok ? '' : refusalText(run(pieces), refused.reason)).toBe(
    'tall.pdf is wider than the usable width: 1,200 mm of 980 mm. Allow quarter turns, or make the side margins smaller.',
  );
});

test('what is locked is no part of the nest but in its way, outlives a reload, and can be let go', () => {
  const pieces = [piece('a', 100, 50), piece('b', 80, 80)];
  const places = new Map<string, Place>([
    ['a', { xMm: 10, yMm: 30, angleDeg: 90 }],
    ['b', { xMm: 200, yMm: 30, angleDeg: 0 }],
  ]);
  const locked = withLock(places, ['a'], true);
  const input = nestOf({ ...run(pieces), registeredEdge: 'left' }, SETTINGS, 980, locked);
  if (!input.ok) throw new Error(input.reason.code);
  expect(input.value.input.pieces.map((each) => each.id)).toEqual(['b']);
  expect(input.value.input.fixed).toEqual([{ xMm: 10, yMm: 30, widthMm: 50, heightMm: 100 }]);
  const kept = changeOf({ settings: SETTINGS, places: locked }).placements;
  expect(kept).toEqual([
    { pieceId: 'a', xMm: 10, yMm: 30, angleDeg: 90, locked: true },
    { pieceId: 'b', xMm: 200, yMm: 30, angleDeg: 0 },
  ]);
  const again = layoutOf(run([piece('a', 100, 50, { placed: true, xMm: 10, yMm: 30, angleDeg: 90, locked: true })]));
  expect(again.places.get('a')).toEqual(locked.get('a'));
  expect(withLock(locked, ['a'], false)).toEqual(places);
});
