import { and, asc, gte, eq, lt } from 'drizzle-orm';
import type { Random } from '../../core/random.ts';
import type { Db, Reader } from '../db/open.ts';
import { printerSpells, runAttempts } from '../db/tables/records.ts';
import { printers } from '../db/tables/floorTables.ts';

const MIN = 60_000;
/** The shop closes so long after it has opened; then its printers are switched off. */
const OPEN_MS = 10.5 * 60 * MIN;

interface Spell {
  readonly state: 'printing' | 'waiting' | 'faulted' | 'idle' | 'off';
  readonly cause: string | null;
  readonly fromMs: number;
  readonly toMs: number;
}

/**
 * What each printer was in on one past day, as its attempts tell: it prints, stands where something was missing or broke, and is idle in
 * between. At night it is off.
 * @param untilMs the day is told until then
 */
export function pastSpells(db: Db, dayMs: number, untilMs: number, random: Random): void {
  const endMs = Math.min(untilMs, dayMs + OPEN_MS);
  for (const { id: printerId } of db.select({ id: printers.id }).from(printers).all()) {
    const last = lastEnd(db, printerId);
    const spells: Spell[] = [];
    let at = dayMs;
    const until = (toMs: number, state: Spell['state'], cause: string | null = null): void => {
      if (toMs > at) spells.push({ state, cause, fromMs: Math.round(at), toMs: Math.round(toMs) });
      at = Math.max(at, toMs);
    };
    for (const attempt of attemptsOf(db, printerId, dayMs, endMs)) {
      const { startedMs, endedMs, pausedMs, outcome, cause } = attempt;
      if (startedMs === null || endedMs === null) continue;
      until(startedMs, 'idle');
      until(startedMs + (endedMs - startedMs - pausedMs) * 0.4, 'printing');
      until(at + pausedMs, 'waiting', 'media out');
      until(endedMs, 'printing');
      if (outcome === 'failed') until(endedMs + (3 + random() * 20) * MIN, 'faulted', cause);
    }
    until(Math.max(at, endMs), 'idle');
    if (last !== undefined && last < dayMs) spells.unshift({ state: 'off', cause: null, fromMs: last, toMs: dayMs });
    for (const spell of spells)
      db.insert(printerSpells)
        .values({ printerId, ...spell })
        .run();
  }
}

function attemptsOf(db: Reader, printerId: string, fromMs: number, toMs: number) {
  return db
    .select()
    .from(runAttempts)
    .where(
      and(eq(runAttempts.printerId, printerId), gte(runAttempts.startedMs, fromMs), lt(runAttempts.startedMs, toMs)),
    )
    .orderBy(asc(runAttempts.startedMs))
    .all();
}

function lastEnd(db: Reader, printerId: string): number | undefined {
  const rows = db
    .select({ toMs: printerSpells.toMs })
    .from(printerSpells)
    .where(eq(printerSpells.printerId, printerId))
    .all();
  const ends = rows.flatMap(({ toMs }) => (toMs === null ? [] : [toMs]));
  return ends.length > 0 ? Math.max(...ends) : undefined;
}
