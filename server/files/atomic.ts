import { createHash } from 'node:crypto';
import { constants, createReadStream } from 'node:fs';
import { type FileHandle, access, mkdir, open, rename, rm, unlink, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';

/**
 * Writes beside the target, flushes to disk, renames: readers see the whole file or none.
 * @param data one piece, or many one behind the other
 * @param options.flush false for what can be made again
 */
export async function writeWhole(
  target: string,
  data: Uint8Array | string | readonly Uint8Array[],
  options: { readonly flush: boolean } = { flush: true },
): Promise<void> {
  await mkdir(dirname(target), { recursive: true });
  // A name of its own: the target's may be as long as names can be.
  const temporary = join(dirname(target), `.${crypto.randomUUID().slice(0, 13)}.part`);
  const handle = await open(temporary, 'w');
  try {
    if (typeof data === 'string' || data instanceof Uint8Array) await writeFile(handle, data);
    else for (const piece of data) await writeAll(handle, piece);
    if (options.flush) await handle.sync();
  } catch (error) {
    await handle.close();
    await rm(temporary, { force: true });
    throw error;
  }
  await handle.close();
  await rename(temporary, target);
  if (options.flush) await syncFolder(dirname(target));
}

/** A file that was renamed is there after a power cut only once its folder is written, too. */
export async function syncFolder(dir: string): Promise<void> {
  // Elsewhere folders can't be opened, and need not be.
  if (process.platform === 'win32') return;
  const handle = await open(dir, 'r');
  try {
    await handle.sync();
  } finally {
    await handle.close();
  }
}

/** Writes all of it: a single write may take a part only, as when the disk fills up. */
export async function writeAll(handle: Pick<FileHandle, 'write'>, chunk: Uint8Array): Promise<void> {
  for (let from = 0; from < chunk.length;) {
    const { bytesWritten } = await handle.write(chunk, from, chunk.length - from);
    if (bytesWritten === 0) throw Object.assign(new Error('ENOSPC: nothing more could be written'), { code: 'ENOSPC' });
    from += bytesWritten;
  }
}

/**
 * Copies a file into the content-addressed store: to a temporary name, hashed on the way, flushed, then renamed to its
 * hash. A file that is there already is not written again.
 */
export async function storeFile(
  from: string,
  temporaryDir: string,
  targetFor: (sha256: string) => string,
): Promise<{ sha256: string; bytes: number }> {
  await mkdir(temporaryDir, { recursive: true });
  const temporary = join(temporaryDir, `${String(process.pid)}-${crypto.randomUUID()}.part`);
  const hash = createHash('sha256');
  const handle = await open(temporary, 'w');
  let bytes = 0;
  try {
    for await (const chunk of createReadStream(from, { highWaterMark: 1 << 20 }) as AsyncIterable<Buffer>) {
      hash.update(chunk);
      bytes += chunk.length;
      await writeAll(handle, chunk);
    }
    await handle.sync();
  } catch (error) {
    await handle.close();
    await unlink(temporary);
    throw error;
  }
  await handle.close();
  const sha256 = hash.digest('hex');
  const target = targetFor(sha256);
  if (await exists(target)) {
    await unlink(temporary);
  } else {
    const made = await mkdir(dirname(target), { recursive: true });
    await rename(temporary, target);
    await syncFolder(dirname(target));
    // A folder that is new has to be there, too.
    if (made !== undefined) await syncFolder(dirname(dirname(target)));
  }
  return { sha256, bytes };
}

/** Whether something is at a path. */
export async function exists(path: string): Promise<boolean> {
  try {
    await access(path, constants.F_OK);
    return true;
  } catch {
    return false;
  }
}

/** Hash and size of a file that may be there. */
export async function fileFacts(path: string): Promise<{ sha256: string; bytes: number } | undefined> {
  if (!(await exists(path))) return undefined;
  const hash = createHash('sha256');
  let bytes = 0;
  for await (const chunk of createReadStream(path, { highWaterMark: 1 << 20 }) as AsyncIterable<Buffer>) {
    hash.update(chunk);
    bytes += chunk.length;
  }
  return { sha256: hash.digest('hex'), bytes };
}
