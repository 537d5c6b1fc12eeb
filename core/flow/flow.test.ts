import { checkJob } from '../ticket/findings.ts';
import { moveToQueue, runWideDifference, setHere, stampTicket, type TicketValues } from '../ticket/ticket.ts';
import { lineOfRuns } from '../schedule/timeline.ts';
import { jobStateFromPieces } from './job.ts';
import { RUN_STATES, type RunAction, nextRunState } from './run.ts';

test('a run takes exactly the transitions there are', () => {
  const actions: RunAction[] = ['queue', 'send', 'start', 'pause', 'resume', 'finish', 'fail', 'cancel', 'take apart'];
  const allowed = RUN_STATES.flatMap((state) =>
    actions.flatMap((action) => {
      const next = nextRunState(state, action);
      return next.ok ? [`${state} ${action} ${next.value}`] : [];
    }),
  );
  expect(allowed).toEqual([
    'draft queue queued',
    'draft take apart cancelled',
    'queued send sent',
    'queued cancel cancelled',
    'sent start printing',
    'sent pause paused',
    'sent finish printed',
    'sent fail failed',
    'sent cancel cancelled',
    'printing pause paused',
    'printing finish printed',
    'printing fail failed',
    'printing cancel cancelled',
    'paused resume printing',
    'paused finish printed',
    'paused fail failed',
    'paused cancel cancelled',
  ]);
  expect(nextRunState('printed', 'cancel')).toEqual({
    ok: false,
    reason: { code: 'wrong-state', action: 'cancel', state: 'printed' },
  });
});

test('the state of a job follows from its pieces', () => {
  const none = { owed: 0, placed: 0, printing: 0, printed: 0, spoiled: 0 };
  expect(jobStateFromPieces({ ...none, owed: 3 })).toBe('ready');
  expect(jobStateFromPieces({ ...none, owed: 1, placed: 2 })).toBe('placed');
  expect(jobStateFromPieces({ ...none, placed: 1, printing: 1, printed: 5 })).toBe('printing');
  expect(jobStateFromPieces({ ...none, owed: 1, printed: 2 })).toBe('ready');
  expect(jobStateFromPieces({ ...none, printed: 3, spoiled: 1 })).toBe('printed');
});

const QUEUE: TicketValues = {
  copies: 1,
  quarterTurn: true,
  modeId: 'production',
  stockId: 'banner',
  span: 'media',
  dryOut: true,
  cutOff: 'none',
  customer: null,
  orderNo: null,
  dueMs: null,
};

test('a ticket is a copy with an origin for every value; moving keeps what was set by hand', () => {
  const stamped = stampTicket(QUEUE);
  expect(new Set(Object.values(stamped.origins))).toEqual(new Set(['queue']));
  const set = setHere(stamped, { copies: 4, customer: 'Marram Theatre', quarterTurn: true });
  expect(set.origins).toMatchObject({ copies: 'set here', customer: 'set here', quarterTurn: 'queue' });
  expect(stamped.values.copies).toBe(1);
  const other: TicketValues = { ...QUEUE, stockId: 'satin', modeId: 'photo', cutOff: 'full', dryOut: false };
  const moved = moveToQueue(setHere(set, { dryOut: true, modeId: 'fine', span: 'artwork' }), other);
  expect(moved.values).toMatchObject({
    copies: 4,
    customer: 'Marram Theatre',
    stockId: 'satin',
    modeId: 'photo',
    cutOff: 'full',
    span: 'artwork',
  });
  expect(moved.origins).toMatchObject({ copies: 'set here', modeId: 'queue', span: 'set here', cutOff: 'queue' });
  expect(runWideDifference(QUEUE, other)).toBe('stockId');
  expect(runWideDifference(QUEUE, { ...QUEUE, copies: 9, dueMs: 5 })).toBeUndefined();
});

test('findings carry their figures and the way out, the worst first', () => {
  const base = {
    pages: [{ widthMm: 2400, heightMm: 700 }],
    hasAlpha: false,
    quarterTurn: true,
    usableWidthMm: 1590,
    mediaName: 'Block-out banner 1600',
    printerName: 'Heron',
    longestMm: 50_000,
    resolution: { warnBelowDpi: 50, noteBelowDpi: 90 },
  };
  expect(checkJob(base).map((finding) => finding.code)).toEqual(['must-turn']);
  expect(checkJob({ ...base, quarterTurn: false })[0]).toMatchObject({
    code: 'too-wide',
    severity: 'block',
    figures: { leastMm: 2400, usableWidthMm: 1590 },
    text: expect.stringContaining('Allow a quarter turn') as string,
  });
  expect(checkJob({ ...base, pages: [{ widthMm: 2450, heightMm: 3100 }] })[0]?.text).toBe(
    'Wider than Heron prints on Block-out banner 1600: 2,450 mm of 1,590 mm. Move it to a wider queue, or make it smaller.',
  );
  const photo = checkJob({
    ...base,
    pages: [{ widthMm: 1000, heightMm: 500 }],
    pixelsAcross: 1600,
    assumedDpi: 40,
    hasAlpha: true,
  });
  expect(photo.map((finding) => [finding.code, finding.severity])).toEqual([
    ['no-size', 'warn'],
    ['resolution', 'warn'],
    ['transparency', 'note'],
  ]);
  expect(photo[1]?.figures.dpi).toBeCloseTo(40.64, 2);
  expect(
    checkJob({
      ...base,
      pages: [
        { widthMm: 100, heightMm: 60_000 },
        { widthMm: 90, heightMm: 50 },
      ],
    }).map((finding) => finding.code),
  ).toEqual(['too-long', 'page-sizes']);
});

test('a line of runs: what was, what is, what follows', () => {
  const run = { startedMs: null, endedMs: null, msLeft: null, saidAtMs: null, estimateMs: 600 };
  const spans = lineOfRuns(
    [
      { ...run, id: 'old', state: 'printed', startedMs: 100, endedMs: 400 },
      { ...run, id: 'now', state: 'printing', startedMs: 500, msLeft: 300, saidAtMs: 900 },
      { ...run, id: 'next', state: 'queued' },
      { ...run, id: 'last', state: 'queued', estimateMs: 50 },
    ],
    1000,
  );
  expect(spans).toEqual([
    { id: 'old', fromMs: 100, toMs: 400 },
    { id: 'now', fromMs: 500, toMs: 1200 },
    { id: 'next', fromMs: 1200, toMs: 1800 },
    { id: 'last', fromMs: 1800, toMs: 1850 },
  ]);
  expect(
    lineOfRuns([{ ...run, id: 'stuck', state: 'paused', startedMs: 500, msLeft: 300, saidAtMs: 600 }], 1000),
  ).toEqual([{ id: 'stuck', fromMs: 500, toMs: 1300 }]);
});
