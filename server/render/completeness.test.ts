import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { PDFDocument } from '@cantoo/pdf-lib';
import sharp from 'sharp';
import { inspectFile } from './completeness.ts';

const dir = mkdtempSync(join(tmpdir(), 'yellow-spool-look-'));
afterAll(() => {
  rmSync(dir, { recursive: true });
});

async function look(bytes: Uint8Array | string) {
  const path = join(dir, 'file');
  writeFileSync(path, bytes);
  return inspectFile(path);
}

async function samples() {
  const pdf = await PDFDocument.create();
  pdf.addPage([200, 300]).drawRectangle({ x: 10, y: 10, width: 100, height: 100 });
  const picture = sharp({ create: { width: 90, height: 60, channels: 3, background: '#a53' } });
  return {
    pdf: Buffer.from(await pdf.save()),
    png: await picture.clone().png().toBuffer(),
    jpeg: await picture.clone().jpeg().toBuffer(),
  };
}

test('whole files are whole, and no shorter beginning of them is', async () => {
  for (const [format, bytes] of Object.entries(await samples())) {
    expect(await look(bytes)).toEqual({ kind: 'whole', format });
    for (const share of [0.02, 0.3, 0.6, 0.95]) {
      const cut = bytes.subarray(0, Math.max(2, Math.floor(bytes.length * share)));
      expect((await look(cut)).kind).not.toBe('whole');
    }
    expect((await look(bytes.subarray(0, bytes.length - 3))).kind).toBe('incomplete');
  }
});

test('a PDF laid out for the web is not whole at its first end mark', async () => {
  const start =
    '%PDF-1.4\n1 0 obj\n<< /Linearized 1 /L 90000 >>\nendobj\nxref\n0 0\ntrailer\n<<>>\nstartxref\n0\n%%EOF\n';
  expect(await look(start)).toMatchObject({ kind: 'incomplete', lacks: 'its table of contents' });
  expect(await look(`${start}${' '.repeat(3000)}startxref\n40\n%%EOF\n`)).toMatchObject({
    kind: 'incomplete',
    lacks: expect.stringContaining('of 90000 bytes') as string,
  });
});

test('more may follow the end of a picture, but its end must be there', async () => {
  const { png, jpeg } = await samples();
  expect(await look(Buffer.concat([png, Buffer.from('trailing')]))).toEqual({ kind: 'whole', format: 'png' });
  expect(await look(Buffer.concat([jpeg, Buffer.alloc(700)]))).toEqual({ kind: 'whole', format: 'jpeg' });
  expect(await look(Buffer.concat([jpeg, Buffer.from('what a camera adds')]))).toEqual({
    kind: 'whole',
    format: 'jpeg',
  });
  expect((await look(jpeg.subarray(0, jpeg.length - 3))).kind).toBe('incomplete');
});

test('empty, laid out in advance, and what can not be printed', async () => {
  expect(await look('')).toEqual({ kind: 'empty' });
  expect(await look(Buffer.alloc(5000))).toMatchObject({ kind: 'incomplete', lacks: 'its beginning' });
  expect(await look('PK\u0003\u0004rest')).toEqual({
    kind: 'unsupported',
    looksLike: 'an office document or an archive',
    instead: 'Save what is in it as PDF, each file by itself.',
  });
  expect(await look('hello')).toMatchObject({ kind: 'unsupported' });
});
