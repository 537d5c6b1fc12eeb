import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { type Db, openDb } from '../db/open.ts';
import { StoredClock, storeAnchor } from './shopClock.ts';

let dir: string;
let db: Db;
let close: () => void;
let real = 0;
const clockNow = (): StoredClock => new StoredClock(db, () => real);

beforeEach(() => {
  dir = mkdtempSync(join(tmpdir(), 'yellow-spool-clock-'));
  ({ db, close } = openDb(join(dir, 'shop.db'), resolve('server/db/migrations')));
  real = 1_000_000;
  storeAnchor(db, { realMs: real, shopMs: 0, rate: 0 });
});
afterEach(() => {
  close();
  rmSync(dir, { recursive: true, force: true });
});

test('a step lets exactly so much time go by and then stands still, over a restart too', () => {
  const clock = clockNow();
  clock.step(600_000);
  expect(clock.rate).toBe(150);
  real += 2000;
  expect(clock.now()).toBe(300_000);
  real += 2001;
  expect([clock.now(), clock.rate]).toEqual([600_000, 0]);
  real += 3_600_000;
  const after = clockNow();
  expect([after.now(), after.rate, after.untilMs]).toEqual([600_000, 0, 600_000]);
});

test('a step during a step adds to it; one from a running clock counts from now; a speed ends it', () => {
  const clock = clockNow();
  clock.step(60_000);
  real += 500;
  clock.step(60_000);
  real += 60_000;
  expect(clock.now()).toBe(120_000);
  clock.setRate(10);
  real += 1000;
  expect([clock.now(), clock.untilMs]).toEqual([130_000, null]);
  clock.step(3_600_000);
  expect(clock.rate).toBe(600);
  real += 10_000;
  expect(clock.now()).toBe(130_000 + 3_600_000);
});
