import Database from 'better-sqlite3';
import { type BetterSQLite3Database, drizzle } from 'drizzle-orm/better-sqlite3';
import { migrate } from 'drizzle-orm/better-sqlite3/migrator';
import { keepStatements } from './keptStatements.ts';
import * as schema from './tables/schema.ts';

export type Db = BetterSQLite3Database<typeof schema>;
/** What a transaction hands to its body; plain queries work on either. */
export type Tx = Parameters<Parameters<Db['transaction']>[0]>[0];
/** What a view reads with: it works within a transaction and outside of one. */
export type Reader = Db | Tx;

/** Another process may hold the database for so long before a statement fails. The server stands still meanwhile. */
const BUSY_MS = 5000;
/** While another is known to hold it, nobody waits for it. */
const KNOWN_BUSY_MS = 20;
/** Rows an index that are looked at to learn how tables have grown: keeps the look short in a shop of many years. */
const ANALYSIS_ROWS = 400;

export interface OpenDb {
  readonly db: Db;
  readonly close: () => void;
  /** Takes the lock for writing and gives it back; throws where another process has it. */
  readonly tryLock: () => void;
  readonly waitForLock: (patiently: boolean) => void;
}

/**
 * Opens the database and brings it up to date. Foreign keys are off while migrations run, because a table rebuild would
 * otherwise delete child rows by cascade; they are checked when something was migrated, and switched on afterwards.
 * @param onStatement told the text of every statement, without its values
 */
export function openDb(file: string, migrationsFolder: string, onStatement?: (statement: string) => void): OpenDb {
  const sqlite = new Database(file, { timeout: BUSY_MS });
  sqlite.pragma('journal_mode = WAL');
  sqlite.pragma('synchronous = FULL');
  sqlite.pragma('foreign_keys = OFF');
  // What a migration does is done once, to everything that is there.
  let migrated = false;
  const logQuery = (statement: string): void => {
    if (migrated) onStatement?.(statement);
  };
  const logger = onStatement && { logger: { logQuery } };
  const db = drizzle(sqlite, { schema, ...logger });
  const before = migrationsIn(sqlite);
  migrate(db, { migrationsFolder });
  // Every row of the shop is read by this check: at an ordinary start nothing can have broken.
  if (migrationsIn(sqlite) !== before) {
    const broken = sqlite.pragma('foreign_key_check') as unknown[];
    if (broken.length > 0) throw new Error(`${String(broken.length)} rows point nowhere after migrating ${file}`);
  }
  migrated = true;
  keepStatements(sqlite);
  sqlite.pragma('foreign_keys = ON');
  sqlite.pragma(`analysis_limit = ${String(ANALYSIS_ROWS)}`);
  sqlite.pragma('optimize = 0x10002');
  return {
    db,
    close: () => {
      sqlite.close();
    },
    tryLock: () => {
      sqlite.exec('BEGIN IMMEDIATE; ROLLBACK');
    },
    waitForLock: (patiently) => {
      sqlite.pragma(`busy_timeout = ${String(patiently ? BUSY_MS : KNOWN_BUSY_MS)}`);
    },
  };
}

function migrationsIn(sqlite: Database.Database): number {
  const there = sqlite.prepare("SELECT 1 FROM sqlite_master WHERE name = '__drizzle_migrations'").get();
  if (!there) return 0;
  return (sqlite.prepare('SELECT count(*) AS n FROM __drizzle_migrations').get() as { n: number }).n;
}
