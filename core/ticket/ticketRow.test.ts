import { instantOf, parseDue } from './localTime.ts';
import { type NameContext, compilePattern, readFolders, readName } from './namePattern.ts';
import { parseScale } from './scaleText.ts';
import { readRow } from './ticketRow.ts';

const ZONE = 'Europe/Lisbon';
const CONTEXT: NameContext = { zone: ZONE, dayEndsAt: { h: 18, mi: 0 }, unit: 'mm' };

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
    ['1:10', 1000],
    ['1-4', 400],
    ['1 to 20', 2000],
    ['1zu5', 500],
    ['2:1', 50],
    ['50 %', 50],
    ['12,5', 12.5],
    ['1:0', undefined],
    ['0', undefined],
    ['1:10:2', undefined],
    ['large', undefined],
  ])('the scale “%s” is %s per cent', (text, percent) => {
    expect(parseScale(text)).toBe(percent);
  });
  test('a drawing at a tenth is printed ten times as large, said by its name or its row; a size that is named goes before it', () => {
    const pattern = '{order}_[{width}x{height}{unit}_]{scale}';
    const tenth = { kind: 'percent', x: 1000, y: 1000 };
    expect(read(pattern, 'LM-77_1-10.pdf')).toMatchObject({ value: { values: { orderNo: 'LM-77', size: tenth } } });
    expect(read(pattern, 'LM-77_600x900mm_1-10.pdf')).toMatchObject({
      value: { values: { size: { kind: 'exact', widthMm: 600, heightMm: 900 } } },
    });
    expect(read(pattern, 'LM-77_1-0.pdf')).toMatchObject({ reason: { code: 'bad-value', part: 'scale' } });
    expect(readRow({ scale: '1:10' }, { ...CONTEXT, stocks: [], modes: [] }).values).toEqual({ size: tenth });
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
    expect(bad.problems.map(({ field }) => field)).toEqual(['copies', 'due', 'mode', 'colour']);
    expect([bad.file, bad.values]).toEqual(['passwd', {}]);
  });
});
