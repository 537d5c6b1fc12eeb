import { jobStateFromPieces } from './job.ts';
import { RUN_STATES, type RunAction, nextRunState } from './run.ts';

test('a run takes exactly the transitions there are', () => {
  const actions: RunAction[] = ['queue', 'send', 'start', 'pause', 'resume', 'finish', 'fail', 'cancel', 'dissolve'];
  const allowed = RUN_STATES.flatMap((state) =>
    actions.flatMap((action) => {
      const next = nextRunState(state, action);
      return next.ok ? [`${state} ${action} ${next.value}`] : [];
    }),
  );
  expect(allowed).toEqual([
    'draft queue queued',
    'draft dissolve cancelled',
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
