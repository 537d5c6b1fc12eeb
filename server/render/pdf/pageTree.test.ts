import { writeFileSync } from 'node:fs';
import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import { PDFArray, PDFDict, PDFDocument, PDFName, PDFNumber } from '@cantoo/pdf-lib';
import { readLimits } from '../../limits.ts';
import { firstLook } from '../../work/runTask.ts';
import { mendPageTree } from './pageTree.ts';
import { testFolder } from '../../testing/testFolder.ts';

const { root } = testFolder('pages');

const name = (text: string): PDFName => PDFName.of(text);
const listOf = ({ catalog }: PDFDocument): PDFDict => catalog.lookup(name('Pages'), PDFDict);
const kidsOf = (document: PDFDocument): PDFArray => listOf(document).lookup(name('Kids'), PDFArray);

/** Three pages, 200, 201 and 202 points wide, the size of the second said by the list alone. */
async function damaged(damage: (document: PDFDocument) => void): Promise<Uint8Array> {
  const out = await PDFDocument.create();
  for (const more of [0, 1, 2]) out.addPage([200 + more, 100]).drawRectangle({ x: 10, y: 10, width: 50, height: 50 });
  await out.flush();
  damage(out);
  return out.save({ useObjectStreams: false, addDefaultPage: false });
}

const DAMAGES: Readonly<Record<string, (document: PDFDocument) => void>> = {
  'a wrong count': (document) => {
    listOf(document).set(name('Count'), PDFNumber.of(9));
  },
  'a page without its type': (document) => {
    kidsOf(document).lookup(1, PDFDict).delete(name('Type'));
  },
  'a list without its type': (document) => {
    listOf(document).delete(name('Type'));
  },
  'a page that is missing': (document) => {
    kidsOf(document).insert(1, document.context.nextRef());
  },
  'a list that holds itself': (document) => {
    kidsOf(document).push(document.catalog.get(name('Pages')) ?? name('none'));
  },
  'a list without pages': (document) => {
    listOf(document).delete(name('Kids'));
  },
  'no list at all': (document) => {
    document.catalog.delete(name('Pages'));
  },
};

test.each(Object.entries(DAMAGES))('a PDF with %s is read with all its pages, in their order', async (what, damage) => {
  const path = join(root, what.replaceAll(' ', '-'));
  writeFileSync(path, await damaged(damage));
  const answer = await firstLook(path, root, readLimits({}));
  if (!answer.ok) throw new Error(answer.reason);
  const { pages, nature } = answer.facts;
  expect(pages.map(({ widthMm }) => Math.round((widthMm * 72) / 25.4))).toEqual([200, 201, 202]);
  // The rectangle of each page was drawn, too.
  for (const { coverage } of pages) expect(Object.values(coverage).some((share) => share > 0.05)).toBe(true);
  expect(nature.mended).toBe(true);
});

test('what a page takes over from a broken list stays', async () => {
  const bytes = await damaged((document) => {
    const second = kidsOf(document).lookup(1, PDFDict);
    second.delete(name('MediaBox'));
    listOf(document).set(name('MediaBox'), document.context.obj([0, 0, 333, 100]));
    listOf(document).set(name('Count'), PDFNumber.of(1));
  });
  const document = await PDFDocument.load(bytes);
  expect(mendPageTree(document)).toBe(true);
  const path = join(root, 'taken-over.pdf');
  writeFileSync(path, await document.save());
  const sizes = execFileSync('pdfinfo', ['-l', '3', path], { encoding: 'utf8' });
  expect([...sizes.matchAll(/Page\s+\d+ size:\s+(\d+)/g)].map(([, width]) => width)).toEqual(['200', '333', '202']);
});

test('a sound list is left as it is', async () => {
  const document = await PDFDocument.load(await damaged(() => undefined));
  const before = document.catalog.get(name('Pages'));
  expect(mendPageTree(document)).toBe(false);
  expect(document.catalog.get(name('Pages'))).toBe(before);
});
