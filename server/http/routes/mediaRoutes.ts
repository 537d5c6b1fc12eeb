import { FileAnswer, type Route, route } from '../route.ts';
import { desc, eq } from 'drizzle-orm';
import { Type } from 'typebox';
import { Id, Nothing } from '../../../contract/api/common.ts';
import { LoadSpool, SpoolView } from '../../../contract/api/floor.ts';
import { SpoolCorrect, SpoolCreate, SpoolDetail, SpoolOffcut } from '../../../contract/api/media/media.ts';
import { spoolViews } from '../../db/printerViews.ts';
import { runName } from '../../../core/flow/runName.ts';
import { spoolLedger } from '../../db/tables/records.ts';
import { runs } from '../../db/tables/schema.ts';
import { Refused, type Shop } from '../../shop.ts';
import { loadSpool, unloadSpool } from '../../usecases/media/loadSpool.ts';
import { spoolLabels } from '../../usecases/output/spoolLabels.ts';
import { correctSpool, cutOffcut, receiveSpool, retireSpool } from '../../usecases/media/spools.ts';

/** Spools: receiving, loading, correcting, cutting offcuts, labels, and how much of each stock is used. */
export function mediaRoutes(shop: Shop): Route[] {
  const one = (id: string | undefined): SpoolView => {
    const [found] = spoolViews(shop.db, { id: id ?? '' });
    if (!found) throw new Refused(404, 'no-such-spool', `There is no spool ${id ?? ''}.`);
    return found;
  };
  return [
    route({
      method: 'get',
      path: '/api/spools',
      needs: 'see',
      summary: 'Every spool with what is left on it',
      answer: Type.Array(SpoolView),
      handle: () => spoolViews(shop.db),
    }),
    route({
      method: 'post',
      path: '/api/spools',
      needs: 'coordinate',
      summary: 'A roll, pack or offcut that has come in',
      body: SpoolCreate,
      answer: SpoolView,
      status: 201,
      handle: ({ body, actor }) => one(receiveSpool(shop, body, actor)),
    }),
    route({
      method: 'post',
      path: '/api/spools/labels',
      needs: 'coordinate',
      summary: 'Labels with trace codes for spools, as PDF',
      body: Type.Object({ spoolIds: Type.Array(Id, { minItems: 1, maxItems: 500 }) }),
      produces: 'application/pdf',
      heavy: 'Making spool labels',
      handle: async ({ body, how }) =>
        new FileAnswer('application/pdf', { bytes: await spoolLabels(shop, body.spoolIds, how) }, 'spool-labels.pdf'),
    }),
    route({
      method: 'get',
      path: '/api/spools/:id',
      needs: 'see',
      summary: 'One spool with its ledger, the newest entry first',
      answer: SpoolDetail,
      handle: ({ params }) => {
        const spool = one(params.id);
        const rows = shop.db
          .select({ entry: spoolLedger, number: runs.number })
          .from(spoolLedger)
          .leftJoin(runs, eq(runs.id, spoolLedger.runId))
          .where(eq(spoolLedger.spoolId, spool.id))
          .orderBy(desc(spoolLedger.id))
          .all();
        const ledger = rows.map(({ entry: { kind, mm, runId, atMs, reason }, number }) => {
          return { kind, mm, runId, atMs, reason, runName: number === null ? null : runName(number) };
        });
        return { ...spool, ledger };
      },
    }),
    route({
      method: 'post',
      path: '/api/spools/:id/load',
      needs: 'operate',
      summary: 'Puts a spool into a printer, with what was measured; what was there goes to the rack',
      body: LoadSpool,
      answer: Type.Array(SpoolView),
      handle: async ({ params, body, actor }) => {
        await loadSpool(shop, params.id ?? '', body, actor);
        return spoolViews(shop.db);
      },
    }),
    route({
      method: 'post',
      path: '/api/spools/:id/unload',
      needs: 'operate',
      summary: 'Takes a spool out of its printer',
      answer: Nothing,
      handle: async ({ params, actor }) => {
        await unloadSpool(shop, params.id ?? '', actor);
      },
    }),
    route({
      method: 'post',
      path: '/api/spools/:id/correct',
      needs: 'coordinate',
      summary: 'Says what is really left on a spool, and why',
      body: SpoolCorrect,
      answer: SpoolView,
      handle: ({ params, body, actor }) => {
        correctSpool(shop, params.id ?? '', body.leftMm, body.reason, actor);
        return one(params.id);
      },
    }),
    route({
      method: 'post',
      path: '/api/spools/:id/offcut',
      needs: 'coordinate',
      summary: 'Cuts a usable remainder off a spool, as a spool of its own',
      body: SpoolOffcut,
      answer: SpoolView,
      status: 201,
      handle: ({ params, body, actor }) => one(cutOffcut(shop, params.id ?? '', body.lengthMm, body.label, actor)),
    }),
    ...(['retire', 'keep'] as const).map((step) =>
      route({
        method: 'post',
        path: `/api/spools/:id/${step}`,
        needs: 'coordinate',
        summary: step === 'retire' ? 'Used up or thrown away' : 'On the rack again',
        answer: Nothing,
        handle: ({ params, actor }) => {
          retireSpool(shop, params.id ?? '', step === 'retire', actor);
        },
      }),
    ),
  ];
}
