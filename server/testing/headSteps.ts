import fc from 'fast-check';
import { findPrinter } from '../db/findRows.ts';
import { readLoosePlot } from '../usecases/heads/checks.ts';
import { startHeadCare } from '../usecases/heads/headCare.ts';
import { PRINTERS, type World } from './floorSteps.ts';
import { TESTER } from './tester.ts';

type Named = readonly [name: string, step: (world: World) => void];

const printer = fc.constantFrom(...PRINTERS);
const share = fc.double({ min: 0, max: 0.999, noNaN: true });

/** Nozzles of one channel that print the same line are missing: enough of them that no mode takes it, or none. */
function read({ shop }: World, printerId: string, at: number, spoiled: boolean): void {
  const config = findPrinter(shop.db, printerId)?.config;
  const channel = config?.channels[Math.floor(at * config.channels.length)];
  if (!config || !channel) return;
  const nozzles = config.machine.nozzlesPerChannel;
  const missing = spoiled ? Array.from({ length: Math.ceil(nozzles / 8) }, (_, n) => n) : [];
  const found = { [channel.id]: { missing, weak: [], crooked: [], unjudged: [] } };
  readLoosePlot(shop, printerId, { by: 'eye', confidence: null, found }, TESTER);
}

/** What happens to heads: a channel is found spoiled, or well again; somebody starts to clean one. */
export function headStep(): fc.Arbitrary<Named> {
  return fc.oneof(
    {
      weight: 2,
      arbitrary: fc.tuple(printer, share).map(([id, at]): Named => [
        'a head is found spoiled',
        (world) => {
          read(world, id, at, true);
        },
      ]),
    },
    {
      weight: 3,
      arbitrary: fc.tuple(printer, share).map(([id, at]): Named => [
        'a head is found well',
        (world) => {
          read(world, id, at, false);
        },
      ]),
    },
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
