import type Database from 'better-sqlite3';

/** Tables that grow with every day of a shop. */
const GROWING = new Set([
  'jobs',
  'job_pages',
  'pieces',
  'runs',
  'run_pieces',
  'events',
  'spool_ledger',
  'ink_ledger',
  'ticket_changes',
  'refusals',
  'job_search',
  'run_attempts',
  'piece_outcomes',
  'printer_spells',
  'channel_firings',
  'care_items',
  'nozzle_checks',
  'clog_spells',
  'stock_orders',
  'facts',
  'fact_parts',
]);

/** Statements that need not be looked at, and why. Rebuilds and exports would stand here by name; there are none yet. */
const EXEMPT: readonly RegExp[] = [
  // One of a list that is empty: the database reads nothing, although its plan names the table.
  /\bfalse\b/,
];

/** Where a statement would walk through a table that grows, or through a whole index of it; empty where it never does. */
export function scansOf(db: Database.Database, statement: string): string[] {
  if (EXEMPT.some((each) => each.test(statement))) return [];
  const values = Array.from({ length: (statement.match(/\?/g) ?? []).length }, () => null);
  const plan = db.prepare(`EXPLAIN QUERY PLAN ${statement}`).all(...values) as { detail: string }[];
  return plan.flatMap(({ detail }) => {
    const named = /^SCAN (\w+)/.exec(detail)?.[1];
    if (named === undefined || !GROWING.has(tableOf(statement, named))) return [];
    // An index of what is open alone is as short as that is.
    const index = /USING (?:COVERING )?INDEX (\w+)/.exec(detail)?.[1];
    if (index !== undefined && isPartial(db, index)) return [];
    // A look-up of words in the search index is called a scan, too; M: it is led by what is searched.
    return /VIRTUAL TABLE INDEX \d+:\S*M/.test(detail) ? [] : [detail];
  });
}

function isPartial(db: Database.Database, index: string): boolean {
  const sql = db.prepare(`SELECT sql FROM sqlite_master WHERE type = 'index' AND name = ?`).pluck().get(index);
  return typeof sql === 'string' && /\bWHERE\b/i.test(sql);
}

/** The table behind a name that a statement gives it. */
function tableOf(statement: string, name: string): string {
  const alias = new RegExp(`\\b(?:from|join)\\s+"?(\\w+)"?\\s+(?:as\\s+)?"?${name}"?\\b`, 'i').exec(statement)?.[1];
  return alias ?? name;
}
