/*
 * Looks at every statement that the servers of the browser tests ran (dist/statements) and asks the database of a shop with
 * years behind it how it would find the rows. A statement that would walk through what grows fails. Run by npm test.
 */
import { mkdtempSync, readFileSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import Database from 'better-sqlite3';
import { SHORT_HISTORY, makeOldShop } from '../server/testing/oldShop.ts';
import { scansOf } from '../server/testing/queryPlans.ts';

/** The servers of the browser tests run some hundred; far fewer would mean that they were not written down. */
const LEAST = 120;
const PLANTED = [
  `select * from "jobs" where "source_name" like '%a%'`,
  'select count(*) from "pieces"',
  'select sum(l.mm) from spool_ledger l where l.mm > ?',
];

const log = resolve('dist/statements');
const statements = new Set(
  readdirSync(log).flatMap((name) =>
    readFileSync(join(log, name), 'utf8')
      .split('\n')
      .filter(Boolean)
      .map((line) => JSON.parse(line) as string),
  ),
);
const dir = mkdtempSync(join(tmpdir(), 'yellow-spool-plans-'));
try {
  await makeOldShop(dir, SHORT_HISTORY);
  const db = new Database(join(dir, 'yellow-spool.db'), { readonly: true });
  const faults: string[] = [];
  for (const planted of PLANTED) {
    if (scansOf(db, planted).length === 0) faults.push(`a planted scan was not seen: ${planted}`);
  }
  if (statements.size < LEAST) faults.push(`only ${String(statements.size)} statements were written down`);
  for (const statement of statements) {
    for (const scan of scansOf(db, statement))
      faults.push(`${scan}\n    ${statement.replace(/\s+/g, ' ').slice(0, 600)}`);
  }
  db.close();
  process.stdout.write(`${String(statements.size)} statements looked at, ${String(faults.length)} faults\n`);
  for (const fault of faults) process.stdout.write(`  ${fault}\n`);
  process.exitCode = faults.length > 0 ? 1 : 0;
} finally {
  rmSync(dir, { recursive: true, force: true });
}
