import type { TimerProposals } from '../../../contract/api/care.ts';
import { proposeTimer } from '../../../core/care/proposeTimer.ts';
import { recurrenceText } from '../../../core/care/timerText.ts';
import { instantOf, wallTimeOf } from '../../../core/care/wallTime.ts';
import { findPrinter } from '../../db/findRows.ts';
import type { Shop } from '../../shop.ts';
import { readFloor } from '../plan/fit.ts';
import { exercisedMs } from '../../db/exercised.ts';
import { exercisingInstants } from './careOutlook.ts';
import { clogPace } from '../heads/idleSpells.ts';
import { designViews } from './designs.ts';
import { exerciseDoses } from './exercise.ts';
import { plannedWithPurges } from './plannedLines.ts';

const DAY_MS = 86_400_000;
const DAYS = 7;
/** Early, so that nobody waits for it. */
const AT = '04:15';

/**
 * Timers that would keep nozzles from clogging, one for each design where it is worth it: the rarest rhythm that is enough beside the
 * planned work and the timers that are there.
 */
export function timerProposals(shop: Shop): TimerProposals {
  const floor = readFloor(shop);
  const { lines } = plannedWithPurges(shop, floor).plan;
  const { nowMs } = floor;
  const { zone } = shop.clock;
  const tomorrow = `${wallTimeOf(nowMs + DAY_MS, zone).slice(0, 10)}T${AT}`;
  return designViews(shop).flatMap((design) => {
    const printer = findPrinter(shop.db, design.printerId);
    const line = lines.get(design.printerId);
    if (!printer || !line) return [];
    const known = exercisedMs(shop.db, printer);
    const doses = exerciseDoses(printer);
    const planned = exercisingInstants(shop, printer, line, floor);
    const { inkMl } = design.figures;
    const channels = printer.config.channels
      .filter(({ id }) => (inkMl[id] ?? 0) >= (doses[id] ?? Infinity))
      .map(({ id, heads, idleLimitH }) => ({
        limitH: idleLimitH,
        nozzles: printer.config.machine.nozzlesPerChannel * heads,
        pace: clogPace(shop.db, printer, id),
        // What nobody has seen fire is taken as fresh: its true age is not known.
        exercisedMs: Math.min(nowMs, known[id] ?? nowMs),
        plannedMs: planned.get(id) ?? [],
      }));
    const proposal = proposeTimer(channels, { nowMs, firstMs: instantOf(tomorrow, zone), days: DAYS });
    if (!proposal) return [];
    const { everyDays, times, clogs, clogsBefore } = proposal;
    const rrule = everyDays === 1 ? 'FREQ=DAILY' : `FREQ=DAILY;INTERVAL=${String(everyDays)}`;
    const ml = Object.values(inkMl).reduce((sum, each) => sum + each, 0);
    return [
      {
        printerId: printer.id,
        designId: design.id,
        title: design.name,
        rrule,
        startLocal: tomorrow,
        text: recurrenceText({ rrule, startLocal: tomorrow, untilLocal: null }),
        times,
        inkMl: ml * times,
        costMinor: design.figures.costMinor * times,
        currency: design.figures.currency,
        clogs,
        clogsBefore,
      },
    ];
  });
}
