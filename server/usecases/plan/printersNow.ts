import type { PrinterView } from '../../../contract/api/floor.ts';
import { type CaredPrinter, printerViews } from '../../db/printerViews.ts';
import { runName } from '../../../core/flow/runName.ts';
import type { Shop } from '../../shop.ts';
import type { RunRow } from '../run/transitionRun.ts';
import { withCare } from './caredPrinters.ts';
import { queuedLine } from './lineOrder.ts';
import { startAnswer } from './mayStart.ts';

/**
 * Printers as they are now, with what holds the first run of their line back. What the device itself says stays in its row: the
 * dispatcher goes by that.
 */
export function printersNow(shop: Shop, id?: string): PrinterView[] {
  return withHeld(shop, withCare(shop, printerViews(shop.db, id)));
}

/** The same of printers that were read already. */
export function withHeld(shop: Shop, printers: readonly CaredPrinter[]): PrinterView[] {
  return printers.map((printer) => {
    const [first] = queuedLine(shop.db, printer.id);
    const answer = first && startAnswer(shop, first);
    const held = first && (answer?.ok === false ? { runId: first.id, ...answer.trouble } : renderingOf(shop, first));
    // A device that could print and may not is not idle: somebody has to bring what its next run lacks.
    const waits = printer.state === 'idle' && held?.hand === true;
    if (waits) return { ...printer, held, state: 'waiting', reason: held.brief };
    // That it is being rendered for is no trouble, but why it does not print yet.
    const why = printer.state === 'idle' && held?.code === 'rendering' ? { reason: held.brief } : {};
    return { ...printer, held: held ?? null, ...why };
  });
}

/** What a run that could be sent waits for still: its printer fires what is rendered here. */
function renderingOf(shop: Shop, { id, number }: RunRow): PrinterView['held'] {
  const rendering = shop.renderings.of(id);
  const name = runName(number);
  if (rendering === undefined) return null;
  if (rendering.kind === 'failed') {
    return {
      ...{ runId: id, code: 'rendering', hand: true, brief: 'its rendering' },
      text: `${name} can’t be rendered: ${rendering.why}`,
      way: 'Let its printer render by itself (Setup), or take the run back and change it.',
    };
  }
  const percent = String(Math.floor(rendering.share * 100));
  return {
    ...{ runId: id, code: 'rendering', hand: false, brief: `rendering, ${percent} %` },
    text: `${name} is being rendered: ${percent} % of it is there`,
    way: 'It is sent by itself as soon as it can be.',
  };
}
