import { awayNow } from '../../usecases/away/arm.ts';
import { Reply, type Route, route } from '../route.ts';
import type { Actor } from '../../../core/events/actor.ts';
import { Type } from 'typebox';
import { ClockChange, ClockStep, ClockView } from '../../../contract/api/common.ts';
import { StorageView } from '../../../contract/api/storage.ts';
import { shopSizes } from '../../usecases/setup/shopSizes.ts';
import { presetViews, queueViews, stockViews } from '../../db/queueViews.ts';
import { spoolViews } from '../../db/printerViews.ts';
import { printersNow } from '../../usecases/plan/printersNow.ts';
import { runItems } from '../../db/runViews.ts';
import { jobItem, logAfter, logEvents, openRefusals } from '../../db/views.ts';
import type { HotFolders } from '../../ingest/hotFolders.ts';
import { Refused, type Shop, transact, type Happened } from '../../shop.ts';
import { callerOf, stillMay } from '../identify.ts';
import { shopSetup } from '../../usecases/setup/shopSetup.ts';
import { ruleList } from '../../usecases/plan/rules.ts';
import type { LiveMessage, LiveSource } from '../../ports/live.ts';

const BEAT_MS = 15_000;
/** Waiting for one page to take it in. */
const MOST_UNREAD_BYTES = 4 * 1024 ** 2;
/** Log rows replayed to a page that comes back; it reads the lists again in any case. */
const REPLAY = 200;

/** Open pages and programs that listen: each holds a connection, and is told everything. */
const MOST_STREAMS = 300;
const MOST_STREAMS_OF_ONE = 60;

class Streams {
  private readonly open = new Map<string, number>();

  /** @throws Refused where too many listen already */
  begin(whose: string): void {
    const own = this.open.get(whose) ?? 0;
    const all = [...this.open.values()].reduce((sum, n) => sum + n, 0);
    if (own >= MOST_STREAMS_OF_ONE || all >= MOST_STREAMS) {
      throw new Refused(
        503,
        'too-many-pages',
        `${String(all)} pages listen to the shop, ${String(own)} of them yours.`,
        { all, own },
        'Close some of them.',
      );
    }
    this.open.set(whose, own + 1);
  }

  end(whose: string): void {
    const own = (this.open.get(whose) ?? 1) - 1;
    if (own > 0) this.open.set(whose, own);
    else this.open.delete(whose);
  }
}

