import ical from 'ical-generator';
import { Type } from 'typebox';
import { Occurrences, TimerBody, TimerChange, TimerProposals, TimerView } from '../../../../contract/api/care.ts';
import { Id, Nothing } from '../../../../contract/api/common.ts';
import { findPrinter } from '../../../db/findRows.ts';
import type { Shop } from '../../../shop.ts';
import { carePrinter, careWork } from '../../../usecases/care/careWork.ts';
import {
  changeTimer,
  createTimers,
  nextOccurrences,
  pauseTimersOf,
  removeTimer,
  timerRow,
  timerView,
  timerViews,
} from '../../../usecases/care/timers.ts';
import { timerProposals } from '../../../usecases/care/proposals.ts';
import { versionIn } from '../../ifMatch.ts';
import { type Route, route } from '../../route.ts';

/** Timers: what is done by itself, again and again. */
export function timerRoutes(shop: Shop): Route[] {
  return [
    route({
      method: 'get',
      path: '/api/timers',
      needs: 'see',
      summary: 'All timers',
      answer: Type.Array(TimerView),
      handle: () => timerViews(shop.db),
    }),
    route({
      method: 'get',
      path: '/api/timers/proposals',
      needs: 'see',
      summary:
        'Timers that would keep nozzles from clogging, with the ink they cost and the clogs they prevent in a week',
      answer: TimerProposals,
      handle: () => timerProposals(shop),
    }),
    route({
      method: 'post',
      path: '/api/timers',
      needs: 'coordinate',
      summary: 'Makes a timer for each printer; they share a group',
      body: TimerBody,
      answer: Type.Object({ ids: Type.Array(Id) }),
      status: 201,
      handle: ({ body, actor }) => ({ ids: createTimers(shop, body, actor) }),
    }),
    route({
      method: 'patch',
      path: '/api/timers/:id',
      needs: 'coordinate',
      summary: 'Changes a timer; with If-Match only the version that the change was made from',
      body: TimerChange,
      answer: TimerView,
      handle: ({ params, body, req, actor }) => {
        const id = params.id ?? '';
        changeTimer(shop, id, body, versionIn(req.get('if-match')), actor);
        return timerView(shop.db, timerRow(shop.db, id));
      },
    }),
    route({
      method: 'delete',
      path: '/api/timers/:id',
      needs: 'coordinate',
      summary: 'Removes a timer; what it has put into a line stays there',
      answer: Nothing,
      handle: ({ params, actor }) => {
        removeTimer(shop, params.id ?? '', actor);
        return {};
      },
    }),
    route({
      method: 'get',
      path: '/api/timers/:id/next',
      needs: 'see',
      summary: 'The next occurrences of a timer',
      query: Type.Object({ count: Type.Optional(Type.Integer({ minimum: 1, maximum: 1000 })) }),
      answer: Occurrences,
      handle: ({ params, query }) => nextOccurrences(shop, timerRow(shop.db, params.id ?? ''), query.count ?? 10),
    }),
    route({
      method: 'post',
      path: '/api/printers/:id/timers/pause',
      needs: 'coordinate',
      summary: 'Pauses all timers of a printer, or lets them go on',
      body: Type.Object({ paused: Type.Boolean() }),
      answer: Nothing,
      handle: ({ params, body, actor }) => {
        carePrinter(shop.db, params.id ?? '');
        pauseTimersOf(shop, params.id ?? '', body.paused, actor);
        return {};
      },
    }),
    route({
      method: 'get',
      path: '/api/calendar.ics',
      needs: 'see',
      summary: 'The next occurrences of all timers, as a calendar (RFC 5545)',
      produces: 'text/calendar',
      handle: ({ res }) => {
        res.type('text/calendar').send(calendar(shop));
      },
    }),
  ];
}

/** So many occurrences of each timer go into the calendar. */
const IN_CALENDAR = 60;

function calendar(shop: Shop): string {
  const feed = ical({ name: 'Yellow Spool', prodId: { company: 'Yellow Spool', product: 'Rota' } });
  for (const timer of timerViews(shop.db)) {
    const printer = findPrinter(shop.db, timer.printerId);
    if (!printer || timer.paused) continue;
    const row = timerRow(shop.db, timer.id);
    const { durationMs } = careWork(shop.db, printer, row.what);
    for (const { atMs, holiday } of nextOccurrences(shop, row, IN_CALENDAR)) {
      if (holiday) continue;
      feed.createEvent({
        id: `${timer.id}-${String(atMs)}@yellow-spool`,
        start: new Date(atMs),
        end: new Date(atMs + Math.max(60_000, durationMs)),
        stamp: new Date(atMs),
        summary: `${printer.name}: ${timer.title}`,
        description: timer.text,
      });
    }
  }
  return feed.toString();
}
