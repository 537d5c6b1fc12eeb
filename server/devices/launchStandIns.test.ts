import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { findOrLaunchStandIns } from './launchStandIns.ts';

let dir: string;
let program: string;

/** A stand-in as slow as on a machine with no processor to spare: counts its starts, answers late. */
const SLOW = `
const fs = require('node:fs'), http = require('node:http'), path = require('node:path');
const dir = process.argv[process.argv.indexOf('--data') + 1];
fs.appendFileSync(path.join(dir, 'starts'), process.pid + '\\n');
const late = () => new Promise((done) => setTimeout(done, 700));
const server = http.createServer(async (_req, res) => {
  await late();
  res.end(JSON.stringify({ product: 'yellow-spool stand-ins', dataDir: dir }));
});
late().then(() => server.listen(0, '127.0.0.1', () => {
  fs.writeFileSync(path.join(dir, 'address.json'), JSON.stringify({ port: server.address().port, pid: process.pid }));
}));
`;

beforeEach(() => {
  dir = mkdtempSync(join(tmpdir(), 'yellow-spool-launch-'));
  program = join(dir, 'slow.cjs');
  writeFileSync(program, SLOW);
});
afterEach(() => {
  for (const pid of starts()) {
    try {
      process.kill(pid);
    } catch {
      // Ended by the test already.
    }
  }
  rmSync(dir, { recursive: true, force: true });
});

const starts = (): number[] =>
  readFileSync(join(dir, 'starts'), 'utf8')
    .split('\n')
    .map(Number)
    .filter((pid) => pid > 0);

test('slow ones are waited for and found again, never doubled; dead ones are started anew', async () => {
  const base = await findOrLaunchStandIns(dir, program, 60);
  expect(await findOrLaunchStandIns(dir, program, 60)).toBe(base);
  expect(await findOrLaunchStandIns(dir, program, 60)).toBe(base);
  expect(starts()).toHaveLength(1);
  const [first] = starts();
  if (first === undefined) throw new Error('nothing was started');
  process.kill(first, 'SIGKILL');
  await new Promise((done) => setTimeout(done, 200));
  expect(await findOrLaunchStandIns(dir, program, 60)).not.toBe(base);
  expect(starts()).toHaveLength(2);
});

test('an address left by a process of another kind is not taken for a stand-in', async () => {
  writeFileSync(join(dir, 'address.json'), JSON.stringify({ port: 9, pid: process.pid }));
  const base = await findOrLaunchStandIns(dir, program, 60);
  expect(base).not.toContain(':9/');
  expect(starts()).toHaveLength(1);
});

test('a program that ends at once is said to have not started', async () => {
  writeFileSync(program, 'process.exit(3);');
  writeFileSync(join(dir, 'starts'), '');
  await expect(findOrLaunchStandIns(dir, program, 60)).rejects.toThrow('the printer stand-ins did not start');
});
