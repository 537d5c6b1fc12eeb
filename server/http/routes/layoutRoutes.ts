import { NestAnswer, NestBody } from '../../../contract/api/run.ts';
import type { NestLayout } from '../../../core/layout/nestLayout.ts';
import { parseNestRequest } from '../../../core/layout/nestInput.ts';
import type { Shop } from '../../shop.ts';
import { type Route, route } from '../route.ts';
import { mustMakeSense, nestRefused } from './nestRefusals.ts';

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
