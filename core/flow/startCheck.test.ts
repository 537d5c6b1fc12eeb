import { type StartQuestion, startCheck } from './startCheck.ts';

const SPOOL = {
  id: 's1',
  label: 'BO-31',
  lot: 'T1',
  stockId: 'block-out',
  stockName: 'Block-out banner 1600',
  sourceName: 'roll',
  widthMm: 1600,
  leftMm: 9000,
  takeUp: null,
};
const ASKED: StartQuestion = {
  run: {
    name: 'Run 7',
    stockId: 'block-out',
    stockName: 'Block-out banner 1600',
    mediaWidthMm: 1600,
    needMm: 2060,
    outMm: 2000,
    byHand: false,
    unattended: true,
    fixedStartMs: null,
    back: 'no',
    turn: null,
    unfit: [],
  },
  printer: {
    name: 'Heron',
    state: 'idle',
    reason: null,
    unattended: true,
    takeUp: true,
    freeHangMm: null,
    collectsMm: null,
    collectedMm: 0,
  },
  loaded: [SPOOL],
  attended: true,
  nowMs: 1000,
};
type Change = {
  readonly run?: Partial<StartQuestion['run']>;
  readonly printer?: Partial<StartQuestion['printer']>;
} & Partial<Pick<StartQuestion, 'loaded' | 'attended' | 'nowMs'>>;

function asked({ run, printer, ...rest }: Change): ReturnType<typeof startCheck> {
  return startCheck({ ...ASKED, ...rest, run: { ...ASKED.run, ...run }, printer: { ...ASKED.printer, ...printer } });
}

test('starts on the spool of its stock with the least that is enough', () => {
  const loaded = [
    { ...SPOOL, id: 'long' },
    { ...SPOOL, id: 'part', leftMm: 2100 },
    { ...SPOOL, id: 'stump', leftMm: 2000 },
    { ...SPOOL, id: 'other', stockId: 'mesh', leftMm: 2060 },
  ];
  expect(asked({ loaded })).toMatchObject({ ok: true, spool: { id: 'part' } });
  expect(asked({ run: { back: 'confirmed', needMm: 0 }, loaded: [] })).toEqual({ ok: true, spool: undefined });
});

test.each<[string, Change, string, RegExp, boolean]>([
  ['off', { printer: { state: 'off' } }, 'Heron does not answer', /on/, true],
  ['fault', { printer: { state: 'faulted', reason: 'jam' } }, 'Heron: jam', /printer/, true],
  ['front', { run: { back: 'front not printed' } }, 'The front of Run 7 is not printed yet', /waits/, false],
  [
    'confirm',
    { run: { back: 'not confirmed', turn: 'end for end' } },
    'Turn the media on Heron end for end for the back, Run 7',
    /confirm/,
    true,
  ],
  [
    'other-lot',
    { run: { lot: 'T2' } },
    'The order of Run 7 was begun on lot T2; BO-31 on Heron is of lot T1',
    /Load a spool of lot T2, or take/,
    true,
  ],
  ['fixed-start', { run: { fixedStartMs: 1001 } }, 'Run 7 is not to start yet', /waits/, false],
  ['nobody', { run: { byHand: true }, attended: false }, 'Run 7 needs somebody there, and nobody is', /hours/, false],
  ['nobody', { run: { unattended: false }, attended: false }, 'Run 7 needs somebody there', /hours/, false],
  ['nobody', { printer: { unattended: false }, attended: false }, 'Run 7 needs somebody there', /hours/, false],
  ['nothing-loaded', { loaded: [] }, 'Nothing is loaded on Heron; Run 7 is for Block-out banner 1600', /Load/, true],
  [
    'wrong-stock',
    { loaded: [{ ...SPOOL, stockId: 'mesh', stockName: 'Mesh banner 1600' }] },
    'Heron holds Mesh banner 1600; Run 7 is for Block-out banner 1600',
    /move the run/,
    true,
  ],
  [
    'narrow',
    { loaded: [{ ...SPOOL, widthMm: 1596 }] },
    'BO-31 is 1,596\u00a0mm wide; Run 7 was laid out for 1,600\u00a0mm',
    /wider/,
    true,
  ],
  ['short', { run: { needMm: 9001 } }, 'BO-31 has 9.00\u00a0m left; Run 7 takes 9.00\u00a0m', /longer/, true],
  [
    'free-hang',
    { printer: { freeHangMm: 420 } },
    'Run 7 is 2.00\u00a0m long and may hang 0.42\u00a0m free',
    /take-up/,
    true,
  ],
  [
    'free-hang',
    { printer: { freeHangMm: 420, takeUp: false } },
    'Run 7 is 2.00\u00a0m long and may hang 0.42\u00a0m free',
    /^Cut the run into segments/,
    true,
  ],
  [
    'basket',
    { printer: { collectsMm: 5000, collectedMm: 3500 } },
    'The basket takes 1.50\u00a0m more; Run 7 is 2.00\u00a0m',
    /Empty/,
    true,
  ],
])('held back: %s', (code, change, text, way, hand) => {
  const answer = asked(change);
  expect(answer).toMatchObject({ ok: false, trouble: { code, hand } });
  const trouble = answer.ok ? undefined : answer.trouble;
  expect(trouble?.text).toContain(text);
  expect(trouble?.way).toMatch(way);
});

test('taken up, nothing hangs and no basket fills; a width within the tolerance will do', () => {
  const takeUp = { winding: 'printed side in', tension: 'light' } as const;
  const printer = { freeHangMm: 420, collectsMm: 100 };
  expect(asked({ printer, loaded: [{ ...SPOOL, takeUp, widthMm: 1597.5 }] })).toMatchObject({ ok: true });
});

test('of an order that is to be of one lot the spool of that lot is taken, also where a shorter one would do', () => {
  const other = { ...SPOOL, id: 's2', lot: 'T2', leftMm: 8000 };
  const asked = (lot: string | null) => startCheck({ ...ASKED, run: { ...ASKED.run, lot }, loaded: [SPOOL, other] });
  expect(asked(null)).toMatchObject({ ok: true, spool: { id: 's2' } });
  expect(asked('T1')).toMatchObject({ ok: true, spool: { id: 's1' } });
});
