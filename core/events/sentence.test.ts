import fc from 'fast-check';
import type { EventData, EventKind } from './eventData.ts';
import { eventSentence, isEventKind } from './sentence.ts';

const say = <K extends EventKind>(kind: K, data: EventData[K]): string => eventSentence({ kind, data, text: '' });

describe('the sentence of an event', () => {
  test('says what happened with its figures, and one as one', () => {
    expect([
      say('run.queued', { run: 12, printer: 'Heron', lengthMm: 4210, back: false }),
      say('run.queued', { run: 13, printer: 'Heron', lengthMm: 4210, back: true }),
      say('run.drafted', { run: 14, pieces: 1, jobs: 2, printer: 'Gannet' }),
      say('jobs.changed', { jobs: 3, what: 'copies', refused: 1 }),
      say('jobs.changed', { jobs: 1, what: 'copies', refused: 0 }),
      say('job.spoiled', { file: 'a.pdf', pieces: 1 }),
      say('job.spoiled', { file: 'a.pdf', pieces: 4 }),
    ]).toEqual([
      'Run 12 queued on Heron: 4.21\u00a0m',
      'Run 13 queued on Heron: 4.21\u00a0m, a back',
      'Run 14: 1 piece of 2 jobs on the Bench for Gannet',
      '3 jobs: copies changed; 1 could not be changed',
      '1 job: copies changed',
      'a.pdf: 1 spoiled piece is printed again',
      'a.pdf: 4 spoiled pieces are printed again',
    ]);
  });

  test('a pause, a failure and a cancel say where, and why where a reason is known', () => {
    expect([
      say('run.printing', { run: 1, resumedMm: null }),
      say('run.printing', { run: 1, resumedMm: 120 }),
      say('run.paused', { run: 1, atMm: 120, reason: null }),
      say('run.failed', { run: 1, atMm: 2035, reason: 'head strike' }),
      say('run.cancelled', { run: 1, atMm: null }),
      say('run.cancelled', { run: 1, atMm: 500 }),
      say('printer.state', { printer: 'Heron', state: 'idle', reason: null }),
      say('printer.state', { printer: 'Heron', state: 'off', reason: 'no answer from the printer' }),
    ]).toEqual([
      'Run 1 is printing',
      'Run 1 goes on at 0.12\u00a0m',
      'Run 1 paused at 0.12\u00a0m: by hand',
      'Run 1 failed at 2.04\u00a0m: head strike',
      'Run 1 cancelled',
      'Run 1 cancelled at 0.50\u00a0m',
      'Heron is idle',
      'Heron is off: no answer from the printer',
    ]);
  });

  test('lateness is in minutes up to two hours, then in hours', () => {
    const late = (minutes: number): string => say('run.at-risk', { run: 5, printer: 'Tern', lateMs: minutes * 60_000 });
    expect([late(1), late(119), late(120)].map((text) => / be (.*) late/.exec(text)?.[1])).toEqual([
      '1 min',
      '119 min',
      '2.0 h',
    ]);
  });

  test('copies of a job in a draft: more, fewer, and beyond what was ordered', () => {
    const copies = (pieces: number, order: EventData['run.copies']['order']): string =>
      say('run.copies', { run: 7, pieces, file: 'label.pdf', order });
    expect([copies(3, null), copies(-2, null), copies(5, { beyond: 2 })]).toEqual([
      'Run 7: 3 more of label.pdf',
      'Run 7: 2 fewer of label.pdf; they wait again',
      'Run 7: 5 more of label.pdf, 2 of them beyond what was ordered',
    ]);
  });

  test('sizes that were added, taken off and renamed', () => {
    const sizes = (added: string[], gone: string[]): string => say('sizes.changed', { added, gone });
    expect([sizes(['A0'], []), sizes([], ['A0']), sizes(['Sill'], ['Ledge']), sizes([], [])]).toEqual([
      'Size A0 added',
      'Size A0 taken off the list',
      'Size Ledge is now Sill',
      'Sizes changed',
    ]);
  });
});

test('a row of an earlier version keeps its own text, and so does a kind that nobody knows', () => {
  fc.assert(
    fc.property(fc.string(), fc.string(), (kind, text) => {
      expect(eventSentence({ kind, data: null, text })).toBe(text);
      if (!isEventKind(kind)) expect(eventSentence({ kind, data: { run: 1 }, text })).toBe(text);
    }),
  );
  // A name that every object has is no kind of event.
  expect(eventSentence({ kind: 'toString', data: {}, text: 'kept' })).toBe('kept');
});
