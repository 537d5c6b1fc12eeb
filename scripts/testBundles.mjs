/*
 * Before the unit tests: each test file is put into one file together with the sources that it imports, and so are packages that
 * consist of hundreds of files. A test file reads its modules anew, and sources that call each other across modules compute at
 * less than half of their speed there.
 */
import { readFileSync, readdirSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join, resolve } from 'node:path';
import { pathToFileURL } from 'node:url';
import { build } from 'esbuild';

const { bundleDir, replacesModules } = createRequire(import.meta.url)('./bundledTest.cjs');
const root = resolve(import.meta.dirname, '..');

const LANGUAGE = [
  'Math',
  'Number',
  'Object',
  'Array',
  'String',
  'Map',
  'Set',
  'WeakMap',
  'Symbol',
  'JSON',
  'Promise',
  'Error',
  'Float64Array',
  'Float32Array',
  'Int32Array',
  'Uint32Array',
  'Uint8Array',
];

const common = {
  absWorkingDir: root,
  bundle: true,
  platform: 'node',
  target: 'node20',
  format: 'cjs',
  logLevel: 'warning',
  // What belongs to the language is looked up once for each file: each look at Jest's global object takes longer than most sums.
  // Clocks and timers are not among it, since tests put others in their place.
  banner: { js: `const { ${LANGUAGE.join(', ')} } = globalThis;` },
};

export default async function bundleForTests() {
  await build({
    ...common,
    entryPoints: {
      typebox: 'typebox',
      'date-fns': 'date-fns',
      'p-queue': 'p-queue',
      'pdf-lib': '@cantoo/pdf-lib',
      xmlbuilder2: 'xmlbuilder2',
      geotiff: 'geotiff',
    },
    outdir: join(root, 'dist', 'jest'),
    outExtension: { '.js': '.cjs' },
  });
  const lcms = join(root, 'node_modules', 'lcms-wasm', 'dist', 'lcms.js');
  await build({
    ...common,
    entryPoints: { 'lcms-wasm': lcms },
    outdir: join(root, 'dist', 'jest'),
    outExtension: { '.js': '.cjs' },
    // It looks for its WebAssembly beside itself.
    define: { 'import.meta.url': JSON.stringify(pathToFileURL(lcms).href) },
    supported: { 'dynamic-import': false },
  });
  await build({
    ...common,
    entryPoints: testFiles(),
    outdir: bundleDir,
    outbase: root,
    packages: 'external',
    jsx: 'automatic',
    sourcemap: 'linked',
    // Where a source stands is asked by the browser's bundle and by the program's own start only.
    define: { 'import.meta.url': '"file:///"' },
  });
}

function testFiles() {
  return ['core', 'server', 'simulators', 'crew', 'web']
    .flatMap((folder) => readdirSync(join(root, folder), { recursive: true }).map((name) => join(root, folder, name)))
    .filter((file) => /\.test\.tsx?$/.test(file) && !replacesModules(readFileSync(file, 'utf8')));
}
