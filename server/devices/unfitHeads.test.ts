import { Dispatcher } from './dispatcher.ts';
import { findRun } from '../db/findRows.ts';
import { type TestShop, admitPlain, openTestShop, switchOn } from '../testing/shopFixture.ts';
import { TESTER } from '../testing/tester.ts';
import { layOutRun } from '../usecases/layout/layOutRun.ts';
import { nestDraft } from '../usecases/layout/nestDraft.ts';
import { fitWork, fitsFor, readFloor } from '../usecases/plan/fit.ts';
import { handsNow } from '../usecases/plan/handsNow.ts';
import { startAnswer } from '../usecases/plan/mayStart.ts';
import { offersOf } from '../usecases/plan/offers.ts';
import { snapshotFor } from '../usecases/plan/plannedFloor.ts';
import { planFloor } from '../../core/schedule/planFloor.ts';
import { createRun } from '../usecases/run/createRun.ts';
import { queueRun } from '../usecases/run/queueRun.ts';
import { readLoosePlot } from '../usecases/heads/checks.ts';

let shop: TestShop;
let close: () => void;
beforeEach(() => {
  ({ shop, close } = openTestShop());
  switchOn(shop);
});
afterEach(() => {
  close();
});

/** Every nozzle of a channel of Bittern that prints one line of its mode Photo is missing: 8 passes of 1,280, one interlace. */
function spoil(channelId: string): void {
  const missing = Array.from({ length: 5 }, (_, pass) => 3 + pass * 160);
  const found = { [channelId]: { missing, weak: [], crooked: [], unjudged: [] } };
  readLoosePlot(shop, 'bittern', { by: 'eye', confidence: null, found }, TESTER);
}

async function queued(jobId: string): Promise<string> {
  const runId = createRun(shop, [jobId], TESTER);
  layOutRun(shop, runId, await nestDraft(shop, runId, 20), { by: TESTER });
  queueRun(shop, runId, TESTER);
  return runId;
}

test('a channel that a run fires and that is not fit keeps it from its printer: fit list, start, plan, hands and offers say so', async () => {
  const poster = admitPlain(shop, 'poster.pdf', [[400, 300]], 'bittern-photo');
  const waiting = admitPlain(shop, 'waiting.pdf', [[400, 300]], 'bittern-photo');
  const runId = await queued(poster);
  const fired = Object.entries(findRun(shop.db, runId)?.inkMl ?? {}).filter(([, ml]) => ml > 0);
  const [channelId = ''] = fired.map(([id]) => id);
  const fits = async () =>
    (await fitsFor(shop, readFloor(shop), [{ work: fitWork(shop.db, [waiting]), exceptRunId: '' }]))[0];
  expect((await fits())?.find(({ printerId }) => printerId === 'bittern')?.can).toBe(true);
  spoil(channelId);
  const bittern = (await fits())?.find(({ printerId }) => printerId === 'bittern');
  expect(bittern).toMatchObject({ can: false });
  expect(bittern?.can === false && bittern.troubles.map(({ code, text, way }) => [code, text, way])).toEqual([
    [
      'heads',
      expect.stringMatching(/of Bittern can't print it: 5 missing; of the 8 nozzles for one line 3 are left, 4 needed/),
      expect.stringMatching(/^Clean it first: a light clean takes 4 min and costs \d\.\d\d EUR\.$/),
    ],
  ]);
  const run = findRun(shop.db, runId);
  if (!run) throw new Error('no run');
  const answer = startAnswer(shop, run);
  expect(!answer.ok && answer.trouble).toMatchObject({ code: 'heads', brief: 'clean the heads', hand: true });
  const line = planFloor(snapshotFor(readFloor(shop))).lines.get('bittern');
  const events = line?.events.map((event) => (event.kind === 'hand' ? event.what : event.kind)) ?? [];
  expect(events.indexOf('clean')).toBeGreaterThanOrEqual(0);
  expect(events.indexOf('clean')).toBeLessThan(events.indexOf('run'));
  expect(handsNow(shop).find(({ printerId }) => printerId === 'bittern')).toMatchObject({ kind: 'heads', when: 'now' });
  expect((await offersOf(shop, 'bittern')).map(({ to }) => to?.printerName)).toEqual(['Gannet']);
});

test('the dispatcher sends nothing that its heads can’t print, and goes on as soon as a check says that they can', async () => {
  const runId = await queued(admitPlain(shop, 'poster.pdf', [[400, 300]], 'bittern-photo'));
  const [channelId = ''] = Object.entries(findRun(shop.db, runId)?.inkMl ?? {}).flatMap(([id, ml]) =>
    ml > 0 ? [id] : [],
  );
  const answer = () => {
    const run = findRun(shop.db, runId);
    return run && startAnswer(shop, run);
  };
  const before = answer();
  spoil(channelId);
  const blocked = answer();
  expect(blocked?.ok === false && blocked.trouble.code).toBe('heads');
  const dispatcher = new Dispatcher(shop);
  dispatcher.look();
  dispatcher.close();
  expect(findRun(shop.db, runId)?.state).toBe('queued');
  const clean = { [channelId]: { missing: [], weak: [], crooked: [], unjudged: [] } };
  readLoosePlot(shop, 'bittern', { by: 'eye', confidence: null, found: clean }, TESTER);
  expect(answer()).toEqual(before);
});

test('a dead channel that a run does not fire is no obstacle', async () => {
  const runId = await queued(admitPlain(shop, 'poster.pdf', [[400, 300]], 'bittern-photo'));
  const run = findRun(shop.db, runId);
  const idle = ['grey', 'light-black', 'yellow', 'cyan', 'magenta', 'black'].find((id) => (run?.inkMl[id] ?? 0) === 0);
  expect(idle).toBeDefined();
  const before = run && startAnswer(shop, run);
  spoil(idle ?? '');
  expect(run && startAnswer(shop, run)).toEqual(before);
});
