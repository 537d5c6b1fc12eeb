import { existsSync, mkdirSync, utimesSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';
import { testFolder } from '../testing/testFolder.ts';
import { pruneRendered, renderedBytes, wasUsed } from './renderedData.ts';

const { paths } = testFolder('rendered');

function put(path: string, bytes: number): void {
  mkdirSync(dirname(path), { recursive: true });
  writeFileSync(path, new Uint8Array(bytes));
}

test('of runs and coats what was used longest ago goes first, whole; what is needed stays', async () => {
  put(paths.laidOut('needed'), 100);
  put(paths.laidOut('old'), 200);
  for (const part of [0, 1])
    for (const file of ['dots', 'cells', 'json'] as const) put(paths.coatPart('seen', part, file), 50);
  put(paths.coatPart('stale', 0, 'dots'), 400);
  const age = (path: string, seconds: number): void => {
    utimesSync(path, seconds, seconds);
  };
  age(paths.laidOut('needed'), 1000);
  age(paths.coat('stale'), 2000);
  age(paths.laidOut('old'), 3000);
  age(paths.coat('seen'), 1500);
  await wasUsed(paths.coat('seen'));
  expect(await renderedBytes(paths.rendered)).toEqual({ files: 4, bytes: 1000 });
  const needed = new Set(['pdf needed']);
  const isNeeded = (kind: string, key: string): boolean => needed.has(`${kind} ${key}`);
  expect(await pruneRendered(paths.rendered, 1000, isNeeded)).toBe(0);
  expect(await pruneRendered(paths.rendered, 700, isNeeded)).toBe(1);
  expect(existsSync(paths.coat('stale'))).toBe(false);
  expect(await pruneRendered(paths.rendered, 450, isNeeded)).toBe(1);
  expect(existsSync(paths.laidOut('old'))).toBe(false);
  // A coat that a printer prints from stays; else it is the last that may go, and goes with all of its parts.
  needed.add('coat seen');
  expect(await pruneRendered(paths.rendered, 10, isNeeded)).toBe(0);
  expect(existsSync(paths.coat('seen'))).toBe(true);
  needed.delete('coat seen');
  expect(await pruneRendered(paths.rendered, 10, isNeeded)).toBe(1);
  expect([existsSync(paths.coat('seen')), existsSync(paths.laidOut('needed'))]).toEqual([false, true]);
});
