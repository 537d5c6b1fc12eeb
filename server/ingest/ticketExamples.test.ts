import { readFileSync, writeFileSync } from 'node:fs';
import { Ajv2020 } from 'ajv/dist/2020.js';
import fc from 'fast-check';
import { SaxesParser } from 'saxes';
import { TicketFile } from '../../contract/api/ticketRow.ts';
import { ROW_FIELDS, type RowContext } from '../../core/ticket/ticketRow.ts';
import { PLAIN_TICKET, PRIORITIES, type TicketValues } from '../../core/ticket/ticket.ts';
import { readLimits } from '../limits.ts';
import { jdfRow, writeJdf } from './jdf.ts';
import { readTicketFile } from './readTicketFile.ts';

const LIMITS = readLimits({});
const CONTEXT: RowContext = {
  zone: 'Europe/Lisbon',
  dayEndsAt: { h: 18, mi: 0 },
  unit: 'mm',
  stocks: [{ id: 'mesh', name: 'Mesh banner 1600' }],
  modes: [],
};
const SCHEMA = 'docs/ticket.schema.json';

test.each(['json', 'csv', 'jdf'])('the example of docs/tickets.md as %s is a good ticket', (ending) => {
  const name = `ticket.${ending}`;
  const read = readTicketFile(name, readFileSync(`docs/examples/${name}`), CONTEXT, LIMITS);
  if (!read.ok) throw new Error(read.reason);
  expect(read.rows.flatMap((row) => row.problems)).toEqual([]);
  expect(read.rows[0]).toMatchObject({
    file: 'stall banner.pdf',
    values: {
      copies: 3,
      stockId: 'mesh',
      customer: 'Lantern Street Night Market',
      orderNo: 'LM-77',
      priority: 'rush',
      dueMs: Date.parse('2026-10-08T13:00:00Z'),
      notes: 'Hems on three sides',
      size: { kind: 'exact', widthMm: expect.closeTo(2400, 2) as number },
    },
  });
});

test('the JSON Schema in docs is the one that the program has, knows every field, and takes the example', () => {
  if (process.env.WRITE_DOCS === '1') writeFileSync(SCHEMA, `${JSON.stringify(TicketFile, null, 2)}\n`);
  const schema = JSON.parse(readFileSync(SCHEMA, 'utf8')) as { anyOf: [{ properties: object }] };
  expect(schema).toEqual(JSON.parse(JSON.stringify(TicketFile)));
  expect(Object.keys(schema.anyOf[0].properties).sort()).toEqual([...ROW_FIELDS].sort());
  const check = new Ajv2020({ strict: false }).compile(schema);
  expect(check(JSON.parse(readFileSync('docs/examples/ticket.json', 'utf8')))).toBe(true);
  expect(check([{ file: '../up.pdf' }])).toBe(false);
  expect(check({ copies: 0 })).toBe(false);
});

test('what is written as JDF is read as the same ticket, whatever the words in it', () => {
  const word = fc.string({ minLength: 1, maxLength: 40, unit: 'binary' }).filter((text) => {
    // XML 1.0 has no control characters, and a reader takes the ends of a line off.
    return text.trim() === text && !/[\p{Cc}\p{Cs}\p{Co}\p{Cn}]/u.test(text);
  });
  fc.assert(
    fc.property(
      word,
      word,
      fc.integer({ min: 1, max: 9999 }),
      fc.constantFrom(...PRIORITIES),
      (customer, orderNo, copies, priority) => {
        const values: TicketValues = {
          ...PLAIN_TICKET,
          modeId: 'm',
          stockId: 's',
          customer,
          orderNo,
          copies,
          priority,
          dueMs: 1_791_000_000_000,
        };
        const jdf = writeJdf({
          id: 'job-1',
          sourceName: 'Ñandú & 灯.pdf',
          widthMm: 600,
          heightMm: 900,
          stockName: 'Mesh <1600>',
          values,
        });
        const row = jdfRow(jdf, new SaxesParser({ xmlns: false }), LIMITS.xmlDepth);
        expect(row).toMatchObject({
          file: 'Ñandú & 灯.pdf',
          copies: String(copies),
          priority,
          customer,
          order: orderNo,
          stock: 'Mesh <1600>',
        });
        expect(Number.parseFloat(row?.width ?? '')).toBeCloseTo(600, 3);
        expect(Date.parse(row?.due ?? '')).toBe(1_791_000_000_000);
      },
    ),
    { seed: 3, numRuns: 60 },
  );
});

test('a CSV as spreadsheets write it: marks at the front, quotes, commas or semicolons, empty lines', () => {
  const read = (text: string) => readTicketFile('a.csv', Buffer.from(text), CONTEXT, LIMITS);
  expect(read('\uFEFF"File","Notes"\r\n"a, b.pdf","says ""soon"""\r\n\r\n')).toMatchObject({
    ok: true,
    rows: [{ file: 'a, b.pdf', values: { notes: 'says "soon"' }, problems: [] }],
  });
  expect(read('file;copies\na.pdf;2;3;4\n')).toMatchObject({
    ok: true,
    rows: [{ problems: [{ field: 'more columns than the head line' }] }],
  });
  expect(read('file\n"a.pdf\n')).toMatchObject({ ok: false });
});
