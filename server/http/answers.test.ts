import type { AwaySimulation, AwayView } from '../../contract/api/away.ts';
import { lookAtCauses } from '../usecases/messages/messageWatch.ts';
import { findRun } from '../db/findRows.ts';
import { Ajv } from 'ajv';
import { eq } from 'drizzle-orm';
import { COORDINATOR } from '../../core/events/actor.ts';
import { jobs } from '../db/tables/schema.ts';
import { transact } from '../shop.ts';
import { type TestHttp, openTestHttp } from '../testing/httpFixture.ts';
import { allFacts } from '../testing/factsCheck.ts';
import { admitPlain, idle, report } from '../testing/shopFixture.ts';
import { TESTER } from '../testing/tester.ts';
import { recordPrinterState, recordRunReport } from '../usecases/device/machineReports.ts';
import { layOutRun } from '../usecases/layout/layOutRun.ts';
import { nestDraft } from '../usecases/layout/nestDraft.ts';
import { createRun } from '../usecases/run/createRun.ts';
import { queueRun } from '../usecases/run/queueRun.ts';
import { transitionRun } from '../usecases/run/transitionRun.ts';
import { changeJob } from '../usecases/ticket/changeJobs.ts';

let http: TestHttp;
beforeEach(async () => {
  http = await openTestHttp();
});
afterEach(() => http.close());

/** A run in the line of its printer. */
async function queued(name: string, change: Parameters<typeof changeJob>[2] = {}): Promise<string> {
  const { shop } = http;
  const jobId = admitPlain(shop, name, [[600, 400]]);
  changeJob(shop, jobId, { copies: 2, ...change }, TESTER);
  const runId = createRun(shop, [jobId], TESTER);
  layOutRun(shop, runId, await nestDraft(shop, runId, 20), { by: TESTER });
  queueRun(shop, runId, COORDINATOR);
  return runId;
}

/** A time away that is armed, from now on. */
async function armed(nowMs: number): Promise<string> {
  const period = { fromMs: nowMs, toMs: nowMs + 12 * 3_600_000 };
  const { body } = await http.call<AwaySimulation>('POST', '/api/away/simulate', { ...period, nights: 20 });
  const away = await http.call<AwayView>('POST', '/api/away/arm', { ...period, planHash: body.planHash });
  return away.body.id;
}

/** A shop in which something of everything is there, so that no list is empty. */
async function fill(): Promise<
  Readonly<Record<'jobId' | 'runId' | 'draftId' | 'designId' | 'timerId' | 'careId' | 'checkId' | 'awayId', string>>