/** What the whole shop is asked for: whether it is ready, its room on the disk, its clock, and its live events. */
export function floorRoutes(shop: Shop, ready: () => boolean, crewToken: string): Route[] {
  const streams = new Streams();
  return [
    route({
      method: 'get',
      path: '/api/health',
      needs: 'anyone',
      summary: '200 once everything is ready; where its data lie is told to people of the shop',
      answer: Type.Object({ status: Type.String(), dataDir: Type.Optional(Type.String()) }),
      handle: ({ caller }) => {
        const where = caller ? { dataDir: shop.paths.root } : {};
        return ready() ? { status: 'ready', ...where } : new Reply(503, { status: 'starting', ...where });
      },
    }),
    route({
      method: 'get',
      path: '/api/storage',
      needs: 'see',
      summary: 'Whether there is room on the disk and the database can be written',
      answer: StorageView,
      handle: () => shop.storage.view(),
    }),
    route({
      method: 'get',
      path: '/api/clock',
      needs: 'see',
      summary: 'The shop clock',
      answer: ClockView,
      handle: () => clockView(shop),
    }),
    route({
      method: 'put',
      path: '/api/clock',
      needs: 'set up',
      summary: 'How fast the shop clock runs; 0 stops it',
      body: ClockChange,
      answer: ClockView,
      handle: async ({ body, actor }) => {
        shop.clock.setRate(body.rate);
        return clockWas(shop, { kind: 'clock.rate', data: { rate: body.rate } }, actor);
      },
    }),
    route({
      method: 'post',
      path: '/api/clock/steps',
      needs: 'set up',
      summary: 'Lets so much shop time go by, then the clock stands still',
      body: ClockStep,
      answer: ClockView,
      handle: async ({ body, actor }) => {
        shop.clock.step(body.byMs);
        return clockWas(shop, { kind: 'clock.step', data: { byMs: body.byMs } }, actor);
      },
    }),
    route({
      method: 'get',
      path: '/api/events',
      needs: 'see',
      summary: 'What changes, as it changes (server-sent events; log rows can be resumed by Last-Event-ID)',
      produces: 'text/event-stream',
      handle: ({ req, res, caller }) => {
        const whose = caller?.personId ?? 'everybody at this machine';
        streams.begin(whose);
        res.on('close', () => {
          streams.end(whose);
        });
        res.writeHead(200, {
          'content-type': 'text/event-stream',
          'cache-control': 'no-store',
          'x-accel-buffering': 'no',
        });
        const send = (message: LiveMessage): void => {
          const id = message.id === undefined ? '' : `id: ${String(message.id)}\n`;
          res.write(`${id}event: ${message.event}\ndata: ${JSON.stringify(message.data)}\n\n`);
          // A page that takes nothing in any more must not fill the server's memory; it asks anew when it can.
          if (res.writableLength > MOST_UNREAD_BYTES) res.destroy();
        };
        const last = Number(req.get('last-event-id') ?? Number.NaN);
        if (Number.isInteger(last)) {
          for (const event of logAfter(shop.db, last, REPLAY)) send({ event: 'log', id: event.id, data: event });
        }
        send({ event: 'clock', data: clockView(shop) });
        send({ event: 'storage', data: shop.storage.view() });
        const isOver = (): boolean => !stillMay(caller, callerOf(shop, req, crewToken));
        const stop = shop.bus.subscribe((message) => {
          // Whoever may no longer look hears that, and nothing after it.
          if (message.event === 'sign-in' && isOver()) res.end('event: sign-in\ndata: {}\n\n');
          else send(message);
        });
        const beat = setInterval(() => {
          if (isOver()) res.end();
          else res.write(': here\n\n');
        }, BEAT_MS);
        res.on('close', () => {
          stop();
          clearInterval(beat);
        });
      },
    }),
  ];
}

/** Devices and pages follow the clock; who changed it is noted. */
async function clockWas(shop: Shop, what: Happened<'clock.rate' | 'clock.step'>, actor: Actor): Promise<ClockView> {
  await shop.link.setClock(shop.clock.rate, shop.clock.now(), shop.clock.untilMs);
  transact(shop, (work) => {
    work.note({ ...what, subject: ['shop', 'clock'], actor });
    work.touch({ type: 'clock', id: 'clock' });
  });
  return clockView(shop);
}

/** The shop clock as it is told: where it stands and how fast it runs. */
export function clockView(shop: Shop): ClockView {
  const { rate, zone, untilMs } = shop.clock;
  return { shopMs: shop.clock.now(), rate, untilMs, zone };
}

/** What listeners are told of a subject: its present view. */
export function liveSource(shop: Shop, folders: Pick<HotFolders, 'stateOf'>): LiveSource {
  return {
    logEvents: (ids) => logEvents(shop.db, ids),
    view: ({ type, id }) => {
      switch (type) {
        case 'job':
          return jobItem(shop.db, id);
        case 'run':
          return runItems(shop.db, [id])[0];
        case 'printer':
          return printersNow(shop, id)[0];
        case 'spool':
          return spoolViews(shop.db, { id })[0];
        case 'queue':
          return queueViews(shop.db, (folder) => folders.stateOf(folder)).find((queue) => queue.id === id);
        case 'sizes':
          return { id, sizes: shopSizes(shop.db) };
        case 'setup':
          return { id, ...shopSetup(shop.db, shop.clock.zone) };
        case 'rules':
          return { id, rules: ruleList(shop.db) };
        case 'stock':
          return stockViews(shop.db).find((stock) => stock.id === id);
        case 'preset':
          return presetViews(shop.db).find((preset) => preset.id === id);
        case 'refusal':
          return openRefusals(shop.db).find((refusal) => refusal.id === id);
        case 'away':
          return awayNow(shop);
        case 'people':
          // Who they are is for owners: pages that may know it ask for the list.
          return { id };
        case 'clock':
          return clockView(shop);
      }
    },
  };
}

/** The answer to an address of the API that there is not. */
export function unknownApi(path: string): Refused {
  return new Refused(404, 'no-such-route', `There is nothing at ${path}.`, undefined, 'See /api/openapi.json.');
}
