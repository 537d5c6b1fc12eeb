import { eq, lt, sql } from 'drizzle-orm';
import { attemptWaitMs } from '../../../core/people/throttle.ts';
import { failedSignIns } from '../../db/tables/peopleTables.ts';
import { Refused, type Shop } from '../../shop.ts';

/** Counted by whom, and how many may fail before the next has to wait. */
export type Counted = readonly [key: string, free: number];

/** So long without a failure, and it is forgotten (ms). */
const FORGOTTEN_MS = 24 * 3_600_000;

/**
 * What an attempt is counted by. A name from one address gets few tries; a name from anywhere and an address with any name get
 * many more, so that a stranger who fails on purpose does not lock out the person whose name it is.
 */
export function countedBy(name: string, address: string): readonly Counted[] {
  return [
    [`both: ${name.toLowerCase()} ${address}`, 5],
    [`address: ${address}`, 30],
    [`name: ${name.toLowerCase()}`, 100],
  ];
}

/** What an attempt with a code is counted by: nobody guesses one, and nobody's name is known by it. */
export function countedByCode(address: string): readonly Counted[] {
  return [
    [`code: ${address}`, 5],
    [`address: ${address}`, 30],
  ];
}

/**
 * Counts an attempt as failed before it is looked at, so that many at once get no more tries than one after the other.
 * @throws Refused where it comes too soon after those that failed
 */
export function beginAttempt({ db, realNow }: Shop, counted: readonly Counted[]): void {
  const now = realNow();
  db.transaction(
    (tx) => {
      tx.delete(failedSignIns)
        .where(lt(failedSignIns.lastMs, now - FORGOTTEN_MS))
        .run();
      for (const [key, free] of counted) {
        const row = tx.select().from(failedSignIns).where(eq(failedSignIns.key, key)).get();
        const left = row ? row.lastMs + attemptWaitMs(row.failures, free) - now : 0;
        if (left > 0) {
          const seconds = Math.ceil(left / 1000);
          const long = seconds < 90 ? `${String(seconds)} s` : `${String(Math.ceil(seconds / 60))} min`;
          throw new Refused(429, 'too-many-attempts', `Too many attempts have failed. Try again in ${long}.`, {
            seconds,
          });
        }
      }
      for (const [key] of counted) {
        tx.insert(failedSignIns)
          .values({ key, failures: 1, lastMs: now })
          .onConflictDoUpdate({
            target: failedSignIns.key,
            set: { failures: sql`${failedSignIns.failures} + 1`, lastMs: now },
          })
          .run();
      }
    },
    { behavior: 'immediate' },
  );
}

/** The attempt was no failure: what was counted for it is taken back, and its own counter begins anew. */
export function attemptWentWell({ db }: Shop, counted: readonly Counted[]): void {
  db.transaction(
    (tx) => {
      counted.forEach(([key], i) => {
        if (i === 0) tx.delete(failedSignIns).where(eq(failedSignIns.key, key)).run();
        else
          tx.update(failedSignIns)
            .set({ failures: sql`max(0, ${failedSignIns.failures} - 1)` })
            .where(eq(failedSignIns.key, key))
            .run();
      });
    },
    { behavior: 'immediate' },
  );
}
