import type { TimerBody } from '../../contract/api/care.ts';
import { eventSentence } from '../../core/events/sentence.ts';
import { channelExercise } from '../db/tables/careTables.ts';
import { events } from '../db/tables/records.ts';
import { careBetween, careView } from '../usecases/care/careItems.ts';
import { createDesign } from '../usecases/care/designs.ts';
import { createTimers } from '../usecases/care/timers.ts';
import { type TestShop, openTestShop } from './shopFixture.ts';
import { TESTER } from './tester.ts';

/** A shop at three in the morning whose clock a test sets. */
export interface CareShop {
  readonly shop: TestShop;
  readonly clock: { nowMs: number };
  readonly close: () => void;
}

export function openCareShop(): CareShop {
  const { shop, close } = openTestShop();
  const clock = { nowMs: Date.parse('2027-03-24T03:00:00Z') };
  Object.defineProperty(shop.clock, 'now', { value: () => clock.nowMs });
  return { shop, clock, close };
}

export const WREN_SHEET = { form: 'sheet' as const, widthMm: 320, lengthMm: 450, density: 0.1 };

/** A purge of Wren: of white, unless other levels are said. */
export function whitePurge(
  shop: TestShop,
  levels: Record<string, number> = { white: 1 },
  { onlyNeeded = false }: { readonly onlyNeeded?: boolean } = {},
): string {
  const sheet = { ...WREN_SHEET, levels };
  const design = { printerId: 'wren', name: 'White, light', modeId: 'draft', stockId: 'film-sheet' };
  return createDesign(shop, { ...design, sheet, onlyNeeded }, TESTER);
}

/** A timer of a purge on Wren, every day at 05:15 from today on, unless something else is said. */
export function daily(shop: TestShop, designId: string, change: Partial<TimerBody> = {}): string {
  const [id = ''] = createTimers(
    shop,
    {
      ...{ printerIds: ['wren'], what: { kind: 'purge', designId }, rrule: 'FREQ=DAILY' },
      ...{ startLocal: '2027-03-24T05:15', untilLocal: null, skipHolidays: false, missed: 'catch-up' },
      ...{ slackMin: 60, paused: false },
      ...change,
    },
    TESTER,
  );
  return id;
}

/** All care that ever was, by its due instant. */
export function careOf(shop: TestShop): ReturnType<typeof careView>[] {
  return careBetween(shop.db, 0, Number.MAX_SAFE_INTEGER).map(careView);
}

/** What has been logged, in sentences. */
export function logOf(shop: TestShop): string[] {
  return shop.db
    .select()
    .from(events)
    .all()
    .map((row) => eventSentence(row));
}

/** A channel of Wren was exercised then. */
export function exercised(shop: TestShop, channelId: string, exercisedMs: number): void {
  shop.db
    .insert(channelExercise)
    .values({ printerId: 'wren', channelId, exercisedMs })
    .onConflictDoUpdate({ target: [channelExercise.printerId, channelExercise.channelId], set: { exercisedMs } })
    .run();
}
