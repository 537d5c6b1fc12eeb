import fc from 'fast-check';
import { MOST_SCALE, dotAt, fitCamera, onScreen, panned, tilesInView, zoomFor, zoomed } from './channelCamera.ts';

const COAT = { width: 45_354, height: 566_929 };
const VIEW = { width: 1000, height: 600 };
const place = fc.record({ x: fc.integer({ min: 0, max: 1000 }), y: fc.integer({ min: 0, max: 600 }) });

test('fitted, all of a coat is seen: the leading edge at the left, the right edge of the media up', () => {
  const camera = fitCamera(COAT, VIEW);
  const corners = [onScreen(camera, VIEW, { x: 0, y: 0 }), onScreen(camera, VIEW, { x: COAT.width, y: COAT.height })];
  for (const { x, y } of corners) {
    expect(x).toBeGreaterThanOrEqual(0);
    expect(x).toBeLessThanOrEqual(VIEW.width);
    expect(y).toBeGreaterThanOrEqual(0);
    expect(y).toBeLessThanOrEqual(VIEW.height);
  }
  expect(corners[0]?.x).toBeLessThan(corners[1]?.x ?? 0);
  expect(corners[1]?.y).toBeLessThan(corners[0]?.y ?? 0);
});

test('what is zoomed at stays where it is, from all of it down to single dots', () => {
  fc.assert(
    fc.property(place, fc.array(fc.double({ min: 1.1, max: 6, noNaN: true }), { maxLength: 20 }), (at, factors) => {
      let camera = fitCamera(COAT, VIEW);
      const held = dotAt(camera, VIEW, at);
      const inside = held.x > 0 && held.x < COAT.width && held.y > 0 && held.y < COAT.height;
      for (const factor of factors) camera = zoomed(camera, COAT, VIEW, factor, at);
      expect(camera.scale).toBeLessThanOrEqual(MOST_SCALE);
      const back = onScreen(camera, VIEW, held);
      if (inside) expect(Math.hypot(back.x - at.x, back.y - at.y)).toBeLessThan(1e-3 * Math.max(1, camera.scale));
    }),
  );
});

test('tiles that are asked for cover what is seen, and none of them lies outside', () => {
  fc.assert(
    fc.property(
      place,
      fc.double({ min: 1, max: 5e4, noNaN: true }),
      fc.integer({ min: -900, max: 900 }),
      fc.constantFrom(1, 0.5, 2),
      (at, factor, by, feedStep) => {
        const camera = panned(zoomed(fitCamera(COAT, VIEW), COAT, VIEW, factor, at), COAT, by, -by);
        const zoom = zoomFor(camera.scale, 12);
        const tiles = tilesInView(camera, COAT, VIEW, zoom, 256, feedStep);
        const span = 256 * 2 ** zoom;
        const asked = new Set(tiles.map(({ x, y }) => `${String(x)} ${String(y)}`));
        for (const px of [0, 250, 500, 999]) {
          for (const py of [0, 300, 599]) {
            const dot = dotAt(camera, VIEW, { x: px, y: py });
            if (dot.x < 0 || dot.y < 0 || dot.x >= COAT.width || dot.y >= COAT.height) continue;
            expect(
              asked.has(`${String(Math.floor(dot.x / span))} ${String(Math.floor(dot.y / span / feedStep))}`),
            ).toBe(true);
          }
        }
        for (const { x, y } of tiles) expect(x * span < COAT.width && y * span * feedStep < COAT.height).toBe(true);
        // A screen of tiles, not more.
        expect(tiles.length).toBeLessThan(120);
      },
    ),
  );
});
