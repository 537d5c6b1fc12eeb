import { finished, page } from '../testing/finishedPage.ts';
import { effectiveDpi } from './fileFindings.ts';
import { type CheckInput, type CheckedPage, PLAIN_CHECKS } from './finding.ts';
import { checkJob } from './findings.ts';
import { PLAIN_TICKET, type TicketValues } from './ticket.ts';

const VALUES: TicketValues = { ...PLAIN_TICKET, modeId: 'production', stockId: 'block-out' };
const MODES = [
  { id: 'production', name: 'Production', passes: 6, profile: 'Banner 6-pass', profilePasses: 6 },
  { id: 'hasty', name: 'Hasty', passes: 4, profile: 'Banner 6-pass', profilePasses: 6 },
];

function checked(w: number, h: number, change: Partial<CheckedPage> = {}, values: TicketValues = VALUES): CheckedPage {
  const source = page(w, h);
  return { source, finished: finished(source, values), dpi: null, thinnestMm: null, coverage: 0.3, ...change };
}

function input(pages: CheckedPage[], change: Partial<CheckInput> = {}): CheckInput {
  return {
    pages,
    nature: { assumedDpi: null, hasAlpha: false, colourSpaces: [], profile: null, spots: [], missingFonts: [] },
    values: VALUES,
    usableWidthMm: 1590,
    mediaName: 'Block-out banner 1600',
    printerName: 'Heron',
    longestMm: 50_000,
    canEdgeToEdge: false,
    modes: MODES,
    channels: ['cyan', 'magenta', 'yellow', 'black'],
    suitableModes: null,
    checks: { ...PLAIN_CHECKS, warnBelowDpi: 50, noteBelowDpi: 90 },
    ...change,
  };
}
const codes = (what: CheckInput) => checkJob(what).map(({ code, severity }) => `${code} ${severity}`);

describe('findings', () => {
  test('size against the media, the worst first, with figures and mends that mend', () => {
    expect(codes(input([checked(2400, 700)]))).toEqual(['must-turn note']);
    const still = { ...VALUES, quarterTurn: false };
    const [over] = checkJob(input([checked(2400, 700)], { values: still }));
    expect(over).toMatchObject({
      code: 'too-wide',
      severity: 'block',
      figures: { leastMm: 2400, usableWidthMm: 1590 },
    });
    expect(over?.text).toContain('Allow a quarter turn');
    for (const { change } of over?.mends ?? []) {
      const values = { ...still, ...change };
      expect(codes(input([checked(2400, 700, {}, values)], { values }))).not.toContain('too-wide block');
    }
    expect(checkJob(input([checked(2450, 3100)]))[0]?.text).toBe(
      'Wider than Heron prints on Block-out banner 1600: 2,450\u00a0mm of 1,590\u00a0mm. Move it to a wider queue, or make it smaller.',
    );
    expect(codes(input([checked(100, 60_000), checked(90, 50)]))).toEqual(['too-long block', 'page-sizes note']);
    expect(codes(input([checked(1600, 700)]))).toEqual(['page-media warn', 'must-turn note']);
    expect(codes(input([checked(1575, 700)]))).toEqual(['page-media note']);
  });
  test('resolution follows the size: 1,600 px over 1,000 mm are 40.64 dpi; at the mend it is what is wanted', () => {
    const photo = checked(1000, 500, { dpi: 40.64 });
    const [finding] = checkJob(input([photo]));
    expect(finding).toMatchObject({ code: 'resolution', severity: 'warn', figures: { dpi: 40.64 } });
    const values = { ...VALUES, ...finding?.mends[0]?.change };
    const mended = checked(1000, 500, { dpi: 40.64 }, values);
    expect(effectiveDpi(mended)).toBeCloseTo(50, 6);
    expect(codes(input([mended], { values }))).toEqual(['resolution note']);
  });
  test('what of a PDF is not simply on its pages is said in one sentence each', () => {
    const nature = { ...input([]).nature };
    const found = (more: Partial<typeof nature>) =>
      checkJob(input([checked(300, 200)], { nature: { ...nature, ...more } })).map(({ severity, text }) => [
        severity,
        text,
      ]);
    expect(
      found({ layers: { printed: ['Artwork'], left: [] }, annotations: { printed: 0, left: 0, fields: 0, empty: 0 } }),
    ).toEqual([]);
    expect(found({ layers: { printed: ['Artwork'], left: ['a', 'b', 'c', 'd', 'e'] } })).toEqual([
      ['note', 'Layers that are off are not printed: a, b, c, d and 1 more. Printed: Artwork.'],
    ]);
    expect(found({ annotations: { printed: 1, left: 2, fields: 3, empty: 1 } })).toEqual([
      ['warn', expect.stringContaining('1 annotation or form field should print, but the file has no picture of it.')],
      ['note', 'Annotations: 1 on the page is printed, 3 form fields are printed, 2 not meant for paper are left out.'],
    ]);
    expect(found({ overprint: true }).map(([severity]) => severity)).toEqual(['note']);
    expect(found({ mended: true })).toEqual([
      ['warn', 'Its list of pages is broken. 1 page was found: look whether all are there, in their order.'],
    ]);
    expect(found({ forbids: ['changing', 'copying'] })).toEqual([
      ['note', 'The PDF is locked, and opens without a password; its owner forbids changing and copying.'],
    ]);
  });
  test('what the file lacks: size, bleed, ink, fonts, fine lines, one colour space', () => {
    const nature = {
      assumedDpi: 150,
      hasAlpha: true,
      colourSpaces: ['CMYK', 'RGB'],
      profile: null,
      spots: ['Gold'],
      missingFonts: ['Quay Sans'],
    };
    const checks = { ...PLAIN_CHECKS, bleedMm: 3, mostPages: 1, thinLineMm: 0.1 };
    const pages = [
      checked(300, 200, { thinnestMm: 0.05 }),
      checked(300, 200, { coverage: 0 }),
      checked(300, 200, { coverage: 0.001 }),
    ];
    const found = checkJob(input(pages, { nature, checks }));
    expect(found.map(({ code, severity }) => `${code} ${severity}`)).toEqual([
      'page-count warn',
      'no-size warn',
      'bleed warn',
      'thin-lines warn',
      'blank warn',
      'fonts warn',
      'blank note',
      'colour note',
      'spots note',
      'transparency note',
    ]);
    expect(found.filter(({ code }) => code === 'blank').map(({ text }) => text)).toEqual([
      'Page 2 is blank: nothing would be printed.',
      'Page 3 is nearly blank: ink on 0.10 % at most.',
    ]);
    const values = { ...VALUES, ...found.find(({ code }) => code === 'bleed')?.mends[0]?.change };
    expect(codes(input([checked(300, 200, {}, values)], { values, checks }))).toEqual([]);
  });
  test('a mode whose passes are not its profile’s, and edge to edge where it can’t be', () => {
    const values = { ...VALUES, modeId: 'hasty', edgeToEdge: true };
    const found = checkJob(input([checked(300, 200)], { values }));
    expect(found.map(({ code }) => code)).toEqual(['edge-to-edge', 'mode-profile']);
    expect(found[1]).toMatchObject({
      text: 'Hasty prints 4 passes; its profile Banner 6-pass was made for 6.',
      mends: [{ change: { modeId: 'production' } }],
    });
  });
});

