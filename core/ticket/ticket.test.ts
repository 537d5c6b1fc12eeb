import { runWideDifference } from './settings.ts';
import fc from 'fast-check';
import { parseLength } from '../units/length.ts';
import { effectiveDpi } from './fileFindings.ts';
import { type CheckInput, type CheckedPage, PLAIN_CHECKS } from './finding.ts';
import { checkJob, noPrintSize } from './findings.ts';
import type { FinishedPage, SourcePage } from './finishedPage.ts';
import { type FinishValues, finishPage, sidesAsTheyLie } from './finish.ts';
import { instantOf, parseDue } from './localTime.ts';
import { type NameContext, compilePattern, readFolders, readName } from './namePattern.ts';
import { partsOf } from './parts.ts';
import { NAMED_SIZES, type SizeRule, sizeOf } from './sizeRule.ts';
import {
  NO_SIDES,
  PLAIN_TICKET,
  type Ticket,
  type TicketValues,
  changedKeys,
  makeTicket,
  inheritedValue,
  presetIsChanged,
  putBack,
  rebaseTicket,
  setHere,
  usePresetOf,
} from './ticket.ts';
import { readRow } from './ticketRow.ts';

const ZONE = 'Europe/Lisbon';
const CONTEXT: NameContext = { zone: ZONE, dayEndsAt: { h: 18, mi: 0 }, unit: 'mm' };

function stamped(): Ticket {
  return makeTicket(
    {
      printer: { cutOff: 'full' },
      stock: { dryOut: true, span: 'whole bed' },
      queue: { modeId: 'production', stockId: 'banner', span: 'media' },
      preset: { mirror: true, copies: 2 },
      'file name': { copies: 3 },
      'ticket file': { customer: 'Marram Theatre' },
    },
    { id: 'p1', name: 'Window' },
  );
}

describe('tickets', () => {
  test('the stronger origin wins, value by value', () => {
    const { values, origins } = setHere(stamped(), { customer: 'Quillon Tramways' });
    expect(values).toMatchObject({ cutOff: 'full', dryOut: true, span: 'media', mirror: true, copies: 3 });
    expect(origins).toMatchObject({
      quarterTurn: 'printer',
      cutOff: 'printer',
      dryOut: 'stock',
      span: 'queue',
      mirror: 'preset',
      copies: 'file name',
      customer: 'set here',
    });
  });

  test('what is set here can be put back, one or all, and it is known what it would be otherwise', () => {
    const set = setHere(stamped(), { copies: 9, mirror: false, notes: 'by the side door' });
    expect(inheritedValue(set, 'copies')).toEqual({ value: 3, origin: 'file name' });
    expect(putBack(set, ['copies']).values).toMatchObject({ copies: 3, mirror: false, notes: 'by the side door' });
    expect(putBack(set, 'all')).toEqual(makeTicket({ ...stamped().layers, 'set here': {} }, stamped().preset));
    // Typing what holds anyhow is no change.
    expect(setHere(set, { copies: 3 }).origins.copies).toBe('file name');
    expect([presetIsChanged(stamped()), presetIsChanged(set)]).toEqual([false, true]);
    expect(usePresetOf(set, null)).toMatchObject({ preset: null, values: { mirror: false } });
    expect(() => makeTicket({})).toThrow('without mode or stock');
  });

  test('any row of settings here, put back, is the ticket as it was stamped', () => {
    const change = fc.record(
      {
        copies: fc.integer({ min: 1, max: 99 }),
        mirror: fc.boolean(),
        dryOut: fc.boolean(),
        customer: fc.option(fc.string()),
        turn: fc.constantFrom(0 as const, 90 as const, 'best' as const),
      },
      { requiredKeys: [] },
    );
    fc.assert(
      fc.property(fc.array(change, { maxLength: 6 }), (changes) => {
        const changed = changes.reduce((ticket, each) => setHere(ticket, each), stamped());
        expect(putBack(changed, 'all').values).toEqual(stamped().values);
        for (const key of changedKeys(changed.values, stamped().values)) expect(changed.origins[key]).toBe('set here');
      }),
      { seed: 5 },
    );
  });

  test('moved to another printer: its layers are taken anew, the others stay, a mode it does not have is left behind', () => {
    const set = setHere(stamped(), { copies: 4, modeId: 'fine', dryOut: false });
    const moved = rebaseTicket(
      set,
      { printer: { cutOff: 'none' }, stock: {}, queue: { modeId: 'photo', stockId: 'satin' } },
      { modeIds: ['photo'], stockIds: ['satin', 'banner'] },
    );
    expect(moved.values).toMatchObject({ copies: 4, modeId: 'photo', stockId: 'satin', cutOff: 'none', dryOut: false });
    expect(moved.origins).toMatchObject({ copies: 'set here', modeId: 'queue', cutOff: 'printer', dryOut: 'set here' });
    expect(runWideDifference(set.values, moved.values)).toBe('stockId');
  });

  test('parts: whole, black, each ink and spot, or those named', () => {
    expect(partsOf({ kind: 'all inks' }, ['Gold'])).toEqual([null]);
    expect(partsOf({ kind: 'black only' }, [])).toEqual(['black']);
    expect(partsOf({ kind: 'each alone' }, ['Gold'])).toEqual(['cyan', 'magenta', 'yellow', 'black', 'Gold']);
    expect(partsOf({ kind: 'named', names: ['Gold'] }, [])).toEqual(['Gold']);
  });
});

