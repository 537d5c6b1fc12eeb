import { mkdirSync, mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { HandView } from '../contract/api/hand.ts';
import type { QueueView } from '../contract/api/ticket.ts';
import { seededRandom } from '../core/random.ts';
import { Crew, type Reach, type SeenNozzles } from './crew.ts';
import { layWork } from './newWork.ts';
import { isAtWork, takesMs } from './times.ts';

const MIN = 60_000;
const HOURS = {
  zone: 'Europe/Copenhagen',
  days: [1, 2, 3, 4, 5].map((weekday) => ({ weekday, from: '08:00', to: '18:00' })),
  holidays: [],
};
/** Tuesday, 10:00 there. */
const TEN = Date.parse('2026-10-06T08:00:00Z');

const HAND: HandView = {
  key: 'heron-now-empty-r1',
  printerId: 'heron',
  printerName: 'Heron',
  when: 'now',
  kind: 'empty',
  text: 'The basket is full',
  way: 'Empty it.',
  runId: 'r1',
  load: null,
  openedS: null,
  act: { kind: 'emptied' },
};

const HEADS = {
  plot: { cyan: { missing: [3], weak: [], crooked: [] }, white: { missing: [], weak: [1], crooked: [] } } as Record<
    string,
    SeenNozzles
  > | null,
  heads: {
    checkToRead: null as string | null,
    checks: [{ id: 'check-1', channelIds: ['cyan'] }],
    advice: null as unknown,
  },
};

/** A shop that answers what a test says. */
function shop() {
  const sent: { readonly path: string; readonly body: unknown }[] = [];
  const world = {
    shopMs: TEN,
    on: true,
    hands: [HAND] as HandView[],
    waiting: 0,
    work: 0,
    filled: [] as string[],
    serviced: [] as string[],
    ...HEADS,
  };
  const answers: Record<string, () => unknown> = {
    '/api/crew': () => ({ there: true, on: world.on }),
    '/api/clock': () => ({ shopMs: world.shopMs, rate: 60, untilMs: null, zone: HOURS.zone }),
    '/api/shop': () => HOURS,
    '/api/next-hands': () => world.hands,
    '/api/jobs?which=live&limit=60': () => ({ items: Array.from({ length: world.waiting }), nextCursor: null }),
    '/api/printers/heron/heads': () => world.heads,
    '/api/runs': () => [{ id: 'r1', stockId: 'mesh', needMm: 40_000 }],
    '/api/printers': () => [{ id: 'heron', config: { channels: [{ id: 'cyan', tankMl: 600 }] } }],
  };
  const reach: Reach = {
    get: <T>(path: string) => Promise.resolve(answers[path]?.() as T),
    send: (_method, path, body) => {
      sent.push({ path, body });
      return Promise.resolve(200);
    },
    fill: (printerId) => {
      world.filled.push(printerId);
      return Promise.resolve();
    },
    service: (printerId) => {
      world.serviced.push(printerId);
      return Promise.resolve();
    },
    plotOf: () => Promise.resolve(world.plot),
    bringWork: () => {
      world.work += 1;
      return Promise.resolve();
    },
  };
  return { world, sent, crew: new Crew(reach, seededRandom(4)) };
}

test('a hand is done after as long as people take, with its key', async () => {
  const { world, sent, crew } = shop();
  await crew.look();
  world.shopMs += MIN;
  await crew.look();
  expect(sent).toEqual([]);
  world.shopMs += 6 * MIN;
  await crew.look();
  expect(sent).toEqual([{ path: '/api/next-hands/done', body: { key: HAND.key } }]);
});

test('nobody works at night, in the break, or when the crew rests; what was begun begins anew', async () => {
  const { world, sent, crew } = shop();
  for (const at of ['2026-10-06T22:00:00Z', '2026-10-06T11:00:00Z', '2026-10-10T08:00:00Z']) {
    world.shopMs = Date.parse(at);
    await crew.look();
    world.shopMs += 14 * MIN;
    await crew.look();
  }
  world.on = false;
  world.shopMs = TEN;
  await crew.look();
  world.shopMs += 30 * MIN;
  await crew.look();
  expect(sent).toEqual([]);
});

test('a hand that a person has opened is left alone for five minutes', async () => {
  const { world, sent, crew } = shop();
  world.hands = [{ ...HAND, openedS: 20 }];
  await crew.look();
  world.shopMs += 30 * MIN;
  await crew.look();
  expect(sent).toEqual([]);
  world.hands = [{ ...HAND, openedS: 301 }];
  await crew.look();
  world.shopMs += 10 * MIN;
  await crew.look();
  expect(sent).toHaveLength(1);
});

test('two people do two things at once, and a hand that is gone is no longer worked on', async () => {
  const { world, sent, crew } = shop();
  world.hands = ['a', 'b', 'c'].map((key) => ({ ...HAND, key }));
  await crew.look();
  world.hands = world.hands.slice(1);
  world.shopMs += 10 * MIN;
  await crew.look();
  expect(sent.map(({ body }) => body)).toEqual([{ key: 'b' }]);
});

test('where there is a take-up it is set; what is not on the rack is delivered; tanks are filled', async () => {
  const { world, sent, crew } = shop();
  const load = { spoolId: 's1', sourceId: 'roll' };
  const later = async (hand: HandView): Promise<void> => {
    world.hands = [hand];
    await crew.look();
    world.shopMs += 15 * MIN;
    await crew.look();
  };
  await later({ ...HAND, key: 'load', kind: 'load', act: null, load });
  expect(sent.at(-1)).toMatchObject({
    path: '/api/spools/s1/load',
    body: { printerId: 'heron', sourceId: 'roll', takeUp: { tension: 'medium' } },
  });
  await later({ ...HAND, key: 'none', kind: 'load', act: null });
  expect(sent.at(-1)).toMatchObject({ path: '/api/spools', body: { stockId: 'mesh', lengthMm: 60_000 } });
  // A run that waits all the same lacks something else: no roll after roll is delivered for it.
  const before = sent.length;
  await later({ ...HAND, key: 'still', kind: 'load', act: null });
  expect(sent).toHaveLength(before);
  await later({ ...HAND, key: 'ink', kind: 'ink', act: null, when: TEN + 60 * MIN });
  expect(world.filled).toEqual(['heron']);
});

test('a fault is beyond the crew; new work comes while the shop keeps up', async () => {
  const { world, sent, crew } = shop();
  world.hands = [{ ...HAND, kind: 'fault', act: null }];
  for (let i = 0; i < 60; i += 1) {
    await crew.look();
    world.shopMs += 4 * MIN;
    if (world.shopMs > TEN + 100 * MIN && world.shopMs < TEN + 105 * MIN) world.waiting = 60;
  }
  expect(sent).toEqual([]);
  expect(world.work).toBeGreaterThan(0);
  expect(world.work).toBeLessThanOrEqual(6);
});

test('work is laid whole into a folder that is watched', async () => {
  const root = mkdtempSync(join(tmpdir(), 'crew-'));
  try {
    const folder = { path: join(root, 'in'), arrivalRule: null, state: 'watched' };
    const paused = { path: join(root, 'nowhere'), arrivalRule: null, state: 'paused' };
    const queues = [{ arrivalRule: 'go', hotFolders: [paused, folder] }] as unknown as QueueView[];
    mkdirSync(folder.path);
    const name = await layWork(queues, 7, join(root, 'spare'), seededRandom(2));
    expect(readdirSync(folder.path)).toEqual([name]);
    expect(name).toMatch(/ 7\.pdf$/);
    expect(readdirSync(join(root, 'spare'))).toEqual([]);
    expect(await layWork([], 8, join(root, 'spare'), seededRandom(2))).toBeUndefined();
  } finally {
    rmSync(root, { recursive: true });
  }
});

test('times are within what people take', () => {
  const random = seededRandom(9);
  for (let i = 0; i < 50; i += 1) {
    const ms = takesMs('load', random) ?? 0;
    expect(ms).toBeGreaterThanOrEqual(4 * MIN);
    expect(ms).toBeLessThanOrEqual(12 * MIN);
  }
  expect(takesMs('fault', random)).toBeUndefined();
  expect(isAtWork(HOURS, TEN)).toBe(true);
});

test('a check plot is read as it lies there, of the channels that it shows; heads that can’t print get the first step advised', async () => {
  const { world, sent, crew } = shop();
  world.hands = [{ ...HAND, kind: 'heads', act: null, key: 'heron-check-1' }];
  world.heads.checkToRead = 'check-1';
  const later = async (): Promise<void> => {
    await crew.look();
    world.shopMs += 20 * MIN;
    await crew.look();
  };
  await later();
  const found = { cyan: { missing: [3], weak: [], crooked: [], unjudged: [] } };
  expect(sent).toEqual([{ path: '/api/checks/check-1/reading', body: { by: 'eye', confidence: null, found } }]);
  world.heads.checkToRead = null;
  world.heads.advice = { channelIds: ['cyan'], rungs: [{ action: 'deep' }, { action: 'light' }] };
  await later();
  expect(sent.at(-1)).toEqual({
    path: '/api/printers/heron/heads/care',
    body: { action: 'deep', channelIds: ['cyan'], check: true },
  });
  // Where nothing is left to try, service is called, and a check is printed.
  world.heads.advice = { channelIds: ['cyan'], rungs: [] };
  await later();
  expect([world.serviced, sent.at(-1)]).toEqual([
    ['heron'],
    { path: '/api/care', body: { printerId: 'heron', what: { kind: 'check' } } },
  ]);
  world.heads.advice = null;
  await later();
  expect(sent).toHaveLength(3);
});
