/* Reads every label of the application and writes where it stands, for `/`. Usage: npm run fields, after labels have changed. */
import { writeFileSync } from 'node:fs';
import { openBrowser } from '../bench/browser.ts';
import { labelsAt, PLACES, ShopNames } from '../e2e/driver/labels.ts';
import { TestShop } from '../e2e/driver/shop.ts';

interface Field {
  readonly label: string;
  readonly path: string;
  readonly open: readonly string[];
}

/** They are on every view, and are found as what they do. */
const OF_THE_RAIL = ['Floor', 'Intake', 'Bench', 'Media', 'Pace', 'Shelf', 'Setup', 'Find', 'Keys', 'Help', 'You'];

const shop = await TestShop.open({ demo: true });
const browser = await openBrowser();
try {
  const page = await browser.newPage({ viewport: { width: 1280, height: 900 } });
  const names = await ShopNames.of(shop);
  const found = new Map<string, Field>();
  for (const place of PLACES) {
    const labels = await labelsAt(page, shop.url, place, names);
    if (labels.length === 0) console.warn(`nothing was read at ${place.path} ${place.open.join(', ')}`);
    // Where a label stands first is where it is: sheets and tabs come behind the views that they belong to.
    for (const label of labels)
      if (!OF_THE_RAIL.includes(label) && !found.has(label.toLowerCase()))
        found.set(label.toLowerCase(), { label, path: place.path, open: place.open });
  }
  const fields = [...found.values()].sort((a, b) => a.path.localeCompare(b.path) || a.label.localeCompare(b.label));
  writeFileSync('web/app/find/fieldIndex.json', `${JSON.stringify(fields, null, 2)}\n`);
  console.log(`${String(fields.length)} labels of ${String(PLACES.length)} places`);
} finally {
  await browser.close();
  await shop.close();
}
