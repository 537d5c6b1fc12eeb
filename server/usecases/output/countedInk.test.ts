import { eq, ne } from 'drizzle-orm';
import { dropSizesOf } from '../../../core/coats/dropSizes.ts';
import { PLAIN_TONE } from '../../../core/coats/tone.ts';
import { cleanAttempts } from '../../db/cleanAttempts.ts';
import { findPrinter, findRun } from '../../db/findRows.ts';
import { runDetail } from '../../db/runViews.ts';
import { events, inkLedger, runAttempts } from '../../db/tables/records.ts';
import { profiles } from '../../db/tables/floorTables.ts';
import { runs } from '../../db/tables/schema.ts';
import type { CoatOrder } from '../../render/channels/renderPart.ts';
import { type TestShop, admitPlain, openTestShop } from '../../testing/shopFixture.ts';
import { TESTER } from '../../testing/tester.ts';
import { layOutRun } from '../layout/layOutRun.ts';
import { nestDraft } from '../layout/nestDraft.ts';
import { createRun } from '../run/createRun.ts';
import { runCost } from '../run/runCost.ts';
import { changePrinter } from '../setup/printers.ts';
import { takeProfile } from '../setup/profiles.ts';
import { keepCounts } from './countedInk.ts';

let shop: TestShop;
let close: () => void;
let runId: string;
beforeEach(async () => {
  ({ shop, close } = openTestShop());
  runId = createRun(shop, [admitPlain(shop, 'card.pdf', [[200, 100]])], TESTER);
  layOutRun(shop, runId, await nestDraft(shop, runId, 30), { by: TESTER });
  shop.db.update(runs).set({ pdfKey: 'as-laid-out' }).where(eq(runs.id, runId)).run();
});
afterEach(() => {
  close();
});

const row = () => {
  const run = findRun(shop.db, runId);
  if (!run) throw new Error('no run');
  return run;
};

const MODE = { name: 'any', sha256: '0'.repeat(64) };
const CHANNELS = ['cyan', 'magenta', 'yellow', 'black'];

function orderOf(key: string): CoatOrder {
  return {
    ...{ key, pdfKey: 'as-laid-out', width: 1000, height: 1000, dpiX: 720, dpiY: 720, channels: CHANNELS },
    ...{
      profile: MODE,
      intent: 'relative with black point',
      artwork: null,
      inkLimit: 2.4,
      screening: 'error diffusion',
    },
    ...{ drops: dropSizesOf(7), tone: PLAIN_TONE, curves: [] },
  };
}

/** The worked counts of 1 Mpx asked at 18 % of 7 pl, a channel the other way round, one bare, and one of full drops alone. */
const DOTS = [
  [725_714, 120_000, 90_000, 64_286],
  [725_714, 64_286, 90_000, 120_000],
  [1_000_000, 0, 0, 0],
  [0, 0, 0, 1_000_000],
];
const thousandfold = (levels: readonly number[]): number[] => levels.map((dots) => dots * 1000);
const COUNTED_ML = { cyan: 0.001260002, magenta: 0.001482858, yellow: 0, black: 0.007 };

test('what was counted stands in place of the estimate, in the run, its cost and the log; laid out anew it is an estimate again', async () => {
  const before = row();
  expect([before.inkRendering, runDetail(shop.db, runId)?.inkCounted]).toEqual([null, false]);
  expect(before.inkMl.cyan).toBeGreaterThan(0);
  keepCounts(shop, runId, { order: orderOf('first'), version: before.version, dots: DOTS.map(thousandfold) });
  const channels = findPrinter(shop.db, before.printerId)?.config.channels ?? [];
  const heads = new Map(channels.map((each) => [each.id, each.heads]));
  const priceOf = new Map(channels.map((each) => [each.id, each.pricePerMlMicro]));
  for (const [id, ml] of Object.entries(COUNTED_ML)) {
    expect(row().inkMl[id]).toBeCloseTo(1000 * ml * (heads.get(id) ?? 1), 9);
  }
  expect(runDetail(shop.db, runId)?.inkCounted).toBe(true);
  const cents = Object.entries(row().inkMl).map(([id, ml]) => (ml * (priceOf.get(id) ?? 0)) / 10_000);
  expect(runCost(shop.db, runId, 'EUR').inkMinor).toBe(Math.round(cents.reduce((sum, each) => sum + each, 0)));
  const [note] = shop.db.select().from(events).where(eq(events.kind, 'run.counted')).all();
  expect(note?.data).toMatchObject({
    run: before.number,
    estimateMl: expect.closeTo(total(before.inkMl), 9) as number,
  });
  // Once: looking at it again writes nothing down.
  keepCounts(shop, runId, { order: orderOf('first'), version: before.version, dots: DOTS });
  expect(shop.db.select().from(events).where(eq(events.kind, 'run.counted')).all()).toHaveLength(1);
  layOutRun(shop, runId, await nestDraft(shop, runId, 30), { by: TESTER });
  expect([row().inkRendering, row().inkMl]).toEqual([null, before.inkMl]);
});

