import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { holdFolder, whoHolds } from './alone.ts';

let dir: string;
beforeEach(() => {
  dir = mkdtempSync(join(tmpdir(), 'yellow-spool-alone-'));
});
afterEach(() => {
  rmSync(dir, { recursive: true, force: true });
});

/** Whether another process could hold the folder now. */
function couldHold(): boolean {
  const sqlite = createRequire(__filename).resolve('better-sqlite3');
  const program = `const lock = new (require(${JSON.stringify(sqlite)}))(${JSON.stringify(join(dir, 'server.lock'))}, { timeout: 0 });
    try { lock.exec('BEGIN EXCLUSIVE'); process.stdout.write('held'); } catch (error) { process.stdout.write(error.code); }`;
  return execFileSync(process.execPath, ['-e', program], { encoding: 'utf8' }) === 'held';
}

test('a folder is held by one process from the first moment on, and free when that is gone', () => {
  const hold = holdFolder(dir);
  expect(hold).toBeDefined();
  expect(couldHold()).toBe(false);
  expect(holdFolder(dir)).toBeUndefined();
  hold?.release();
  expect(couldHold()).toBe(true);
  // The other process has ended without a word: its lock went with it.
  const again = holdFolder(dir);
  expect(again).toBeDefined();
  again?.release();
});

test('who holds it is said by its address, or that there is none yet', async () => {
  expect(await whoHolds(dir)).toContain('It has no address yet');
  writeFileSync(join(dir, 'server.json'), JSON.stringify({ address: 'https://print.example:4999', pid: process.pid }));
  expect(await whoHolds(dir)).toContain('already: https://print.example:4999\n');
  // One that an earlier version has left.
  writeFileSync(join(dir, 'server.json'), JSON.stringify({ port: 4999, pid: process.pid }));
  expect(await whoHolds(dir)).toContain('It has no address yet');
});
