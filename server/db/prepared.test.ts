import Database from 'better-sqlite3';
import { asc, eq, inArray, sql } from 'drizzle-orm';
import { openTestShop } from '../testing/shopFixture.ts';
import type { Reader } from './open.ts';
import { keepStatements } from './keptStatements.ts';
import { findPrinter } from './findRows.ts';
import { prepared } from './prepared.ts';
import { printers } from './tables/floorTables.ts';

let opened: ReturnType<typeof openTestShop>;
beforeEach(() => {
  opened = openTestShop();
});
afterEach(() => {
  opened.close();
});

const byState = prepared((db) =>
  db
    .select({ id: printers.id })
    .from(printers)
    .where(eq(printers.linkStatus, sql.placeholder('state')))
    .prepare(),
);

test('a query that is put together once is answered anew each time, and sees what its own transaction has written', () => {
  const { db } = opened.shop;
  expect(byState(db).all({ state: 'faulted' })).toEqual([]);
  expect(() =>
    db.transaction((tx) => {
      tx.update(printers).set({ linkStatus: 'faulted' }).where(eq(printers.id, 'heron')).run();
      expect(byState(tx).all({ state: 'faulted' })).toEqual([{ id: 'heron' }]);
      expect(findPrinter(tx, 'heron')?.linkStatus).toBe('faulted');
      throw new Error('given up');
    }),
  ).toThrow('given up');
  expect(byState(db).all({ state: 'faulted' })).toEqual([]);
  expect(findPrinter(db, 'heron')?.linkStatus).not.toBe('faulted');
});

test('it is put together once for each database, and never asks another one', () => {
  const other = openTestShop();
  try {
    const builds: Reader[] = [];
    const counted = prepared((db) => {
      builds.push(db);
      return db.select().from(printers).orderBy(asc(printers.id)).prepare();
    });
    opened.shop.db.update(printers).set({ name: 'Renamed' }).where(eq(printers.id, 'heron')).run();
    const names = (db: Reader) =>
      counted(db)
        .all()
        .map((printer) => printer.name);
    expect(names(opened.shop.db)).toContain('Renamed');
    expect(names(other.shop.db)).not.toContain('Renamed');
    opened.shop.db.transaction((tx) => names(tx));
    names(other.shop.db);
    expect(builds).toHaveLength(2);
  } finally {
    other.close();
  }
});

test('statements that stay compiled give rows in the form that each asks for, however many there are', () => {
  const { db } = opened.shop;
  const all = db.select({ id: printers.id }).from(printers).orderBy(asc(printers.id)).all();
  const raw = sql`select "id" from "printers" order by "printers"."id" asc`;
  // The same words as drizzle sends: rows as arrays for the one, as objects for the other.
  for (let i = 0; i < 3; i++) {
    expect(db.select({ id: printers.id }).from(printers).orderBy(asc(printers.id)).all()).toEqual(all);
    expect(db.all<{ id: string }>(raw)).toEqual(all);
  }
  // More of them than are kept: the first ones are compiled again.
  for (let n = 1; n <= 450; n++) {
    const ids = Array.from({ length: n }, (_, i) => (i === 0 ? 'heron' : `none-${String(i)}`));
    expect(db.select({ id: printers.id }).from(printers).where(inArray(printers.id, ids)).all()).toEqual([
      { id: 'heron' },
    ]);
  }
  expect(db.all<{ id: string }>(raw)).toEqual(all);
});

test('a statement that is still handing out rows is not taken by another', () => {
  const sqlite = new Database(':memory:');
  sqlite.exec('create table t (n); insert into t values (1), (2), (3)');
  keepStatements(sqlite);
  const text = 'select n from t order by n';
  const first = sqlite.prepare<[], { n: number }>(text).iterate();
  expect(first.next().value).toEqual({ n: 1 });
  expect(sqlite.prepare(text).all()).toEqual([{ n: 1 }, { n: 2 }, { n: 3 }]);
  expect([...first]).toEqual([{ n: 2 }, { n: 3 }]);
  expect(sqlite.prepare(text)).toBe(sqlite.prepare(text));
  sqlite.close();
});
