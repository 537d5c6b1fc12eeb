import type { Actor } from '../../../core/events/actor.ts';
import { type Hand, type HandAct, nextHands } from '../../../core/schedule/nextHands.ts';
import { handsPrinter } from '../../../core/schedule/handsInput.ts';
import type { Line } from '../../../core/schedule/plan.ts';
import { Refused, type Shop } from '../../shop.ts';
import { confirmBack } from '../layout/twoSides.ts';
import { loadSpool } from '../media/loadSpool.ts';
import { readFloor } from './fit.ts';
import { withHeld } from './printersNow.ts';
import { plannedWithPurges } from '../care/plannedLines.ts';

/** What people have to do, in the order of time and urgency. What others could take of a printer that stands is not among it. */
export function handsNow(shop: Shop): Hand[] {
  const floor = readFloor(shop);
  const { lines } = plannedWithPurges(shop, floor).plan;
  const names = {
    runs: new Map(floor.runs.map((run) => [run.id, run])),
    stocks: new Map(Object.values(floor.stocks).map(({ id, name }) => [id, name])),
    spools: new Map(floor.spools.map(({ id, label }) => [id, label])),
  };
  const printers = withHeld(shop, floor.printers).map((printer) => {
    const runs = floor.runs.filter(({ printerId }) => printerId === printer.id);
    return handsPrinter(printer, runs, lines.get(printer.id) as Line, null, floor.nowMs);
  });
  return nextHands(printers, names, floor.nowMs);
}

/** What only a device can be told. */
export interface HandDevices {
  readonly resume: (runId: string) => Promise<void>;
  readonly emptied: (printerId: string) => Promise<void>;
}

/**
 * A person says that a hand is done. Refused where that hand is not wanted any more: somebody else has done it, or something else
 * is wanted now.
 */
export async function handDone(shop: Shop, key: string, actor: Actor, devices: HandDevices): Promise<void> {
  const hand = handsNow(shop).find((each) => each.key === key);
  if (!hand) {
    throw new Refused(
      409,
      'hand-changed',
      'That is done already, or something else is wanted now.',
      undefined,
      'Look at the next hands again.',
    );
  }
  if (!hand.act) {
    throw new Refused(409, 'no-tick', `${hand.text} can't be ticked off from here.`, undefined, hand.way);
  }
  await act(shop, hand, hand.act, actor, devices);
}

async function act(shop: Shop, { printerId }: Hand, what: HandAct, actor: Actor, devices: HandDevices): Promise<void> {
  switch (what.kind) {
    case 'load':
      await loadSpool(shop, what.spoolId, { printerId, sourceId: what.sourceId }, actor);
      return;
    case 'emptied':
      await devices.emptied(printerId);
      return;
    case 'resume':
      await devices.resume(what.runId);
      return;
    case 'confirm back':
      confirmBack(shop, what.runId, what.spoolId, actor);
  }
}