const page = (widthMm: number, heightMm: number, bleed = NO_SIDES): SourcePage => ({ widthMm, heightMm, bleed });
const AS_IT_CAME: FinishValues = PLAIN_TICKET;
function finished(source: SourcePage, values: Partial<FinishValues>, usableWidthMm = 1590): FinishedPage {
  const made = finishPage(source, { ...AS_IT_CAME, ...values }, usableWidthMm);
  if (!made.ok) throw new Error(made.reason.code);
  return made.value;
}

describe('sizes', () => {
  const art = { widthMm: 600, heightMm: 900 };
  const lies = { quarterTurned: false, usableWidthMm: 1590 };
  test.each<[SizeRule, number, number]>([
    [{ kind: 'as it came' }, 600, 900],
    [{ kind: 'percent', x: 50, y: 200 }, 300, 1800],
    [{ kind: 'exact', widthMm: 301.625, heightMm: null }, 301.625, 452.4375],
    [{ kind: 'exact', widthMm: null, heightMm: 300 }, 200, 300],
    [{ kind: 'exact', widthMm: 100, heightMm: 100 }, 100, 100],
    [{ kind: 'media width' }, 1590, 2385],
    [{ kind: 'length', lengthMm: 450 }, 300, 450],
    // A sheet is turned to suit the artwork: 594 × 841 holds 600 × 900 at 93.44 %.
    [{ kind: 'within', name: 'A1', widthMm: 841, heightMm: 594 }, 560.667, 841],
  ])('%j makes %s × %s', (rule, w, h) => {
    const size = sizeOf(rule, art, lies);
    expect(size.ok && size.value.widthMm).toBeCloseTo(w, 3);
    expect(size.ok && size.value.heightMm).toBeCloseTo(h, 3);
  });
  test('turned by a quarter, its height lies across the media', () => {
    expect(sizeOf({ kind: 'media width' }, art, { ...lies, quarterTurned: true })).toEqual({
      ok: true,
      value: { widthMm: 1060, heightMm: 1590 },
    });
    expect(sizeOf({ kind: 'exact', widthMm: null, heightMm: null }, art, lies).ok).toBe(false);
  });
  test('the named sizes are those of their standards', () => {
    const named = (name: string) => NAMED_SIZES.find((size) => size.name === name);
    expect(named('A4')).toEqual({ name: 'A4', widthMm: 210, heightMm: 297 });
    expect(named('A3')).toMatchObject({ widthMm: 297, heightMm: 420 });
    expect(named('B2')).toMatchObject({ widthMm: 500, heightMm: 707 });
    expect(named('ANSI D')?.widthMm).toBeCloseTo(558.8, 9);
  });
  test.each([
    ['3*18in+2mm', 1373.6],
    ['(2 m - 40) / 3', 653.3333],
    ['11 7/8 in', 301.625],
    ['38 ft', 11_582.4],
    ['6 ft 2 1/2 in', 1892.3],
    ['2 × 1,5 m', 3000],
    ['-(5-2cm)', 15],
    ['100+1in', 125.4],
  ])('%s is %s mm', (text, mm) => {
    const parsed = parseLength(text, 'mm');
    expect(parsed.ok && parsed.value).toBeCloseTo(mm, 3);
  });
  test.each([
    ['3in*2in', 'length-times-length'],
    ['3/(2-2)', 'divided-by-zero'],
    ['12 34', 'not-a-length'],
    ['2*(3+1', 'not-a-length'],
    ['5+', 'not-a-length'],
  ])('%s is refused: %s', (text, code) => {
    expect(parseLength(text, 'mm')).toMatchObject({ ok: false, reason: { code } });
  });
});

