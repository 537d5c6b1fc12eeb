import type { AwayEvent } from './awayEvents.ts';
import { type Happened, morningLines, morningSums } from './morning.ts';

const MIN = 60_000;
const END = 13 * 60 * MIN;

const planned = (id: string, more: Partial<AwayEvent> = {}): AwayEvent => ({
  ...{ id, printerId: 'heron', kind: 'run', what: id, atMs: 0, toMs: 60 * MIN, outcome: 'done', why: '' },
  ...{ lacks: null, pieces: 4, share: 1, lateMs: 0, ...more },
});
const came = (state: Happened['state'], more: Partial<Happened> = {}): Happened => ({
  ...{ state, startedMs: 0, endedMs: 60 * MIN, why: '', pieces: 0, lostPieces: 0, lostMm: 0, ...more },
});

test.each<[string, Partial<AwayEvent>, Happened | null, string, string]>([
  ['ends when it should', {}, came('done'), 'as planned', ''],
  ['a quarter of an hour is within what printers do', {}, came('done', { endedMs: 75 * MIN }), 'as planned', ''],
  ['ends later', {}, came('done', { endedMs: 75 * MIN + 1 }), 'later', ''],
  ['ends after the time away', {}, came('done', { endedMs: END + 1 }), 'not done', 'it ended after the time away'],
  ['broke off', {}, came('failed', { why: 'head strike' }), 'not done', 'head strike'],
  ['waits', {}, came('waiting', { startedMs: null, endedMs: null }), 'not done', 'its turn did not come'],
  ['is gone', {}, null, 'not done', 'it is no longer there'],
  [
    'a purge that work made needless',
    { kind: 'purge' },
    came('skipped', { why: 'exercised by work' }),
    'instead',
    'skipped: exercised by work',
  ],
  ['was skipped, as planned', { outcome: 'skipped', why: 'holiday' }, came('skipped'), 'as planned', 'holiday'],
  ['was needed after all', { outcome: 'skipped' }, came('done'), 'instead', 'it was needed after all'],
  [
    'was held out',
    { outcome: 'hand', why: 'Mesh has to be loaded' },
    came('waiting'),
    'left out',
    'Mesh has to be loaded',
  ],
  ['somebody came for it', { outcome: 'hand' }, came('done'), 'instead', 'somebody was there'],
])('%s', (_name, event, happened, verdict, why) => {
  const [line] = morningLines([planned('a', event)], new Map(happened ? [['a', happened]] : []), END);
  expect([line?.verdict, line?.why]).toEqual([verdict, why]);
});

test('what broke off can be printed again; the sums count runs, pieces and what was lost', () => {
  const events = [
    planned('a'),
    planned('b'),
    planned('c', { outcome: 'hand' }),
    planned('p', { kind: 'purge', pieces: 0 }),
  ];
  const lines = morningLines(
    events,
    new Map([
      ['a', came('done', { pieces: 4 })],
      ['b', came('failed', { pieces: 1, lostPieces: 1, lostMm: 800 })],
      ['p', came('done')],
    ]),
    END,
  );
  expect(lines.map(({ again }) => again)).toEqual([false, true, false, false]);
  expect(morningSums(lines)).toEqual({
    ...{ planned: 3, asPlanned: 2, runsPlanned: 2, runsDone: 1, piecesPlanned: 8, piecesDone: 5 },
    ...{ lostPieces: 1, lostMm: 800 },
  });
});
