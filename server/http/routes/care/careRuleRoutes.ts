import { Type } from 'typebox';
import { CareRuleBody, CareRuleChange, CareRuleView } from '../../../../contract/api/care.ts';
import { Nothing } from '../../../../contract/api/common.ts';
import type { Shop } from '../../../shop.ts';
import {
  careRuleRow,
  careRuleView,
  careRuleViews,
  changeCareRule,
  createCareRule,
  removeCareRule,
} from '../../../usecases/care/careRules.ts';
import { versionIn } from '../../ifMatch.ts';
import { type Route, route } from '../../route.ts';

/** Rules that put care before runs. */
export function careRuleRoutes(shop: Shop): Route[] {
  return [
    route({
      method: 'get',
      path: '/api/care-rules',
      needs: 'see',
      summary: 'The rules that put care before runs',
      answer: Type.Array(CareRuleView),
      handle: () => careRuleViews(shop.db),
    }),
    route({
      method: 'post',
      path: '/api/care-rules',
      needs: 'coordinate',
      summary: 'Makes a rule that puts care before long runs, or before those that a person has marked as important',
      body: CareRuleBody,
      answer: CareRuleView,
      status: 201,
      handle: ({ body, actor }) => careRuleView(careRuleRow(shop.db, createCareRule(shop, body, actor))),
    }),
    route({
      method: 'patch',
      path: '/api/care-rules/:id',
      needs: 'coordinate',
      summary: 'Changes a rule; with If-Match only the version that the change was made from',
      body: CareRuleChange,
      answer: CareRuleView,
      handle: ({ params, body, req, actor }) => {
        const id = params.id ?? '';
        changeCareRule(shop, id, body, versionIn(req.get('if-match')), actor);
        return careRuleView(careRuleRow(shop.db, id));
      },
    }),
    route({
      method: 'delete',
      path: '/api/care-rules/:id',
      needs: 'coordinate',
      summary: 'Removes a rule; what it has put into a line stays there',
      answer: Nothing,
      handle: ({ params, actor }) => {
        removeCareRule(shop, params.id ?? '', actor);
        return {};
      },
    }),
  ];
}
