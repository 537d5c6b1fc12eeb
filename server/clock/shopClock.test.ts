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

test('the machine’s clock set back an hour: shop time goes on from where it was, and devices are told', () => {
  storeAnchor(db, { realMs: real, shopMs: 0, rate: 60 });
  const clock = clockNow();
  let told = 0;
  clock.onJump = () => (told += 1);
  real += 10_000;
  expect(clock.now()).toBe(600_000);
  real -= 3_600_000;
  expect([clock.now(), told]).toEqual([600_000, 1]);
  real += 1000;
  expect([clock.now(), clock.rate, told]).toEqual([660_000, 60, 1]);
});

test('set back while the server is down: it goes on from where it was last looked at', () => {
  storeAnchor(db, { realMs: real, shopMs: 0, rate: 60 });
  const before = clockNow();
  real += 20_000;
  before.keep();
  real -= 7_200_000;
  const after = clockNow();
  expect(after.now()).toBe(1_200_000);
  real += 500;
  expect(after.now()).toBe(1_230_000);
});

test('set forward, or down for a while: that time has gone by in the shop as well', () => {
  storeAnchor(db, { realMs: real, shopMs: 0, rate: 60 });
  const clock = clockNow();
  real += 3_600_000;
  expect(clock.now()).toBe(216_000_000);
});

test('a correction by a second moves nothing back; it stands until the machine’s clock has caught up', () => {
  storeAnchor(db, { realMs: real, shopMs: 0, rate: 60 });
  const clock = clockNow();
  let told = 0;
  clock.onJump = () => (told += 1);
  real += 5000;
  const at = clock.now();
  real -= 1000;
  expect(clock.now()).toBe(at);
  real += 1500;
  expect([clock.now(), told]).toEqual([at + 30_000, 0]);
});
