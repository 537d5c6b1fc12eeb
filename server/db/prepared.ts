import type { Reader } from './open.ts';

/**
 * A query that is put together once for each database, not each time it is asked: putting one together takes several times as
 * long as SQLite takes to find a row. Its values are placeholders; a transaction runs it on its own connection, since there is one.
 * @param build ends in `prepare()`
 */
export function prepared<Query extends object>(build: (db: Reader) => Query): (db: Reader) => Query {
  const queries = keptFor<{ query?: Query }>(() => ({}));
  return (db) => (queries(db).query ??= build(db));
}

/**
 * Something that is kept for each database as long as it is open, such as figures that are dear to make.
 * @param make what there is before anything is kept
 */
export function keptFor<Kept>(make: () => Kept): (db: Reader) => Kept {
  const known = new WeakMap<object, { readonly kept: Kept }>();
  return (db) => {
    const connection = connectionOf(db);
    let found = known.get(connection);
    if (!found) {
      found = { kept: make() };
      known.set(connection, found);
    }
    return found.kept;
  };
}

/** What a database and its transactions have in common; the type does not tell of it. */
function connectionOf(db: Reader): object {
  const { session } = db as unknown as { readonly session?: object };
  return session ?? db;
}
