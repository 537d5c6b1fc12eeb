import type Database from 'better-sqlite3';

/** So many statements stay compiled; a shop asks some hundreds, most of them again and again. */
const KEPT_STATEMENTS = 400;

/**
 * From now on a statement that was compiled is used again. A kept one gives rows as objects until it is told otherwise, as a new
 * one does; one that is still handing out rows is not shared.
 */
export function keepStatements(sqlite: Database.Database): void {
  const kept = new Map<string, Database.Statement>();
  const compile = sqlite.prepare.bind(sqlite);
  const prepare = (source: string): Database.Statement => {
    const known = kept.get(source);
    if (known?.busy === true) return compile(source);
    const statement = known ?? compile(source);
    kept.delete(source);
    kept.set(source, statement);
    const [oldest] = kept.keys();
    if (kept.size > KEPT_STATEMENTS && oldest !== undefined) kept.delete(oldest);
    return statement.reader ? statement.raw(false) : statement;
  };
  sqlite.prepare = prepare as typeof sqlite.prepare;
}
