// Packages of hundreds of small files, put into one file each before the unit tests: every test file reads them anew.
import { join, resolve } from 'node:path';
import { build } from 'esbuild';

const root = resolve(import.meta.dirname, '..');

export default async function bundleForTests() {
  await build({
    absWorkingDir: root,
    entryPoints: {
      typebox: 'typebox',
      'date-fns': 'date-fns',
      'pdf-lib': '@cantoo/pdf-lib',
      xmlbuilder2: 'xmlbuilder2',
    },
    outdir: join(root, 'dist', 'jest'),
    outExtension: { '.js': '.cjs' },
    bundle: true,
    platform: 'node',
    target: 'node20',
    format: 'cjs',
    logLevel: 'warning',
  });
}
