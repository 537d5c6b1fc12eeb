import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { eq } from 'drizzle-orm';
import { storeAnchor, storeDayEnd, storeZone } from '../clock/shopClock.ts';
import type { Db } from '../db/open.ts';
import { inkLedger, spoolLedger } from '../db/tables/records.ts';
import { CAUSE_KINDS } from '../../core/messages/messageRules.ts';
import { messageRules } from '../db/tables/messageTables.ts';
import { people } from '../db/tables/peopleTables.ts';
import { storeMailServer } from '../usecases/messages/mailServer.ts';
import { hotFolders, presets, queues, rules, settings } from '../db/tables/schema.ts';
import { printers, spools, stockSettings, stocks } from '../db/tables/floorTables.ts';
import { storeCurrency, storeShopSetup } from '../usecases/setup/shopSetup.ts';
import { storeShopSizes } from '../usecases/setup/shopSizes.ts';
import type { DataPaths } from '../files/paths.ts';
import { HOLIDAYS, HOURS, IDLE_H, INK_USED, PEOPLE, QUEUES, RULES, SHOP, SPOOLS, STOCK_SETTINGS } from './floorData.ts';
import { CUTTERS } from './cutterData.ts';
import { STOCKS } from './stockData.ts';
import { HEAD_FAULTS } from './headData.ts';
import { PRINTERS, devicesOfFloor } from './printerData.ts';
import { PRESETS, SIZES } from './ticketData.ts';

/** Whether nothing has ever been set in this shop: it is being opened for the first time. */
export function isEmptyShop(db: Db): boolean {
  return db.select({ key: settings.key }).from(settings).limit(1).get() === undefined;
}

const DEMO_KEY = 'demo';

/** True while the demo's jobs are owed: from the first start until all of them are there, whatever came between. */
export function demoIsOwed(db: Db): boolean {
  return db.select().from(settings).where(eq(settings.key, DEMO_KEY)).get()?.value === 'owed';
}

/** Notes that the demo has been made, so that it is not made again. */
export function demoIsDone(db: Db): void {
  db.update(settings).set({ value: 'done' }).where(eq(settings.key, DEMO_KEY)).run();
}

/**
 * Describes the shop in a new database: printers, stocks, spools, and a queue with a hot folder for each printer. The
 * demo's clock opens on its Tuesday; an empty shop starts at the present time, without jobs.
 */
export function seedFloor(db: Db, paths: DataPaths, empty: boolean): void {
  writeDevices(paths);
  const realMs = Date.now();
  const shopMs = empty ? realMs : Date.parse(SHOP.opensAt) - SHOP.leadMs;
  db.transaction((tx) => {
    PRINTERS.forEach(({ id, name, config }, position) => {
      tx.insert(printers).values({ id, name, position, config }).run();
    });
    for (const { id, config } of PRINTERS) {
      for (const { id: channelId, tankMl } of config.channels) {
        const share = INK_USED[id]?.[channelId];
        if (share !== undefined)
          tx.insert(inkLedger)
            .values({ printerId: id, channelId, ml: -share * tankMl, purpose: 'fill', atMs: shopMs })
            .run();
      }
    }
    tx.insert(stocks)
      .values([...STOCKS])
      .run();
    tx.insert(stockSettings)
      .values([...STOCK_SETTINGS])
      .run();
    for (const preset of PRESETS)
      tx.insert(presets)
        .values({ ...preset, changedMs: shopMs })
        .run();
    for (const { id, label, lot, stockId, receivedMm, usedMm, place, takeUp } of SPOOLS) {
      tx.insert(spools)
        .values({
          id,
          label,
          lot,
          stockId,
          printerId: place?.[0] ?? null,
          sourceId: place?.[1] ?? null,
          kind: STOCKS.find((stock) => stock.id === stockId)?.form === undefined ? 'roll' : 'pack',
          takeUp: takeUp ?? null,
        })
        .run();
      tx.insert(spoolLedger).values({ spoolId: id, kind: 'received', mm: receivedMm, atMs: shopMs }).run();
      if (usedMm > 0)
        tx.insert(spoolLedger).values({ spoolId: id, kind: 'correction', mm: -usedMm, atMs: shopMs }).run();
    }
    QUEUES.forEach((queue, position) => {
      tx.insert(queues)
        .values({ ...queue, position })
        .run();
      const path = join(paths.hotFolders, queue.id);
      mkdirSync(path, { recursive: true });
      tx.insert(hotFolders)
        .values({ id: `${queue.id}-in`, queueId: queue.id, path })
        .run();
    });
    // The settings tell that the shop is described: they come with it or not at all.
    storeZone(tx, SHOP.zone);
    storeDayEnd(tx, SHOP.dayEndsAt);
    // The demo's time stands still until all of its work is there.
    storeAnchor(tx, { realMs, shopMs, rate: empty ? SHOP.demoRate : 0 });
    storeShopSizes(tx, SIZES);
    storeCurrency(tx, SHOP.currency);
    storeShopSetup(tx, { zone: SHOP.zone, days: HOURS, holidays: HOLIDAYS, orderAheadDays: 10 });
    tx.insert(people)
      .values([...PEOPLE])
      .run();
    // Mail of the demo goes to a stand-in, which shows it.
    storeMailServer(tx, { kind: 'stand-in' });
    tx.insert(messageRules)
      .values({ personId: 'person-odile', kinds: [...CAUSE_KINDS], repeatMin: 30 })
      .run();
    RULES.forEach((rule, position) => {
      tx.insert(rules)
        .values({ ...rule, position, on: true })
        .run();
    });
    if (!empty) tx.insert(settings).values({ key: DEMO_KEY, value: 'owed' }).run();
  });
}

/** The devices that the stand-ins are, and what is in their tanks when the demo opens. */
export function writeDevices(paths: DataPaths): void {
  const devices = devicesOfFloor().map((about) => ({
    about,
    inkMl: Object.fromEntries(
      about.channels.map(({ id, tankMl }) => [id, Math.round(tankMl * (1 - (INK_USED[about.id]?.[id] ?? 0.2)))]),
    ),
    idleH: IDLE_H[about.id] ?? {},
    faults: HEAD_FAULTS[about.id] ?? {},
  }));
  mkdirSync(paths.standIns, { recursive: true });
  writeFileSync(join(paths.standIns, 'floor.json'), JSON.stringify(devices));
  writeFileSync(join(paths.standIns, 'cutters.json'), JSON.stringify(CUTTERS));
}
