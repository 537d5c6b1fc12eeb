import { and, eq, gte, sql } from 'drizzle-orm';
import type { StockUse } from '../../../contract/api/media.ts';
import { attendedSpans } from '../../../core/schedule/shopHours.ts';
import { spoolLedger } from '../../db/records.ts';
import { spools } from '../../db/schema.ts';
import type { Shop } from '../../shop.ts';
import { shopSetup } from '../setup/shopSetup.ts';

const DAY_MS = 86_400_000;
/** So far back the present pace is looked at. */
const BACK_DAYS = 30;

/** What runs have taken of each stock lately, and on how many open days. */
export function stockUse(shop: Shop): StockUse {
  const now = shop.clock.now();
  const fromMs = now - BACK_DAYS * DAY_MS;
  const uses = shop.db
    .select({ stockId: spools.stockId, usedMm: sql<number>`sum(-${spoolLedger.mm})` })
    .from(spoolLedger)
    .innerJoin(spools, eq(spools.id, spoolLedger.spoolId))
    .where(and(eq(spoolLedger.kind, 'run'), gte(spoolLedger.atMs, fromMs)))
    .groupBy(spools.stockId)
    .all();
  const setup = shopSetup(shop.db, shop.clock.zone);
  // A shop that began later than that has had fewer days.
  const first = shop.db
    .select({ atMs: sql<number | null>`min(${spoolLedger.atMs})` })
    .from(spoolLedger)
    .where(eq(spoolLedger.kind, 'run'))
    .get()?.atMs;
  const spans = attendedSpans(setup, Math.max(fromMs, first ?? now), now);
  return { openDays: spans.length, uses };
}
