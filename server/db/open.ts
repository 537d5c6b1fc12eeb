import Database from 'better-sqlite3';
import { type BetterSQLite3Database, drizzle } from 'drizzle-orm/better-sqlite3';
import { migrate } from 'drizzle-orm/better-sqlite3/migrator';
import * as schema from './schema.ts';

export type Db = BetterSQLite3Database<typeof schema>;
/** What a transaction hands to its body; plain queries work on either. */
export type Tx = Parameters<Parameters<Db['transaction']>[0]>[0];
export type Reader = Db | Tx;

/**
 * Opens the database and brings it up to date. Foreign keys are off while migrations run, because a table rebuild would
 * otherwise delete child rows by cascade; they are checked and switched on afterwards.
 */
export function openDb(file: string, migrationsFolder: string): { db: Db; close: () => void } {
  const sqlite = new Database(file);
  sqlite.pragma('journal_mode = WAL');
  sqlite.pragma('synchronous = FULL');
  sqlite.pragma('busy_timeout = 5000');
  sqlite.pragma('foreign_keys = OFF');
  const db = drizzle(sqlite, { schema });
  migrate(db, { migrationsFolder });
  const broken = sqlite.pragma('foreign_key_check') as unknown[];
  if (broken.length > 0) throw new Error(`${String(broken.length)} rows point nowhere after migrating ${file}`);
  sqlite.pragma('foreign_keys = ON');
  return {
    db,
    close: () => {
      sqlite.close();
    },
  };
}