test('a mode that is not for the stock blocks the job, and each that is mends it', () => {
  const [right, wrong] = MODES;
  if (!right || !wrong) throw new Error('two modes are needed');
  const found = (suitableModes: readonly string[] | null) =>
    checkJob(input([checked(500, 400)], { suitableModes, values: { ...VALUES, modeId: wrong.id } })).find(
      ({ code }) => code === 'mode-stock',
    );
  expect(found([right.id])).toMatchObject({
    severity: 'block',
    mends: [{ text: `Print as ${right.name}`, change: { modeId: right.id } }],
  });
  expect(found([right.id, wrong.id])).toBeUndefined();
  expect(found(null)).toBeUndefined();
  // A stock for which the printer has no mode at all may be meant for another one.
  expect(found([])).toMatchObject({ severity: 'warn', mends: [] });
});

test('curves that can’t be used block the job, those of channels that the printer lacks are told, and each is mended by a click', () => {
  const half = [{ at: 0.5, to: 0.4 }];
  const cyan = { channel: 'cyan', points: half };
  const found = (curves: TicketValues['curves']) =>
    checkJob(input([checked(300, 200)], { values: { ...VALUES, curves } })).find(({ code }) => code === 'curves');
  expect(found([cyan, { channel: 'red', points: half }])).toBeUndefined();
  expect(found([cyan, cyan])).toMatchObject({ severity: 'block', mends: [{ change: { curves: [] } }] });
  expect(found([cyan, { channel: 'orange', points: half }])).toMatchObject({
    severity: 'warn',
    text: 'Heron has no orange: that curve does nothing there.',
    mends: [{ text: 'Take it off', change: { curves: [cyan] } }],
  });
});

test('CMYK that says nothing of itself is told, with what it is read as; Lab and tagged CMYK say it themselves', () => {
  const told = (colourSpaces: string[], profile: string | null, cmyk: string | null) => {
    const { nature } = input([]);
    const values = { ...VALUES, artwork: { ...VALUES.artwork, cmyk } };
    return checkJob(input([checked(300, 200)], { nature: { ...nature, colourSpaces, profile }, values }))
      .filter(({ code }) => code === 'colour')
      .map(({ text }) => text);
  };
  const said = 'CMYK without a profile: how its inks should look is not said. It is read as';
  expect(told(['CMYK'], null, null)).toEqual([`${said} Coated paper CMYK.`]);
  expect(told(['CMYK'], null, 'Newsprint')).toEqual([`${said} Newsprint.`]);
  expect([told(['CMYK'], 'Press', null), told(['Lab'], null, null), told(['RGB'], null, null)]).toEqual([[], [], []]);
});