describe('finished pages', () => {
  const bleed = { leftMm: 3, topMm: 4, rightMm: 5, bottomMm: 6 };
  test('cropped, sized, turned: the window on the source, and bleed that goes along', () => {
    const made = finished(page(600, 900, bleed), {
      crop: { leftMm: 100, topMm: 0, rightMm: 0, bottomMm: 50 },
      size: { kind: 'percent', x: 200, y: 200 },
      turn: 90,
    });
    expect([made.widthMm, made.heightMm]).toEqual([1700, 1000]);
    // The right side of the artwork is on top after a counter-clockwise quarter turn.
    expect(made.bleed).toEqual({ topMm: 10, leftMm: 8, bottomMm: 6, rightMm: 12 });
    expect(made.window).toEqual({ xMm: 97, yMm: -4, widthMm: 508, heightMm: 860 });
    expect(made.scaleX).toBeCloseTo(2, 12);
  });
  test('bleed that the file lacks is drawn out of the artwork; bleed that it has too much of is cut', () => {
    const drawn = finished(page(100, 50), { bleedMm: 5 });
    expect(drawn).toMatchObject({ widthMm: 100, heightMm: 50, window: { widthMm: 100, heightMm: 50 } });
    expect([drawn.scaleX, drawn.scaleY]).toEqual([1.1, 1.2]);
    const cut = finished(page(100, 50, bleed), { bleedMm: 2 });
    expect(cut.window).toEqual({ xMm: -2, yMm: -2, widthMm: 104, heightMm: 54 });
    expect(cut.scaleX).toBe(1);
  });
  test('best turn: what fits, then what feeds less', () => {
    expect(finished(page(2400, 700), { turn: 'best' }).turn).toBe(90);
    expect(finished(page(700, 1400), { turn: 'best' }).turn).toBe(90);
    expect(finished(page(1400, 700), { turn: 'best' }).turn).toBe(0);
    expect(finished(page(2450, 3100), { turn: 'best' }).turn).toBe(0);
  });
  test('too much cropped, and sizes beyond all bounds, are refused with figures', () => {
    const crop = { leftMm: 60, topMm: 0, rightMm: 60, bottomMm: 0 };
    const gone = finishPage(page(100, 50), { ...AS_IT_CAME, crop }, 1590);
    expect(gone).toEqual({ ok: false, reason: { code: 'nothing-left', widthMm: -20, heightMm: 50 } });
    expect(finishPage(page(100, 50), { ...AS_IT_CAME, size: { kind: 'percent', x: 1e5, y: 1e9 } }, 1590)).toMatchObject(
      {
        reason: { code: 'out-of-range' },
      },
    );
    expect(noPrintSize({ code: 'nothing-left', widthMm: -20, heightMm: 50 })).toMatchObject({
      severity: 'block',
      text: 'The crop leaves nothing of it: -20 mm × 50 mm.',
    });
  });
  test('for any ticket the window fills the piece, and lies within the artwork that there is', () => {
    const mm = fc.integer({ min: 20, max: 3000 });
    const small = fc.integer({ min: 0, max: 9 });
    const sides = fc.record({ leftMm: small, topMm: small, rightMm: small, bottomMm: small });
    const values = fc.record({
      crop: sides,
      bleedMm: fc.option(small),
      turn: fc.constantFrom(0 as const, 90 as const, 180 as const, 270 as const, 'best' as const),
      mirror: fc.boolean(),
      size: fc.constantFrom<SizeRule>(
        { kind: 'as it came' },
        { kind: 'percent', x: 130, y: 70 },
        { kind: 'exact', widthMm: 500, heightMm: null },
        { kind: 'media width' },
      ),
    });
    fc.assert(
      fc.property(mm, mm, sides, values, (w, h, has, ticket) => {
        const made = finished(page(w, h, has), ticket);
        const upright = made.turn % 180 === 0;
        const across = made.widthMm + made.bleed.leftMm + made.bleed.rightMm;
        const along = made.heightMm + made.bleed.topMm + made.bleed.bottomMm;
        expect(made.window.widthMm * made.scaleX).toBeCloseTo(upright ? across : along, 2);
        expect(made.window.heightMm * made.scaleY).toBeCloseTo(upright ? along : across, 2);
        expect(made.window.xMm).toBeGreaterThanOrEqual(-has.leftMm - 1e-9);
        expect(made.window.yMm).toBeGreaterThanOrEqual(-has.topMm - 1e-9);
        expect(made.window.xMm + made.window.widthMm).toBeLessThanOrEqual(w + has.rightMm + 1e-9);
        expect(made.window.yMm + made.window.heightMm).toBeLessThanOrEqual(h + has.bottomMm + 1e-9);
      }),
      { seed: 8, numRuns: 300 },
    );
  });
  test('four quarter turns, and two mirrorings, bring the sides back', () => {
    let sides = { leftMm: 1, topMm: 2, rightMm: 3, bottomMm: 4 };
    for (let i = 0; i < 4; i++) sides = sidesAsTheyLie(sides, 90, false);
    expect(sidesAsTheyLie(sidesAsTheyLie(sides, 0, true), 0, true)).toEqual({
      leftMm: 1,
      topMm: 2,
      rightMm: 3,
      bottomMm: 4,
    });
  });
});

