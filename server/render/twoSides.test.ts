import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { PDFDocument, rgb } from '@cantoo/pdf-lib';
import sharp from 'sharp';
import { turnedSize } from '../../core/geometry/turn.ts';
import {
  BACK_CONTENTS,
  MEDIA_TURNS,
  PIECE_TURNS,
  backAngle,
  backRect,
  isMirrored,
} from '../../core/layout/arrange/twoSides.ts';
import { readLimits } from '../limits.ts';
import type { LaidArt } from './out/artPlace.ts';
import { layPdf } from './out/layPdf.ts';
import { pdfPicture, pictureDifference } from '../testing/pictures/pdfPicture.ts';
import { firstLook } from '../work/runTask.ts';
import { testFolder } from '../testing/testFolder.ts';

const LIMITS = readLimits({});
const { root, paths } = testFolder('sides');

const MM = 72 / 25.4;
const MEDIA = { mediaWidthMm: 300, lengthMm: 400, sheetMm: null };
const SIZE = { widthMm: 80, heightMm: 50 };
/** Pixels a millimetre: whole, so that right angles fold without resampling. */
const SCALE = 2;

/** Artwork that no turn and no mirror maps onto itself. */
async function art(hue: 'red' | 'blue'): Promise<string> {
  const out = await PDFDocument.create();
  const page = out.addPage([SIZE.widthMm * MM, SIZE.heightMm * MM]);
  const box = (x: number, y: number, w: number, h: number, color: ReturnType<typeof rgb>): void => {
    page.drawRectangle({ x: x * MM, y: y * MM, width: w * MM, height: h * MM, color });
  };
  box(0, 0, 80, 50, hue === 'red' ? rgb(1, 0.8, 0.8) : rgb(0.8, 0.8, 1));
  box(10, 30, 50, 12, hue === 'red' ? rgb(0.8, 0, 0) : rgb(0, 0, 0.8));
  box(10, 10, 12, 24, rgb(0, 0, 0));
  const path = join(root, hue);
  writeFileSync(path, await out.save());
  const answer = await firstLook(path, root, LIMITS);
  if (!answer.ok) throw new Error(answer.reason);
  return answer.sha256;
}

interface Place {
  readonly xMm: number;
  readonly yMm: number;
  readonly angleDeg: number;
}

const PLACES: readonly Place[] = [
  { xMm: 10, yMm: 20, angleDeg: 0 },
  { xMm: 150, yMm: 30, angleDeg: 90 },
  { xMm: 20, yMm: 150, angleDeg: 180 },
  { xMm: 220, yMm: 200, angleDeg: 270 },
];

async function printed(key: string, sha256: string, places: readonly Place[], mirrored: boolean): Promise<Buffer> {
  const laid = places.map((place): LaidArt => ({
    sha256,
    format: 'pdf',
    page: 0,
    appearance: null,
    part: null,
    ...SIZE,
    ...place,
    mirrored,
  }));
  const { mediaWidthMm: widthMm, lengthMm } = MEDIA;
  await layPdf({ key, title: key, widthMm, lengthMm, art: laid }, paths, LIMITS);
  return pdfPicture(paths.laidOut(key), widthMm * SCALE, lengthMm * SCALE);
}

/** A piece cut out of a print and turned so that its front stands upright. */
async function cut(print: Buffer, { xMm, yMm, angleDeg }: Place): Promise<Buffer> {
  const { widthMm, heightMm } = turnedSize(SIZE.widthMm, SIZE.heightMm, angleDeg);
  const region = { left: xMm * SCALE, top: yMm * SCALE, width: widthMm * SCALE, height: heightMm * SCALE };
  const piece = await sharp(print).extract(region).png().toBuffer();
  // The picture library turns clockwise.
  return sharp(piece).rotate(angleDeg).png().toBuffer();
}

test.each(
  MEDIA_TURNS.flatMap((turn) =>
    BACK_CONTENTS.flatMap((content) => PIECE_TURNS.map((pieceTurn) => [turn, content, pieceTurn] as const)),
  ),
)(
  'folded together, turned %s, %s, %s: every back lies behind its front and shows what it must',
  async (turn, content, pieceTurn) => {
    const rule = { turn, content, pieceTurn, offsetXMm: 0, offsetYMm: 0 };
    const red = await art('red');
    const back = content === 'readable' ? await art('blue') : red;
    const backs = PLACES.map((place) => {
      const laid = { ...place, ...turnedSize(SIZE.widthMm, SIZE.heightMm, place.angleDeg) };
      const { xMm, yMm } = backRect(laid, MEDIA, rule);
      return { xMm, yMm, angleDeg: backAngle(place.angleDeg, rule) };
    });
    const key = `${turn}-${content}-${pieceTurn}`.replaceAll(' ', '');
    const frontPrint = await printed(`front-${key}`, red, PLACES, false);
    const backPrint = await printed(`back-${key}`, back, backs, isMirrored(rule));
    // Laid back down, the back is seen through the media: side for side it is mirrored across, end for end along.
    const folded = turn === 'side for side' ? sharp(backPrint).flop() : sharp(backPrint).flip();
    const through = await folded.png().toBuffer();
    if (content === 'show-through') {
      expect(await pictureDifference(frontPrint, through)).toBeLessThan(0.002);
      return;
    }
    const upright = await printed(`upright-${key}`, back, [{ xMm: 0, yMm: 0, angleDeg: 0 }], false);
    const expected = await cut(upright, { xMm: 0, yMm: 0, angleDeg: 0 });
    for (const place of PLACES) {
      const seenThrough = sharp(await cut(through, place));
      // A book is turned about its upright axis, a calendar about its level one.
      const read = await (pieceTurn === 'like a book' ? seenThrough.flop() : seenThrough.flip()).png().toBuffer();
      expect(await pictureDifference(read, expected)).toBeLessThan(0.01);
    }
  },
);
