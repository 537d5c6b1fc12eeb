import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { PDFDocument, rgb } from '@cantoo/pdf-lib';
import sharp from 'sharp';
import { turnedSize } from '../../core/geometry/turn.ts';
import { planTiles } from '../../core/layout/arrange/tiles.ts';
import { readLimits } from '../limits.ts';
import { assemblyMap } from './out/assemblyMap.ts';
import type { LaidArt } from './out/artPlace.ts';
import { layPdf } from './out/layPdf.ts';
import { pdfPicture, pictureDifference } from '../testing/pictures/pdfPicture.ts';
import { firstLook } from '../work/runTask.ts';
import { testFolder } from '../testing/testFolder.ts';

const LIMITS = readLimits({});
const { root, paths } = testFolder('tiles');

const MM = 72 / 25.4;
const ART = { widthMm: 240, heightMm: 120 };
/** Pixels a millimetre. */
const SCALE = 2;

/** Slanted bars of many colours: no two panels are alike, none is like itself turned. */
async function bars(): Promise<string> {
  const out = await PDFDocument.create();
  const page = out.addPage([ART.widthMm * MM, ART.heightMm * MM]);
  for (let i = 0; i < 24; i++) {
    const colour = rgb(((i * 7) % 10) / 10, ((i * 3) % 10) / 10, i / 24);
    page.drawRectangle({ x: i * 10 * MM, y: i * 3 * MM, width: 10 * MM, height: 45 * MM, color: colour });
  }
  const path = join(root, 'bars');
  writeFileSync(path, await out.save());
  const answer = await firstLook(path, root, LIMITS);
  if (!answer.ok) throw new Error(answer.reason);
  return answer.sha256;
}

async function drawn(
  key: string,
  size: { widthMm: number; lengthMm: number },
  art: readonly LaidArt[],
): Promise<Buffer> {
  await layPdf({ key, title: key, ...size, art }, paths, LIMITS);
  return pdfPicture(paths.laidOut(key), size.widthMm * SCALE, size.lengthMm * SCALE);
}

test.each(['upright', 'level'] as const)(
  'panels (%s) that are cut out and put together are the artwork, however they lay',
  async (cut) => {
    const sha256 = await bars();
    const base = { sha256, format: 'pdf', page: 0, appearance: null, part: null } as const;
    const whole = await drawn('whole', { widthMm: ART.widthMm, lengthMm: ART.heightMm }, [
      { ...base, ...ART, xMm: 0, yMm: 0, angleDeg: 0 },
    ]);
    const plan = planTiles(ART, cut === 'upright' ? 70 : 50, {
      cut,
      panels: 'equal',
      joinMm: cut === 'upright' ? 4 : 3,
      turnEverySecond: true,
    });
    if (!plan.ok) throw new Error(plan.reason.code);
    expect(plan.value.length).toBe(cut === 'upright' ? 4 : 3);
    let from = 10;
    const laid = plan.value.map((panel, i): LaidArt & { readonly size: { widthMm: number; heightMm: number } } => {
      const angleDeg = [0, 180, 90, 270][i] ?? 0;
      const size = turnedSize(panel.widthMm, panel.heightMm, angleDeg);
      const yMm = from;
      from += Math.ceil(size.heightMm) + 10;
      const of = {
        no: i + 1,
        of: plan.value.length,
        xMm: panel.xMm,
        yMm: panel.yMm,
        wholeWidthMm: ART.widthMm,
        wholeHeightMm: ART.heightMm,
      };
      return { ...base, xMm: 10, yMm, widthMm: panel.widthMm, heightMm: panel.heightMm, angleDeg, panel: of, size };
    });
    const print = await drawn(`tiles-${cut}`, { widthMm: 300, lengthMm: from }, laid);
    const parts = await Promise.all(
      laid.map(async ({ yMm, angleDeg, size, panel }) => {
        const region = {
          left: 10 * SCALE,
          top: yMm * SCALE,
          width: Math.round(size.widthMm * SCALE),
          height: Math.round(size.heightMm * SCALE),
        };
        const piece = await sharp(print).extract(region).png().toBuffer();
        const input = await sharp(piece).rotate(angleDeg).png().toBuffer();
        return { input, left: Math.round((panel?.xMm ?? 0) * SCALE), top: Math.round((panel?.yMm ?? 0) * SCALE) };
      }),
    );
    const size = { width: ART.widthMm * SCALE, height: ART.heightMm * SCALE };
    const together = await sharp({ create: { ...size, channels: 3, background: '#0f0' } })
      .composite(parts)
      .png()
      .toBuffer();
    expect(await pictureDifference(whole, together)).toBeLessThan(0.004);
  },
);

test('the assembly map shows the whole, and lists every panel over as many pages as it takes', async () => {
  const picture = join(root, 'picture.png');
  await sharp({ create: { width: 400, height: 200, channels: 3, background: '#88f' } })
    .png()
    .toFile(picture);
  const panels = Array.from({ length: 40 }, (_, i) => ({ xMm: i * 500, yMm: 0, widthMm: 510, heightMm: 900 }));
  const input = {
    picture,
    title: 'Harbour wall',
    widthMm: 20_010,
    heightMm: 900,
    panels,
    notes: panels.map(() => 'owed'),
    turned: panels.map((_, i) => i % 2 === 1),
    joinMm: 10,
  };
  const bytes = await assemblyMap(input);
  const map = await PDFDocument.load(bytes);
  expect(map.getPageCount()).toBe(2);
  expect(map.getTitle()).toBe('Harbour wall: assembly map');
  expect(map.getPage(0).getSize().width).toBeCloseTo(210 * MM, 3);
  // What is said of a panel is drawn as outlines: where one is turned, there are more of them.
  const plain = await assemblyMap({ ...input, turned: panels.map(() => false) });
  expect(bytes.length).toBeGreaterThan(plain.length + 500);
});