describe('what names and ticket files say', () => {
  const read = (pattern: string, name: string) => {
    const compiled = compilePattern(pattern);
    if (!compiled.ok) throw new Error(compiled.reason.code);
    return readName(compiled.value, name, CONTEXT);
  };
  test('named parts, optional parts, and units', () => {
    const pattern = '{order}_{customer}_{copies}x_{width}x{height}{unit}[_{due}]';
    const full = read(pattern, 'LM-77_Lantern Street_12x_38x11.5in_2026-10-08.pdf');
    expect(full).toMatchObject({
      ok: true,
      value: { values: { orderNo: 'LM-77', customer: 'Lantern Street', copies: 12 } },
    });
    const values = full.ok ? full.value.values : {};
    expect(values.size).toMatchObject({
      kind: 'exact',
      widthMm: expect.closeTo(965.2, 6) as number,
      heightMm: expect.closeTo(292.1, 6) as number,
    });
    expect(values.dueMs).toBe(Date.parse('2026-10-08T18:00:00+01:00'));
    const short = read(pattern, 'LM-77_Marram_1x_600x900mm.png');
    expect(short.ok && short.value.values.dueMs).toBeUndefined();
  });
  test('any Unicode, dots in names, and names that do not match', () => {
    expect(read('{customer} – {order}', 'Café Ñandú 灯 – Ø7.v2.pdf')).toMatchObject({
      value: { values: { customer: 'Café Ñandú 灯', orderNo: 'Ø7.v2' } },
    });
    expect(read('{order}_{copies}', 'holiday.jpg')).toEqual({ ok: false, reason: { code: 'no-match' } });
    expect(read('{order}_{copies}', 'A_0.jpg')).toEqual({
      ok: false,
      reason: { code: 'bad-value', part: 'copies', got: '0' },
    });
    expect(read('{any}-{due}', 'x-2026-02-30.pdf')).toMatchObject({ reason: { code: 'bad-value', part: 'due' } });
  });
  test.each([
    ['', 'empty'],
    ['{prize}', 'unknown-part'],
    ['{order}{order}', 'part-twice'],
    ['[{order}', 'brackets'],
    ['{order', 'brackets'],
  ])('the pattern “%s” is refused: %s', (text, code) => {
    expect(compilePattern(text)).toMatchObject({ ok: false, reason: { code } });
  });
  test('folders', () => {
    expect(readFolders('customer/order', ['Marram Theatre', 'MT-93'])).toEqual({
      customer: 'Marram Theatre',
      orderNo: 'MT-93',
    });
    expect(readFolders('order', ['MT-93'])).toEqual({ orderNo: 'MT-93' });
    expect(readFolders('customer', [])).toEqual({});
  });
  test('due dates in the zone of the shop, over the change of the clocks, and none that do not exist', () => {
    expect(parseDue('2026-07-01T09:30', ZONE, CONTEXT.dayEndsAt)).toBe(Date.parse('2026-07-01T08:30:00Z'));
    expect(parseDue('8.1.2026', ZONE, CONTEXT.dayEndsAt)).toBe(Date.parse('2026-01-08T18:00:00Z'));
    expect(parseDue('2026-10-08T14:00:00Z', ZONE, CONTEXT.dayEndsAt)).toBe(Date.parse('2026-10-08T14:00:00Z'));
    expect(parseDue('tomorrow', ZONE, CONTEXT.dayEndsAt)).toBeUndefined();
    // On the last Sunday of March one o'clock is left out.
    expect(instantOf({ y: 2026, mo: 3, d: 29, h: 1, mi: 30 }, ZONE)).toBeUndefined();
  });
  test('a row says what is wrong with it, field by field', () => {
    const context = {
      ...CONTEXT,
      stocks: [{ id: 'mesh', name: 'Mesh banner' }],
      modes: [{ id: 'fine', name: 'Fine' }],
    };
    expect(
      readRow(
        {
          File: 'a.pdf',
          Copies: '12',
          width: '38 in',
          stock: 'mesh BANNER',
          priority: 'Rush',
          mirror: 'yes',
          notes: '',
        },
        context,
      ),
    ).toEqual({
      file: 'a.pdf',
      values: {
        copies: 12,
        stockId: 'mesh',
        priority: 'rush',
        mirror: true,
        size: { kind: 'exact', widthMm: expect.closeTo(965.2, 6) as number, heightMm: null },
      },
      problems: [],
    });
    const bad = readRow(
      { file: '../../etc/passwd', copies: '1e9', due: 'soon', mode: 'Turbo', colour: 'red' },
      context,
    );
    expect(bad.problems.map(({ field }) => field)).toEqual(['file', 'copies', 'due', 'mode', 'colour']);
    expect([bad.file, bad.values]).toEqual([undefined, {}]);
  });
});

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
      'Wider than Heron prints on Block-out banner 1600: 2,450 mm of 1,590 mm. Move it to a wider queue, or make it smaller.',
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
