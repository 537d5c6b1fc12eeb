/*
 * Kills the server again and again, during ingest, dispatch and printing, and then looks whether anything was lost, doubled or
 * not accounted for. Usage: npm run build && npm run bench:crash [-- kills]
 */
import { seededRandom } from '../core/random.ts';
import { crash } from '../e2e/driver/crashes.ts';
import { TestShop } from '../e2e/driver/shop.ts';

const kills = Number(process.argv[2] ?? 200);
const shop = await TestShop.open({ rate: 240 });
try {
  const start = performance.now();
  const { files, cut, faults } = await crash(shop, kills, seededRandom(17), (text) => {
    process.stdout.write(`${text}, ${((performance.now() - start) / 1000).toFixed(0)} s\n`);
  });
  process.stdout.write(
    `${String(kills)} kills, ${String(cut)} in the middle of a person's work, ${String(files)} files: ${faults.length === 0 ? 'nothing lost, nothing twice, every metre booked once' : faults.join('; ')}\n`,
  );
  process.exitCode = faults.length === 0 ? 0 : 1;
} finally {
  await shop.close();
}