test('a rendering of a layout that is gone, or of a run that was sent meanwhile, changes nothing', () => {
  const { version, inkMl } = row();
  keepCounts(shop, runId, { order: orderOf('old'), version: version - 1, dots: DOTS });
  keepCounts(shop, runId, { order: { ...orderOf('other'), pdfKey: 'another' }, version, dots: DOTS });
  shop.db.update(runs).set({ state: 'sent' }).where(eq(runs.id, runId)).run();
  keepCounts(shop, runId, { order: orderOf('late'), version, dots: DOTS });
  expect([row().inkRendering, row().inkMl]).toEqual([null, inkMl]);
});

test('another profile under the name of its mode, or another drop, makes counts an estimate again; other modes leave them', async () => {
  const before = row();
  const count = (): void => {
    keepCounts(shop, runId, { order: orderOf('now'), version: before.version, dots: DOTS });
    expect(row().inkRendering).toBe('now');
  };
  const printer = findPrinter(shop.db, before.printerId);
  if (!printer) throw new Error('no printer');
  const { config } = printer;
  const own = config.modes.find(({ id }) => id === before.ticket.modeId);
  const change = (isMeant: (id: string) => boolean): void => {
    const modes = config.modes.map((mode) => (isMeant(mode.id) ? { ...mode, dropPl: mode.dropPl + 1 } : mode));
    changePrinter(shop, printer.id, { config: { ...config, modes } }, TESTER);
  };
  count();
  change((id) => id !== own?.id);
  expect(row().inkRendering).toBe('now');
  change((id) => id === own?.id);
  expect(row().inkRendering).toBeNull();
  changePrinter(shop, printer.id, { config }, TESTER);
  count();
  const file = shop.db
    .select()
    .from(profiles)
    .where(eq(profiles.name, own?.profile ?? ''))
    .get();
  if (!file) throw new Error('no profile');
  await takeProfile(shop, file.name, file.bytes, TESTER);
  expect([row().inkRendering, row().inkMl]).toEqual([null, before.inkMl]);
  // A ticket that names another one goes by that, not by its mode's.
  const other = shop.db.select().from(profiles).where(ne(profiles.name, file.name)).get();
  shop.db
    .update(runs)
    .set({ ticket: { ...before.ticket, profile: other?.name ?? '' } })
    .where(eq(runs.id, runId))
    .run();
  count();
  await takeProfile(shop, file.name, file.bytes, TESTER);
  expect(row().inkRendering).toBe('now');
  await takeProfile(shop, other?.name ?? '', other?.bytes ?? Buffer.alloc(0), TESTER);
  expect(row().inkRendering).toBeNull();
});

test('a run that printed by counts teaches how far drops are off, and nothing of estimates', () => {
  const before = row();
  keepCounts(shop, runId, { order: orderOf('now'), version: before.version, dots: DOTS.map(thousandfold) });
  const { inkMl, printerId, ticket } = row();
  const printer = findPrinter(shop.db, printerId);
  if (!printer) throw new Error('no printer');
  const key = { runId, attempt: 1, printerId };
  shop.db
    .insert(runAttempts)
    .values({
      ...{ ...key, modeId: ticket.modeId, stockId: ticket.stockId, outcome: 'printed', estimateMs: 60_000 },
      ...{ sentMs: 0, startedMs: 1000, endedMs: 61_000, pausedMs: 0, lengthMm: 100, fedMm: 100 },
    })
    .run();
  shop.db
    .insert(inkLedger)
    .values({ ...key, channelId: 'cyan', ml: -0.97 * (inkMl.cyan ?? 0), atMs: 61_000 })
    .run();
  expect(cleanAttempts(shop.db, printer, { most: 5 })).toMatchObject([
    { inkCounted: true, ink: { cyan: expect.closeTo(0.97, 9) as number } },
  ]);
});

function total(inkMl: Readonly<Record<string, number>>): number {
  return Object.values(inkMl).reduce((sum, ml) => sum + ml, 0);
}
