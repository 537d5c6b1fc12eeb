import { eq } from 'drizzle-orm';
import type { PrinterConfig } from '../../../contract/api/floor.ts';
import { printers } from '../../db/tables/floorTables.ts';
import { type CareShop, WREN_SHEET, daily, openCareShop, whitePurge } from '../../testing/careFixture.ts';
import { TESTER } from '../../testing/tester.ts';
import { copyOfDesign, createDesign, removeDesign } from '../../usecases/care/designs.ts';
import { removeTimer } from '../../usecases/care/timers.ts';
import { changePrinter, removePrinter } from '../../usecases/setup/printers.ts';

let shop: CareShop['shop'];
let close: () => void;
beforeEach(() => {
  ({ shop, close } = openCareShop());
});
afterEach(() => {
  close();
});

test('designs: what can not be printed is refused; a copy says what differs; one that a timer prints stays', () => {
  expect(() => whitePurge(shop, { white: 0 })).toThrow('No channel is fired.');
  expect(() => whitePurge(shop, { green: 1, white: 1 })).toThrow('Wren has no channel green.');
  const id = whitePurge(shop, { white: 1, cyan: 0.3 });
  const { body, differences } = copyOfDesign(shop.db, id, 'bittern');
  expect(Object.keys(body.sheet.levels)).toEqual(['cyan']);
  expect(differences).toContain('Bittern has no white; it is left out.');
  // Bittern has rolls only: what is loaded there, as wide as it prints.
  expect(body.sheet).toMatchObject({ form: 'roll', lengthMm: 150 });
  expect(differences.some((text) => text.startsWith('Printed on ') && text.endsWith(', which Bittern can take.'))).toBe(
    true,
  );
  expect(() => copyOfDesign(shop.db, id, 'puffin')).toThrow('Puffin takes no media');
  expect(differences.some((text) => text.endsWith('is not in the design; it is not fired.'))).toBe(true);
  const timerId = daily(shop, id);
  expect(() => {
    removeDesign(shop, id, TESTER);
  }).toThrow('is printed by 1 timer');
  removeTimer(shop, timerId, TESTER);
  removeDesign(shop, id, TESTER);
  expect(() => daily(shop, id)).toThrow('There is no purge design');
});

test('a printer can not be changed so that its purges are no longer possible; one with timers or purges is not removed', () => {
  const designId = whitePurge(shop);
  daily(shop, designId);
  const config = () => shop.db.select().from(printers).where(eq(printers.id, 'wren')).get()?.config as PrinterConfig;
  const changed = (change: Partial<PrinterConfig>) => () => {
    changePrinter(shop, 'wren', { config: { ...config(), ...change } }, TESTER);
  };
  expect(changed({ modes: config().modes.filter(({ id }) => id !== 'draft') })).toThrow(
    'Its purge White, light would not be possible any more: Wren has no print mode draft.',
  );
  expect(changed({ printableWidthMm: 200 })).toThrow('310\u00a0mm of 200\u00a0mm');
  expect(changed({ channels: config().channels.filter(({ id }) => id !== 'white') })).toThrow('No channel is fired.');
  changed({ leadMm: 20 })();
  expect(() => {
    removePrinter(shop, 'wren', TESTER);
  }).toThrow(/timers and purges/);
});

test('a purge lies on its media: not wider than it, and on a sheet of its own size', () => {
  const design =
    (sheet: Partial<Parameters<typeof createDesign>[1]['sheet']>, stockId = 'film-sheet') =>
    () =>
      createDesign(
        shop,
        {
          ...{ printerId: 'wren', name: 'White', modeId: 'draft', stockId, onlyNeeded: false },
          sheet: { ...WREN_SHEET, levels: { white: 1 }, ...sheet },
        },
        TESTER,
      );
  expect(design({ lengthMm: 300 })).toThrow('A sheet of Film sheet 320 × 450 is 450\u00a0mm long, not 300\u00a0mm.');
  expect(design({ widthMm: 400 })).toThrow('400\u00a0mm of 320\u00a0mm');
  expect(design({ form: 'roll', widthMm: 430 }, 'film-610')).toThrow(/There is no stock|of/);
  expect(design({ form: 'roll', widthMm: 430, lengthMm: 200 }, 'film-450')).not.toThrow();
  expect(design({ form: 'roll', widthMm: 430, lengthMm: 90_000 }, 'film-450')).toThrow('longer than a purge can be');
});
