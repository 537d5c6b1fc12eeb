import fc from 'fast-check';
import type { ShopTime } from '../api/live.ts';
import { durationText } from '../../core/units/durationText.ts';
import { clockText, dayAndTime, shopNow, shopRate } from './shopTime.ts';

const heard = (change: Partial<ShopTime>): ShopTime => ({
  shopMs: 1_000_000,
  rate: 60,
  untilMs: null,
  zone: 'Europe/Berlin',
  heardAt: performance.now(),
  ...change,
});

test('shop time runs on at its rate from when it was heard, and stands where it stands still', () => {
  const time = heard({ heardAt: performance.now() - 2000 });
  expect(shopNow(time) - 1_000_000).toBeGreaterThanOrEqual(120_000);
  expect(shopRate(time)).toBe(60);
  const still = heard({ heardAt: performance.now() - 2000, untilMs: 1_050_000 });
  expect([shopNow(still), shopRate(still)]).toEqual([1_050_000, 0]);
});

test('an instant of today is a time, of another day it has its day, both by the zone of the shop', () => {
  // 22:30 UTC on 3 June is half past midnight of the 4th in Berlin.
  const nowMs = Date.UTC(2026, 5, 3, 22, 30);
  expect(clockText(nowMs + 60_000, nowMs, 'Europe/Berlin')).toBe('00:31');
  expect(clockText(nowMs - 3_600_000, nowMs, 'Europe/Berlin')).toBe('Wed 3 Jun 23:30');
  expect(clockText(nowMs - 3_600_000, nowMs, 'UTC')).toBe('21:30');
  expect(dayAndTime(nowMs, nowMs, 'Europe/Berlin')).toEqual(['today', '00:30']);
  expect(dayAndTime(nowMs - 86_400_000, nowMs, 'Europe/Berlin')).toEqual(['Wed 3 Jun', '00:30']);
});

test('the hour that comes twice in autumn is the same time of the same day', () => {
  const first = Date.UTC(2026, 9, 25, 0, 30);
  expect(clockText(first, first, 'Europe/Berlin')).toBe('02:30');
  expect(clockText(first + 3_600_000, first, 'Europe/Berlin')).toBe('02:30');
});

test('durations: seconds, minutes, hours with two digits of minutes; never below nothing', () => {
  expect([-5, 0, 59_400, 60_000, 3_599_000, 3_600_000, 7_500_000].map(durationText)).toEqual([
    '0 s',
    '0 s',
    '59 s',
    '1 min',
    '1 h 00 min',
    '1 h 00 min',
    '2 h 05 min',
  ]);
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 400 * 3_600_000 }), (ms) => {
      const text = durationText(ms);
      const parts = /^(?:(\d+) h (\d\d) min|(\d+) min|(\d+) s)$/.exec(text);
      expect(parts).not.toBeNull();
      const [, h = '0', inHour = '0', min = '0', s = '0'] = parts ?? [];
      const said = ((Number(h) * 60 + Number(inHour) + Number(min)) * 60 + Number(s)) * 1000;
      // Rounded to what is shown: half a second below a minute, half a minute above it.
      expect(Math.abs(said - ms)).toBeLessThanOrEqual(ms < 60_000 ? 500 : 30_500);
    }),
  );
});
