import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { DataPaths } from '../files/paths.ts';

/** A data folder for the tests of one file; it is gone when they are over. */
export function testFolder(name: string): { readonly root: string; readonly paths: DataPaths } {
  const root = mkdtempSync(join(tmpdir(), `yellow-spool-${name}-`));
  const paths = new DataPaths(root);
  paths.make();
  afterAll(() => {
    rmSync(root, { recursive: true });
  });
  return { root, paths };
}
