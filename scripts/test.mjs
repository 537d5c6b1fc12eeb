// npm test: installs what is missing, then format, lint, walls, dead code, types, unit and browser tests. All are run, all are counted.
import { spawnSync } from 'node:child_process';
import { mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { ensureBrowser, ensurePackages, root } from './install.mjs';

ensurePackages();
ensureBrowser();
const { buildIfNeeded } = await import('./build.mjs');

const jestResult = join(root, 'dist', 'jest.json');
mkdirSync(join(root, 'dist'), { recursive: true });
rmSync(jestResult, { force: true });
const counts = { passed: 0, failed: 0 };

function step(name, command, args, count) {
  const started = performance.now();
  process.stdout.write(`\n── ${name}\n`);
  const done = spawnSync(command, args, {
    cwd: root,
    encoding: 'utf8',
    maxBuffer: 1 << 28,
    stdio: ['ignore', 'pipe', 'inherit'],
    env: { ...process.env, FORCE_COLOR: '0', NO_COLOR: '1' },
  });
  process.stdout.write(done.stdout);
  const ok = done.status === 0;
  const { passed, failed } = count?.(done.stdout) ?? { passed: ok ? 1 : 0, failed: ok ? 0 : 1 };
  counts.passed += passed;
  // A tool that ended badly has failed, whatever it counted.
  counts.failed += ok ? failed : Math.max(1, failed);
  process.stdout.write(
    `── ${name}: ${ok ? 'passed' : 'FAILED'} in ${((performance.now() - started) / 1000).toFixed(0)} s\n`,
  );
}

const bin = (name) => `node_modules/.bin/${name}`;

/** Playwright closes with lines such as `  2 failed` and `  19 passed (3.1m)`. */
function playwrightCounts(text) {
  const last = (word) => Number([...text.matchAll(new RegExp(`^ +(\\d+) ${word}\\b`, 'gm'))].pop()?.[1] ?? 0);
  return { passed: last('passed'), failed: last('failed') + last('did not run') };
}

step('format', bin('prettier'), ['--check', '--log-level', 'warn', '.']);
step('lint', bin('eslint'), ['.']);
step('import walls', bin('depcruise'), [
  '--config',
  '.dependency-cruiser.cjs',
  'core',
  'contract',
  'server',
  'web',
  'simulators',
  'e2e',
  'bench',
]);
step('dead code', bin('knip'), ['--no-config-hints']);
step('types', bin('tsc'), ['-b']);
step('unit tests', bin('jest'), ['--json', '--outputFile', jestResult], jestCounts);
await buildIfNeeded();
step('browser tests', bin('playwright'), ['test'], playwrightCounts);

function jestCounts() {
  const { numPassedTests, numFailedTests, numRuntimeErrorTestSuites } = JSON.parse(readFileSync(jestResult, 'utf8'));
  return { passed: numPassedTests, failed: numFailedTests + numRuntimeErrorTestSuites };
}

process.stdout.write(`\n${counts.passed} passed, ${counts.failed} failed\n`);
process.exit(counts.failed > 0 ? 1 : 0);
