import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import * as fs from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { MemoryFiles, emptyMemory } from './memory.ts';

jest.mock('node:fs', () => ({ __esModule: true, ...jest.requireActual<object>('node:fs') }));

let dir: string;
beforeEach(() => {
  dir = mkdtempSync(join(tmpdir(), 'yellow-spool-memory-'));
});
afterEach(() => {
  jest.restoreAllMocks();
  rmSync(dir, { recursive: true, force: true });
});

test('on a full disk a printer prints on; its notes are written as soon as there is room, with the newest that it knows', () => {
  const said: string[] = [];
  const files = new MemoryFiles(dir, (text) => said.push(text));
  const memory = emptyMemory();
  files.save('heron', memory, false);
  const full = jest.spyOn(fs, 'writeFileSync').mockImplementation(() => {
    throw Object.assign(new Error('ENOSPC: no space left on device'), { code: 'ENOSPC' });
  });
  memory.seq = 7;
  expect(() => {
    files.save('heron', memory, false);
    files.save('heron', memory, false);
    files.saveUnsaved();
  }).not.toThrow();
  expect(said).toEqual([expect.stringContaining('notes of heron can')]);
  expect(new MemoryFiles(dir).load('heron', emptyMemory()).memory.seq).toBe(0);
  full.mockRestore();
  memory.seq = 9;
  files.saveUnsaved();
  expect(JSON.parse(readFileSync(join(dir, 'heron.json'), 'utf8'))).toMatchObject({ memory: { seq: 9 } });
  expect(said.at(-1)).toContain('written again');
  files.saveUnsaved();
  expect(said).toHaveLength(2);
});
