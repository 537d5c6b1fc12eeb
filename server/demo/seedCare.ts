import { addDays, startOfDay } from 'date-fns';
import { tz } from '@date-fns/tz';
import { wallTimeOf } from '../../core/care/wallTime.ts';
import type { CareWhat } from '../../core/care/careData.ts';
import { PROGRAM } from '../../core/events/actor.ts';
import type { Shop } from '../shop.ts';
import { createDesign } from '../usecases/care/designs.ts';
import { createTimers } from '../usecases/care/timers.ts';

/** What the shop's printers do by themselves: white is purged before it settles, arrays are fired before they dry. */
export function seedCare(shop: Shop): void {
  const { zone } = shop.clock;
  const tomorrow = wallTimeOf(addDays(startOfDay(shop.clock.now(), { in: tz(zone) }), 1).getTime(), zone).slice(0, 10);
  const film = createDesign(
    shop,
    {
      printerId: 'wren',
      name: 'White, daily',
      modeId: 'draft',
      stockId: 'film-sheet',
      onlyNeeded: true,
      sheet: {
        form: 'sheet',
        widthMm: 320,
        lengthMm: 450,
        density: 0.1,
        levels: { white: 1, cyan: 0.3, magenta: 0.3, yellow: 0.3, black: 0.3 },
      },
    },
    PROGRAM,
  );
  const bar = createDesign(
    shop,
    {
      printerId: 'gannet',
      name: 'Bar across',
      modeId: 'posters',
      stockId: 'bond-914',
      onlyNeeded: false,
      sheet: {
        form: 'roll',
        widthMm: 900,
        lengthMm: 180,
        density: 1,
        levels: { cyan: 0.5, magenta: 0.5, yellow: 0.5, black: 0.5 },
      },
    },
    PROGRAM,
  );
  const timer = (printerIds: string[], what: CareWhat, rrule: string, time: string, slackMin: number): void => {
    createTimers(
      shop,
      {
        printerIds,
        what: what as Parameters<typeof createTimers>[1]['what'],
        rrule,
        startLocal: `${tomorrow}T${time}`,
        untilLocal: null,
        skipHolidays: false,
        missed: 'catch-up',
        slackMin,
        paused: false,
      },
      PROGRAM,
    );
  };
  timer(['wren'], { kind: 'purge', designId: film }, 'FREQ=DAILY', '04:15', 60);
  timer(['gannet'], { kind: 'purge', designId: bar }, 'FREQ=DAILY;INTERVAL=3', '05:00', 120);
  timer(['magpie', 'heron'], { kind: 'check' }, 'FREQ=WEEKLY;BYDAY=MO,TU,WE,TH,FR', '07:40', 240);
  timer(['puffin'], { kind: 'stir' }, 'FREQ=WEEKLY;BYDAY=MO,TU,WE,TH,FR', '07:45', 120);
}