> {
  const { shop, call, upload } = http;
  const jobId = admitPlain(shop, 'plain.pdf', [
    [500, 400],
    [500, 300],
  ]);
  changeJob(shop, jobId, { copies: 3, customer: 'Marram Theatre', dueMs: 1_800_000_000_000 }, TESTER);
  await upload('heron-banners', ['broken.txt', 'nothing']);
  const draftId = createRun(shop, [admitPlain(shop, 'draft.pdf', [[300, 200]])], TESTER);
  // What waits, and could run together.
  for (const name of ['a.pdf', 'b.pdf', 'c.pdf']) admitPlain(shop, name, [[700, 400]]);
  const failing = await queued('failing.pdf');
  transact(shop, (work) => transitionRun(work, failing, 'send', { attempt: 1 }));
  const nowMs = shop.clock.now();
  recordRunReport(
    shop,
    report(failing, 1, { status: 'failed', lengthMm: 5, fedMm: 40, reason: 'jam', endedMs: nowMs }),
  );
  const printed = await queued('printed.pdf');
  transact(shop, (work) => transitionRun(work, printed, 'send', { attempt: 1 }));
  recordRunReport(
    shop,
    report(printed, 1, { status: 'printed', lengthMm: 900, fedMm: 960, endedMs: nowMs, inkMl: { cyan: 3 } }),
  );
  const runId = await queued('late.pdf', { dueMs: nowMs - 3_600_000 });
  await queued('other.pdf', { stockId: 'mesh' }).catch(() => undefined);
  await queued('third.pdf');
  recordPrinterState(shop, 'heron', { ...idle('heron'), status: 'faulted', reason: 'head strike' });
  lookAtCauses(shop);
  recordPrinterState(shop, 'heron', { ...idle('heron'), seq: 2 });
  await call('PUT', '/api/sizes', [{ name: 'Tank window', widthMm: 2000, heightMm: 800 }]);
  await call('POST', '/api/presets', { name: 'Rush', settings: { copies: 2 } });
  await call('PUT', '/api/rules', [
    {
      id: null,
      name: 'Small ones',
      when: [{ about: 'customer', is: 'is', text: 'Tern' }],
      printerIds: ['gannet'],
      on: true,
    },
  ]);
  const design = await call('POST', '/api/purges', {
    ...{ printerId: 'wren', name: 'White', modeId: 'draft', stockId: 'film-sheet', onlyNeeded: false },
    sheet: { form: 'sheet', widthMm: 320, lengthMm: 450, density: 0.1, levels: { white: 1 } },
  });
  const designId = (design.body as { id: string }).id;
  await call('POST', '/api/care-rules', {
    ...{ what: { kind: 'check' }, overMm: 20_000, onlyImportant: false, printerIds: null, paused: false },
  });
  const timers = await call('POST', '/api/timers', {
    ...{ printerIds: ['wren'], what: { kind: 'purge', designId }, rrule: 'FREQ=DAILY', startLocal: '2026-01-05T04:15' },
    ...{ untilLocal: null, skipHolidays: true, missed: 'report', slackMin: 60, paused: false },
  });
  // One that no timer prints: it is proposed.
  await call('POST', '/api/purges', {
    ...{ printerId: 'heron', name: 'All', modeId: 'production', stockId: 'block-out', onlyNeeded: false },
    sheet: { form: 'roll', widthMm: 1000, lengthMm: 420, density: 0.1, levels: { cyan: 1, white: 1 } },
  });
  const care = await call('POST', '/api/care', { printerId: 'wren', what: { kind: 'check' } });
  const found = { cyan: { missing: [3], weak: [], crooked: [], unjudged: [] } };
  const reading = await call('POST', '/api/printers/heron/reading', { by: 'eye', confidence: null, found });
  const [done] = shop.db.select({ id: jobs.id }).from(jobs).where(eq(jobs.sourceName, 'printed.pdf')).all();
  const ids = {
    designId,
    timerId: (timers.body as { ids: string[] }).ids[0] ?? '',
    careId: (care.body as { id: string }).id,
    checkId: (reading.body as { id: string }).id,
    awayId: await armed(nowMs),
  };
  return { jobId: done?.id ?? jobId, runId, draftId, ...ids };
}

