/*
 * Makes a shop with three years behind it in a data folder of its own, to try things on: 100,000 jobs, 25,000 runs,
 * 300,000 pieces, 600 spools, a million events. Usage: npx tsx scripts/oldShop.ts DIR [short|new]
 * Then: npm start -- --data DIR
 */
import { existsSync, readdirSync } from 'node:fs';
import { NEW_SHOP, SHORT_HISTORY, THREE_YEARS, makeOldShop } from '../server/testing/oldShop.ts';

const [dir, size = 'old'] = process.argv.slice(2);
if (dir === undefined) throw new Error('Say where: npx tsx scripts/oldShop.ts DIR');
if (existsSync(dir) && readdirSync(dir).length > 0) throw new Error(`${dir} is not empty.`);
const start = performance.now();
await makeOldShop(dir, size === 'short' ? SHORT_HISTORY : size === 'new' ? NEW_SHOP : THREE_YEARS);
process.stdout.write(`Made in ${((performance.now() - start) / 1000).toFixed(1)} s: ${dir}\n`);
