import type { NestBody } from '../../../contract/api/run.ts';
import { type LayoutClash, findClashes } from '../../../core/layout/checkLayout.ts';
import type { NestInput, NestRefusal } from '../../../core/layout/nestInput.ts';
import { Refused } from '../../shop.ts';
import { mmText, mmSizeText } from '../../../core/units/lengthText.ts';

/** What other programs may ask for and people never can: told before anything is nested. */
export function mustMakeSense({ pieces, fixed = [] }: NestBody, input: NestInput): void {
  const seen = new Set<string>();
  for (const { id, quarterTurn, grain } of pieces) {
    if (seen.has(id)) {
      throw new Refused(
        422,
        'id-twice',
        `Two pieces are called ${id}.`,
        { id },
        'Give each its own id; say how many with copies.',
      );
    }
    seen.add(id);
    if (grain === 'across' && !quarterTurn) {
      throw new Refused(
        422,
        'must-turn',
        `${id} must lie across the grain, which takes a quarter turn, and may not be turned.`,
        { id },
        'Allow a quarter turn, or leave the grain out.',
      );
    }
  }
  const { margins, widthMm, gapXMm, gapYMm, sheetMm } = input;
  const laid = fixed.map((rect, index) => ({ ...rect, key: String(index) }));
  const [clash] = findClashes(laid, { ...margins, widthMm, gapXMm, gapYMm, sheetMm });
  if (clash) throw fixedRefused(clash, input);
}

function fixedRefused(clash: LayoutClash, { widthMm, margins, gapXMm, gapYMm }: NestInput): Refused {
  if (clash.kind === 'pair') {
    const [a, b] = [Number(clash.a), Number(clash.b)];
    return new Refused(
      422,
      'fixed-too-close',
      `Fixed rectangles ${String(a)} and ${String(b)} overlap, or lie closer than the gap of ${mmSizeText(gapXMm, gapYMm)}.`,
      { a, b, gapXMm, gapYMm },
      'Move one of them, or take a smaller gap.',
    );
  }
  return new Refused(
    422,
    'fixed-outside',
    `Fixed rectangle ${clash.key} reaches ${mmText(clash.overMm)} beyond the room for pieces: ${mmText(margins.leftMm)} to ${mmText(widthMm - margins.rightMm)} across, ${mmText(margins.leadMm)} and on along the media.`,
    {
      index: Number(clash.key),
      overMm: clash.overMm,
      leftMm: margins.leftMm,
      rightMm: widthMm - margins.rightMm,
      leadMm: margins.leadMm,
    },
    'Move it, or take smaller margins.',
  );
}

/** Why nothing can be nested, with the figures and the nearest way out. */
export function nestRefused(reason: NestRefusal): Refused {
  switch (reason.code) {
    case 'too-wide':
      return new Refused(
        422,
        'too-wide',
        `${reason.id} is wider than the usable width: ${mmText(reason.leastWidthMm)} of ${mmText(reason.usableWidthMm)}.`,
        { ...reason },
        'Allow a quarter turn, or take wider media.',
      );
    case 'too-long':
      return new Refused(
        422,
        'too-long',
        `${reason.id} is longer than a sheet between its margins: ${mmText(reason.leastLengthMm)} of ${mmText(reason.usableLengthMm)}.`,
        { ...reason },
        'Allow a quarter turn, or take larger sheets.',
      );
    case 'too-many':
      return new Refused(
        422,
        'too-many',
        `${String(reason.got)} pieces; ${String(reason.limit)} is the limit.`,
        { ...reason },
        'Split the order.',
      );
    case 'bad-outline':
      return new Refused(
        422,
        'bad-outline',
        `The contour of ${reason.id} crosses itself, has no area, or leaves its rectangle.`,
        undefined,
        'Say its points in order, from the upper left corner of its rectangle.',
      );
    case 'not-with-outlines':
      return new Refused(
        422,
        'not-with-outlines',
        `Contours can't be nested with ${reason.what} yet.`,
        undefined,
        'Leave the contours out: rectangles can.',
      );
    case 'places-need-sheets':
      return new Refused(
        422,
        'places-need-sheets',
        'Places are those of sheets; no length of a sheet is said.',
        undefined,
        'Say sheetMm.',
      );
    case 'too-large-for-place': {
      const { widthMm, heightMm, placeWidthMm, placeHeightMm } = reason;
      return new Refused(
        422,
        'too-large-for-place',
        `${reason.id} is larger than a place: ${mmSizeText(widthMm, heightMm)} of ${mmSizeText(placeWidthMm, placeHeightMm)}.`,
        { widthMm, heightMm, placeWidthMm, placeHeightMm },
        'Take fewer columns or rows, or smaller gaps.',
      );
    }
    case 'bad-figure':
      return new Refused(
        422,
        'bad-figure',
        `${reason.field} can't be ${String(reason.got)}: it is ${String(reason.least)} at least and ${String(reason.most)} at most.`,
        { ...reason },
      );
    case 'nothing-to-nest':
      return new Refused(422, 'nothing-to-nest', 'There is nothing to nest.');
  }
}
