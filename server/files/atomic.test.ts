import { mkdtempSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import type { FileHandle } from 'node:fs/promises';
import * as files from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { storeFile, writeAll, writeWhole } from './atomic.ts';

jest.mock('node:fs/promises', () => ({ __esModule: true, ...jest.requireActual<object>('node:fs/promises') }));

let dir: string;
beforeEach(() => {
  dir = mkdtempSync(join(tmpdir(), 'yellow-spool-atomic-'));
});
afterEach(() => {
  jest.restoreAllMocks();
  rmSync(dir, { recursive: true, force: true });
});

/** A disk that takes so many bytes at a time, and then no more. */
function stingy(atATime: number, inAll = Infinity) {
  const taken: number[] = [];
  const write = (chunk: Uint8Array, from: number, length: number) => {
    const n = Math.max(0, Math.min(atATime, length, inAll - taken.length));
    taken.push(...chunk.subarray(from, from + n));
    return Promise.resolve({ bytesWritten: n, buffer: chunk });
  };
  return { taken, handle: { write } as unknown as Pick<FileHandle, 'write'> };
}

test('a disk that takes a part of each write gets all of it in the end', async () => {
  const bytes = Uint8Array.from({ length: 1000 }, (_, i) => i % 251);
  const { taken, handle } = stingy(7);
  await writeAll(handle, bytes);
  expect(Uint8Array.from(taken)).toEqual(bytes);
});

test('one that takes nothing more is full, not done', async () => {
  await expect(writeAll(stingy(7, 30).handle, new Uint8Array(100))).rejects.toMatchObject({ code: 'ENOSPC' });
});

test('a file whose writing fails leaves neither half of it nor a temporary one', async () => {
  const target = join(dir, 'a.json');
  await writeWhole(target, 'old');
  const { open } = files;
  jest.spyOn(files, 'open').mockImplementation(async (...args) => {
    const handle = await open(...args);
    jest.spyOn(handle, 'sync').mockRejectedValue(Object.assign(new Error('ENOSPC'), { code: 'ENOSPC' }));
    return handle;
  });
  await expect(writeWhole(target, 'new')).rejects.toThrow('ENOSPC');
  expect([readFileSync(target, 'utf8'), readdirSync(dir)]).toEqual(['old', ['a.json']]);
});

test('many pieces are one file, also where the disk takes them bit by bit', async () => {
  const target = join(dir, 'dots');
  const pieces = Array.from({ length: 1300 }, (_, i) => new Uint8Array(i % 7).fill(i));
  const { open } = files;
  jest.spyOn(files, 'open').mockImplementation(async (...args) => {
    const handle = await open(...args);
    const write = handle.write.bind(handle);
    jest
      .spyOn(handle, 'write')
      .mockImplementation(((bytes: Uint8Array, from: number, count: number) =>
        write(bytes, from, Math.min(count, 3))) as typeof handle.write);
    return handle;
  });
  await writeWhole(target, pieces);
  expect(readFileSync(target).equals(Buffer.concat(pieces))).toBe(true);
});

test('what is stored is on the disk with its folder: file first, then the name', async () => {
  const order: string[] = [];
  const { open } = files;
  jest.spyOn(files, 'open').mockImplementation(async (...args) => {
    const handle = await open(...args);
    const sync = handle.sync.bind(handle);
    jest.spyOn(handle, 'sync').mockImplementation(() => {
      order.push(String(args[0]).endsWith('.part') ? 'file' : 'folder');
      return sync();
    });
    return handle;
  });
  const { rename } = files;
  jest.spyOn(files, 'rename').mockImplementation((from, to) => {
    order.push('name');
    return rename(from, to);
  });
  const from = join(dir, 'from');
  writeFileSync(from, 'artwork');
  const { sha256 } = await storeFile(from, join(dir, 'tmp'), (hash) => join(dir, 'files', hash.slice(0, 2), hash));
  expect(order).toEqual(['file', 'name', 'folder', 'folder']);
  expect(readFileSync(join(dir, 'files', sha256.slice(0, 2), sha256), 'utf8')).toBe('artwork');
});
