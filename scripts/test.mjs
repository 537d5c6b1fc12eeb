// npm test: installs what is missing, then format, lint, walls, dead code, types, unit and browser tests. All are run, all are counted.
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { ensureBrowser, ensurePackages, root } from './install.mjs';

ensurePackages();
ensureBrowser();
const { buildIfNeeded } = await import('./build.mjs');

const jestResult = join(root, 'dist', 'jest.json');
mkdirSync(join(root, 'dist'), { recursive: true });
rmSync(jestResult, { force: true });
const counts = { passed: 0, failed: 0 };

/** Runs one tool; what it says is printed in one piece, since two may run side by side. */
async function step(name, command, args, count, env = {}) {
  const started = performance.now();
  const tool = spawn(command, args, {
    cwd: root,
    stdio: ['ignore', 'pipe', 'pipe'],
    env: { ...process.env, FORCE_COLOR: '0', NO_COLOR: '1', ...env },
  });
  let out = '';
  let all = '';
  tool.stdout.on('data', (chunk) => {
    out += chunk;
    all += chunk;
  });
  tool.stderr.on('data', (chunk) => {
    all += chunk;
  });
  const ok = await new Promise((done) => {
    tool.on('error', () => done(false));
    tool.on('close', (status) => done(status === 0));
  });
  const { passed, failed } = count?.(out) ?? { passed: ok ? 1 : 0, failed: ok ? 0 : 1 };
  counts.passed += passed;
  // A tool that ended badly has failed, whatever it counted.
  counts.failed += ok ? failed : Math.max(1, failed);
  const seconds = ((performance.now() - started) / 1000).toFixed(0);
  process.stdout.write(`\n── ${name}\n${all}── ${name}: ${ok ? 'passed' : 'FAILED'} in ${seconds} s\n`);
}

const bin = (name) => `node_modules/.bin/${name}`;

/** Playwright closes with lines such as `  2 failed` and `  19 passed (3.1m)`. */
function playwrightCounts(text) {
  const last = (word) => Number([...text.matchAll(new RegExp(`^ +(\\d+) ${word}\\b`, 'gm'))].pop()?.[1] ?? 0);
  return { passed: last('passed'), failed: last('failed') + last('did not run') };
}

const folders = ['core', 'contract', 'server', 'web', 'simulators', 'crew', 'e2e', 'bench'];

// The servers of the browser tests write down what they ask the database; afterwards each statement is looked at.
rmSync(join(root, 'dist', 'statements'), { recursive: true, force: true });
// Lint is one long thread: the other checks fit beside it, and the unit tests begin there.
await Promise.all([
  // What has not changed since it was last found well is not looked at again; types across files are the part of `types`.
  step('lint', bin('eslint'), [
    '.',
    '--cache',
    '--cache-strategy',
    'content',
    '--cache-location',
    'node_modules/.cache/eslint/',
  ]),
  (async () => {
    await step('format', bin('prettier'), ['--check', '--log-level', 'warn', '.']);
    await step('import walls', bin('depcruise'), ['--config', '.dependency-cruiser.cjs', ...folders]);
    await step('dead code', bin('knip'), ['--no-config-hints']);
    // One pass for the types and for the rules that need them.
    await step('types', bin('oxlint'), ['--type-aware', '--type-check']);
    await buildIfNeeded();
    // The build that was made in this process leaves it in production, where components can't be tested.
    await step('unit tests', bin('jest'), ['--json', '--outputFile', jestResult], jestCounts, { NODE_ENV: 'test' });
  })(),
]);
await step('browser tests', bin('playwright'), ['test'], playwrightCounts);
await step('query plans', bin('tsx'), ['scripts/queryPlans.ts']);

function jestCounts() {
  if (!existsSync(jestResult)) return { passed: 0, failed: 1 };
  const { numPassedTests, numFailedTests, numRuntimeErrorTestSuites } = JSON.parse(readFileSync(jestResult, 'utf8'));
  return { passed: numPassedTests, failed: numFailedTests + numRuntimeErrorTestSuites };
}

process.stdout.write(`\n${counts.passed} passed, ${counts.failed} failed\n`);
process.exit(counts.failed > 0 ? 1 : 0);
