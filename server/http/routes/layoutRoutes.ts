import { NestAnswer, NestBody } from '../../../contract/api/run.ts';
import type { NestLayout } from '../../../core/layout/nestLayout.ts';
import { parseNestRequest, type NestRefusal } from '../../../core/layout/nestInput.ts';
import { Refused, type Shop } from '../../shop.ts';
import { type Route, route } from '../route.ts';

/** Layout for other systems: nothing is kept. */
export function layoutRoutes(shop: Shop): Route[] {
  return [
    route({
      method: 'post',
      path: '/api/layout/nest',
      needs: 'see',
      summary: 'Nests rectangles on a roll',
      body: NestBody,
      answer: NestAnswer,
      heavy: 'Nesting',
      handle: async ({ body, how }) => {
        const parsed = parseNestRequest(body);
        if (!parsed.ok) throw nestRefused(parsed.reason);
        const order = {
          input: parsed.value,
          seed: body.seed,
          stepBudget: body.stepBudget ?? Number.MAX_SAFE_INTEGER,
          timeLimitMs: body.timeLimitMs,
        };
        const layout = await shop.work.run('nest', order, how);
        return nestAnswer(layout, parsed.value.sheetMm);
      },
    }),
  ];
}

function nestAnswer(layout: NestLayout, sheetMm: number | null): NestAnswer {
  return {
    ...layout,
    sheets: sheetMm === null ? null : Math.round(layout.lengthMm / sheetMm),
    placements: layout.placements.map((p) => {
      const sheet = sheetMm === null ? 0 : Math.floor(p.yMm / sheetMm);
      return { ...p, yMm: p.yMm - sheet * (sheetMm ?? 0), turned: p.angleDeg % 180 !== 0, sheet };
    }),
  };
}

/** Why nothing can be nested, with the figures and the nearest way out. */
function nestRefused(reason: NestRefusal): Refused {
  switch (reason.code) {
    case 'too-wide':
      return new Refused(
        422,
        'too-wide',
        `${reason.id} is wider than the usable width: ${reason.leastWidthMm.toFixed(1)} mm of ${reason.usableWidthMm.toFixed(1)} mm.`,
        { ...reason },
        'Allow a quarter turn, or take wider media.',
      );
    case 'too-long':
      return new Refused(
        422,
        'too-long',
        `${reason.id} is longer than a sheet between its margins: ${reason.leastLengthMm.toFixed(1)} mm of ${reason.usableLengthMm.toFixed(1)} mm.`,
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
        `${reason.id} is larger than a place: ${widthMm.toFixed(1)} × ${heightMm.toFixed(1)} mm of ${placeWidthMm.toFixed(1)} × ${placeHeightMm.toFixed(1)} mm.`,
        { widthMm, heightMm, placeWidthMm, placeHeightMm },
        'Take fewer columns or rows, or smaller gaps.',
      );
    }
    case 'bad-figure':
      return new Refused(422, 'bad-figure', `${reason.field} can't be ${String(reason.got)}.`, { ...reason });
    case 'nothing-to-nest':
      return new Refused(422, 'nothing-to-nest', 'There is nothing to nest.');
  }
}
