import fc from 'fast-check';
import { findPrinter } from '../db/findRows.ts';
import { readLoosePlot } from '../usecases/heads/checks.ts';
import { startHeadCare } from '../usecases/heads/headCare.ts';
import { PRINTERS, type World } from './floorSteps.ts';
import { TESTER } from './tester.ts';

type Named = readonly [name: string, step: (world: World) => void];

const printer = fc.constantFrom(...PRINTERS);

/** Of every channel an eighth of the nozzles is missing, side by side: no mode takes that. Or every nozzle prints. */
function read({ shop }: World, printerId: string, spoiled: boolean): void {
  const config = findPrinter(shop.db, printerId)?.config;
  if (!config) return;
  const eighth = Math.ceil(config.machine.nozzlesPerChannel / 8);
  const missing = spoiled ? Array.from({ length: eighth }, (_, n) => n) : [];
  const found = Object.fromEntries(
    config.channels.map(({ id }) => [id, { missing, weak: [], crooked: [], unjudged: [] }]),
  );
  readLoosePlot(shop, printerId, { by: 'eye', confidence: null, found }, TESTER);
}

/** What happens to heads: those of a printer are found spoiled, or well again; somebody starts to clean one. */
export function headStep(): fc.Arbitrary<Named> {
  const reads = (name: string, spoiled: boolean) =>
    printer.map((id): Named => [
      name,
      (world) => {
        read(world, id, spoiled);
      },
    ]);
  return fc.oneof(
    { weight: 2, arbitrary: reads('heads are found spoiled', true) },
    { weight: 3, arbitrary: reads('heads are found well', false) },
    {
      weight: 1,
      arbitrary: printer.map((id): Named => [
        'a head is cleaned',
        ({ shop }) => {
          const channelIds = (findPrinter(shop.db, id)?.config.channels ?? []).slice(0, 1).map((channel) => channel.id);
          startHeadCare(shop, id, { action: 'light', channelIds, check: true }, TESTER);
        },
      ]),
    },
  );
}
