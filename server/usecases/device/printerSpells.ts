import { and, eq, isNull } from 'drizzle-orm';
import { printerSpells } from '../../db/tables/records.ts';
import type { Work } from '../../shop.ts';

/** Ends the spell in which a printer was until now and begins the next one. */
export function beginSpell({ tx, nowMs }: Work, printerId: string, state: string, cause: string | null): void {
  tx.update(printerSpells)
    .set({ toMs: nowMs })
    .where(and(eq(printerSpells.printerId, printerId), isNull(printerSpells.toMs)))
    .run();
  tx.insert(printerSpells).values({ printerId, state, cause, fromMs: nowMs }).run();
}
