import type { Reader } from './open.ts';

/**
 * A query that is put together once for each database, not each time it is asked: putting one together takes several times as
 * long as SQLite takes to find a row. Its values are placeholders; a transaction runs it on its own connection, since there is one.
 * @param build ends in `prepare()`
 */
export function prepared<Query extends object>(build: (db: Reader) => Query): (db: Reader) => Query {
  const known = new WeakMap<object, Query>();
  return (db) => {
    const connection = connectionOf(db);
    let query = known.get(connection);
    if (!query) {
      query = build(db);
      known.set(connection, query);
    }
    return query;
  };
}

/** What a database and its transactions have in common; the type does not tell of it. */
function connectionOf(db: Reader): object {
  const { session } = db as unknown as { readonly session?: object };
  return session ?? db;
}
