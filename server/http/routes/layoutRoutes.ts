import { StepAnswer, StepBody } from '../../../contract/api/step.ts';
import { stepAndRepeat } from '../../../core/layout/arrange/stepAndRepeat.ts';
import { NestAnswer, NestBody } from '../../../contract/api/run.ts';
import type { NestLayout } from '../../../core/layout/nestLayout.ts';
import { turnedSize } from '../../../core/geometry/turn.ts';
import { sheetStartMm } from '../../../core/layout/sheets/sheetSpans.ts';
import { type NestInput, parseNestRequest } from '../../../core/layout/nestInput.ts';
import { Refused, type Shop } from '../../shop.ts';
import { type Route, route } from '../route.ts';
import { mustMakeSense, nestRefused } from './nestRefusals.ts';
import { mmText, mmSizeText } from '../../../core/units/lengthText.ts';

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
        mustMakeSense(body, parsed.value);
        const order = {
          input: parsed.value,
          seed: body.seed,
          stepBudget: body.stepBudget ?? Number.MAX_SAFE_INTEGER,
          timeLimitMs: body.timeLimitMs,
        };
        const layout = await shop.work.run('nest', order, how);
        return nestAnswer(layout, parsed.value);
      },
    }),
    route({
      method: 'post',
      path: '/api/layout/step',
      needs: 'see',
      summary: 'Steps and repeats one rectangle in rows',
      body: StepBody,
      answer: StepAnswer,
      handle: ({ body }) => steppedOf(body),
    }),
  ];
}

function nestAnswer(layout: NestLayout, { sheetMm, pieces }: NestInput): NestAnswer {
  const sizes = new Map(pieces.map((piece) => [piece.id, piece]));
  return {
    ...layout,
    sheets: sheetMm === null ? null : Math.round(layout.lengthMm / sheetMm),
    placements: layout.placements.map((p) => {
      const { widthMm = 0, heightMm = 0 } = sizes.get(p.id) ?? {};
      const laid = turnedSize(widthMm, heightMm, p.angleDeg);
      const sheet = sheetMm === null ? 0 : Math.round(sheetStartMm({ ...p, ...laid }, sheetMm) / sheetMm);
      return { ...p, yMm: p.yMm - sheet * (sheetMm ?? 0), turned: p.angleDeg % 180 !== 0, sheet };
    }),
  };
}

function steppedOf(body: StepBody): StepAnswer {
  const { widthMm, heightMm, roomMm, count = null, lengthMm = null, columns = null, shiftMm = null } = body;
  const { gapMm, stagger, everySecond } = body;
  const gap = typeof gapMm === 'number' ? { x: gapMm, y: gapMm } : gapMm;
  if (count === null && lengthMm === null) {
    throw new Refused(422, 'endless', 'Say how many pieces there are, or how long the rows may become.');
  }
  const piece = { widthMm, heightMm };
  const rows = stepAndRepeat({
    ...{ piece, count, lengthMm, columns, roomMm, stagger, shiftMm, everySecond },
    gapXMm: gap.x,
    gapYMm: gap.y,
  });
  if (!rows) {
    const length = lengthMm === null ? '' : ` and ${mmText(lengthMm)} along`;
    throw new Refused(
      422,
      'no-room',
      `Not one piece of ${mmSizeText(widthMm, heightMm)} fits into ${mmText(roomMm)} across${length}.`,
      { widthMm, heightMm, roomMm, lengthMm },
      'Turn it, or give it more room.',
    );
  }
  return {
    columns: rows.columns,
    rows: rows.rows,
    count: rows.corners.length,
    extentMm: rows.extentMm,
    placements: rows.corners.map(({ xMm, yMm, turnDeg }) => ({ xMm, yMm, angleDeg: turnDeg })),
  };
}