test('every answer to a question is what its own schema promises, in a shop in which no list is empty', async () => {
  const { jobId, runId, designId, timerId, careId, checkId, awayId } = await fill();
  http.ready = true;
  const asked = http.routes.filter(
    ({ method, answer, produces }) => method === 'get' && answer && produces === undefined,
  );
  allFacts(http.shop);
  const failedAt: unknown[] = [];
  for (const { path } of asked) {
    const real = path
      .replace('/runs/:id', `/runs/${runId}`)
      .replace('/jobs/:id', `/jobs/${jobId}`)
      .replace('/care/:id', `/care/${careId}`)
      .replace('/checks/:id', `/checks/${checkId}`)
      .replace('/away/:id', `/away/${awayId}`)
      .replace('/heads/:channel', '/heads/cyan')
      .replace('/purges/:id/for/:printerId', `/purges/${designId}/for/heron`)
      .replace('/timers/:id', `/timers/${timerId}`)
      .replace('/spools/:id', '/spools/spool-bo-31')
      .replace('/printers/:id', '/printers/heron')
      .replace(/best-changes$/, 'best-changes?fromMs=0&toMs=9000000000000')
      .replace(/pace\/ink$/, 'pace/ink?fromMs=0&toMs=9000000000000')
      .replace(/\/pace(\/runs)?$/, (all) =>
        `${all}?fromMs=0&toMs=9000000000000&by=printer`.replace(/(runs.*)&by=printer/, '$1'),
      )
      .replace('/stories/:kind/:id', `/stories/run/${runId}`)
      .replace(/move-offer$/, 'move-offer?printerId=magpie')
      .replace(/run-nests$/, `run-nests?ids=${runId}`);
    // Tasks are looked at where there are some: see the tests of heavy requests.
    if (real.includes('/tasks/')) continue;
    // What is rendered needs files: see the tests of the channels.
    if (real.endsWith('/channels')) continue;
    const { status, body } = await http.call('GET', real);
    if (status !== 200) failedAt.push([real, status, body]);
  }
  expect(failedAt).toEqual([]);
  const gets = http.unseen().filter((name) => name.startsWith('get '));
  // There is no printer on this line that could be described; sessions and tokens are somebody's: see the tests of people.
  expect(gets).toEqual([
    'get /api/me/sessions',
    'get /api/me/tokens',
    'get /api/runs/:id/channels',
    'get /api/tasks/:id',
    'get /api/devices',
  ]);
});

test('what changes something answers with what it has become', async () => {
  const { runId, draftId } = await fill();
  const { shop, call } = http;
  const run = findRun(shop.db, draftId);
  const answers = [
    await call('PUT', `/api/runs/${draftId}/layout`, { settings: run?.settings, placements: [] }),
    await call('POST', `/api/runs/${runId}/take-back`),
    await call('POST', `/api/runs/${draftId}/dissolve`),
    await call('PATCH', '/api/jobs', {
      jobIds: shop.db
        .select()
        .from(jobs)
        .all()
        .slice(0, 2)
        .map(({ id }) => id),
      change: { notes: 'x' },
    }),
    await call('POST', '/api/fit', {
      jobIds: [shop.db.select().from(jobs).where(eq(jobs.sourceName, 'a.pdf')).get()?.id],
    }),
    await call('POST', '/api/fit/firsts', {
      jobIds: [shop.db.select().from(jobs).where(eq(jobs.sourceName, 'a.pdf')).get()?.id],
    }),
    await call('POST', '/api/spools/spool-bo-31/correct', { leftMm: 30_000, reason: 'measured' }),
    await call('PUT', '/api/clock', { rate: 2 }),
    await call('POST', '/api/clock/steps', { byMs: 60_000 }),
  ];
  expect(answers.map(({ status }) => status)).toEqual(answers.map(() => 200));
});

test('what each route takes can be checked: its schemas are compiled only when they are first asked for', () => {
  const schemas = http.routes.flatMap(({ body, query }) => [body, query]).filter((schema) => schema !== undefined);
  const ajv = new Ajv({ strict: false });
  expect(schemas.length).toBeGreaterThan(30);
  for (const schema of schemas) expect(typeof ajv.compile(schema)).toBe('function');
});

test('what changes something needs a right beyond looking, but for what is everybody’s own', () => {
  const changing = http.routes
    .filter(({ method, path, needs }) => method !== 'get' && needs === 'see' && !path.startsWith('/api/me/'))
    .map(({ path }) => path);
  // These are questions with a body.
  expect(changing).toEqual([
    '/api/quote',
    '/api/worksheets',
    '/api/preview/coats',
    '/api/batches/figures',
    '/api/layout/nest',
    '/api/layout/step',
    '/api/pace/what-if',
    '/api/fit',
    '/api/fit/firsts',
    '/api/rules/dry-run',
    '/api/purges/figures',
    '/api/away/simulate',
    '/api/away/propose',
  ]);
});
