import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';

const DOC = readFileSync('docs/formats.md', 'utf8');

/** Every test file by its name. */
const TESTS = new Map(
  ['server/render', 'server/ingest'].flatMap((folder) =>
    readdirSync(folder, { recursive: true, encoding: 'utf8' })
      .filter((name) => name.endsWith('.test.ts'))
      .map((name) => [name.replace(/^.*\//, ''), readFileSync(join(folder, name), 'utf8')] as const),
  ),
);

const claims = [...DOC.matchAll(/`(\w+\.test\.ts)`\s+([^|)]+?)\s*[|)]/g)].map(
  ([, file = '', title = '']) => [file, title.replace(/\s+/g, ' ')] as const,
);

test('the page on formats claims a good deal, and each row of it has a test', () => {
  const rows = DOC.split('\n').filter((line) => line.startsWith('| ') && !/^\| what |^\| -/.test(line));
  expect(rows.length).toBeGreaterThan(30);
  expect(rows.filter((row) => !/`\w+\.test\.ts` \S/.test(row))).toEqual([]);
  expect(claims.length).toBeGreaterThanOrEqual(rows.length);
});

test.each(claims)('%s holds what is claimed of it: %s', (file, title) => {
  expect(TESTS.get(file)).toContain(title);
});
