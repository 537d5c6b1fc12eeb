// Builds server, stand-ins and pages into dist/. Nothing is rebuilt while no source has changed.
import { createHash } from 'node:crypto';
import { cpSync, existsSync, mkdirSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = resolve(import.meta.dirname, '..');
const dist = join(root, 'dist');
const stampFile = join(dist, 'sources.sha256');
const sources = [
  'core',
  'contract',
  'server',
  'simulators',
  'crew',
  'web',
  'scripts/build.mjs',
  'vite.config.ts',
  'package-lock.json',
];

function* filesOf(path) {
  if (!existsSync(path)) return;
  const entries = readdirSync(path, { withFileTypes: true }).sort((a, b) => (a.name < b.name ? -1 : 1));
  for (const entry of entries) {
    const full = join(path, entry.name);
    if (entry.isDirectory()) yield* filesOf(full);
    else if (!entry.name.includes('.test.')) yield full;
  }
}

function sourceStamp() {
  const hash = createHash('sha256');
  for (const source of sources) {
    const path = join(root, source);
    const files = /\.\w+$/.test(source) ? [path] : [...filesOf(path)];
    for (const file of files) hash.update(file).update('\0').update(readFileSync(file));
  }
  return hash.digest('hex');
}

/** @returns {Promise<boolean>} whether anything had to be built */
export async function buildIfNeeded() {
  const stamp = sourceStamp();
  if (existsSync(stampFile) && readFileSync(stampFile, 'utf8') === stamp) return false;
  rmSync(stampFile, { force: true });
  const [{ build: bundle }, { build: buildWeb }] = await Promise.all([import('esbuild'), import('vite')]);
  for (const folder of ['server', 'stand-in', 'crew', 'chunks'])
    rmSync(join(dist, folder), { recursive: true, force: true });
  mkdirSync(dist, { recursive: true });
  await Promise.all([
    bundle({
      absWorkingDir: root,
      entryPoints: {
        'server/main': 'server/main.ts',
        'server/worker': 'server/work/worker.ts',
        'stand-in/main': 'simulators/main.ts',
        'crew/main': 'crew/main.ts',
      },
      outdir: dist,
      outExtension: { '.js': '.mjs' },
      bundle: true,
      platform: 'node',
      target: 'node20',
      format: 'esm',
      // Read from a few files in place of two thousand, a server and each of its threads are there sooner. What brings code of the
      // machine, WebAssembly, data files or threads of its own stays where it is installed.
      external: [
        'better-sqlite3',
        'sharp',
        'piscina',
        '@hyzyla/pdfium',
        'lcms-wasm',
        'pino',
        'pdfkit',
        'svg-to-pdfkit',
        '@resvg/resvg-js',
      ],
      // Packages in the older form ask for others by `require`.
      banner: {
        js: "import { createRequire as requireFrom } from 'node:module'; const require = requireFrom(import.meta.url);",
      },
      splitting: true,
      chunkNames: 'chunks/[name]-[hash]',
      sourcemap: true,
      logLevel: 'warning',
    }),
    buildWeb({ root: join(root, 'web'), configFile: join(root, 'vite.config.ts'), logLevel: 'warn' }),
  ]);
  rmSync(join(dist, 'migrations'), { recursive: true, force: true });
  cpSync(join(root, 'server', 'db', 'migrations'), join(dist, 'migrations'), { recursive: true });
  cpSync(join(root, 'server', 'demo', 'profiles'), join(dist, 'profiles'), { recursive: true });
  writeFileSync(stampFile, stamp);
  return true;
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  process.stdout.write((await buildIfNeeded()) ? 'Built.\n' : 'Nothing has changed since the last build.\n');
}
