import type { Request, Response } from 'express';
import { Nothing } from '../../../../contract/api/common.ts';
import { FirstOwner, Me, ProviderBack, ProviderGo, SignIn, TakeCode } from '../../../../contract/api/people.ts';
import type { Shop } from '../../../shop.ts';
import { personById } from '../../../usecases/people/people.ts';
import { backFromProvider, leaveForProvider, providerOf } from '../../../usecases/people/provider.ts';
import { type Caller, signOut } from '../../../usecases/people/sessions.ts';
import { becomeOwner, signIn, takeCode } from '../../../usecases/people/signIn.ts';
import { hasOwner, signInIsOn } from '../../../usecases/people/signInSwitch.ts';
import { dropSession, keepLeaving, keepSession, originOf, takeLeaving, whereFrom } from '../../identify.ts';
import { type Route, route } from '../../route.ts';

/** What anybody may ask for before they have signed in: who they are, and to sign in and out. */
export function signInRoutes(shop: Shop, publicOrigin: string | undefined): Route[] {
  const opened = (req: Request, res: Response, secret: string): Record<string, never> => {
    keepSession(req, res, secret);
    return {};
  };
  const returnTo = (req: Request): string => `${publicOrigin ?? originOf(req)}/sign-in/back`;
  return [
    route({
      method: 'get',
      path: '/api/me',
      needs: 'anyone',
      summary: 'Who is at this page and what they may do',
      answer: Me,
      handle: ({ caller }) => meOf(shop, caller),
    }),
    route({
      method: 'post',
      path: '/api/sign-in',
      needs: 'anyone',
      summary: 'Signs in with name and password, and with the code of an app where one is used',
      body: SignIn,
      answer: Nothing,
      handle: async ({ body, req, res }) => opened(req, res, await signIn(shop, body, whereFrom(req))),
    }),
    route({
      method: 'post',
      path: '/api/sign-in/owner',
      needs: 'anyone',
      summary:
        'Makes somebody an owner: by the code that the server printed, or at this machine while nobody has to sign in',
      body: FirstOwner,
      answer: Nothing,
      handle: async ({ body, req, res }) => opened(req, res, await becomeOwner(shop, body, whereFrom(req))),
    }),
    route({
      method: 'post',
      path: '/api/sign-in/code',
      needs: 'anyone',
      summary: 'Chooses a password with the code that an owner has given',
      body: TakeCode,
      answer: Nothing,
      handle: async ({ body, req, res }) => opened(req, res, await takeCode(shop, body, whereFrom(req))),
    }),
    route({
      method: 'post',
      path: '/api/sign-in/provider',
      needs: 'anyone',
      summary: 'Begins a sign-in by the provider: where the browser has to go',
      answer: ProviderGo,
      handle: async ({ req, res }) => {
        const { url, leaving } = await leaveForProvider(shop, returnTo(req));
        keepLeaving(req, res, leaving);
        return { url };
      },
    }),
    route({
      method: 'post',
      path: '/api/sign-in/provider/back',
      needs: 'anyone',
      summary: 'Ends a sign-in by the provider with what it sent the browser back with',
      body: ProviderBack,
      answer: Nothing,
      handle: async ({ body, req, res }) => {
        const leaving = takeLeaving(req, res);
        const back = { returnTo: returnTo(req), query: body.query, leaving };
        return opened(req, res, await backFromProvider(shop, back, whereFrom(req)));
      },
    }),
    route({
      method: 'post',
      path: '/api/sign-out',
      needs: 'anyone',
      summary: 'Ends the session of this page',
      answer: Nothing,
      handle: ({ caller, req, res }) => {
        if (caller?.sessionId != null && caller.personId !== null) {
          signOut(shop, caller.personId, { id: caller.sessionId }, caller.actor);
        }
        dropSession(req, res);
        return {};
      },
    }),
  ];
}

function meOf(shop: Shop, caller: Caller | undefined): Me {
  const isOn = signInIsOn(shop);
  const person = caller?.personId == null ? undefined : personById(shop.db, caller.personId);
  return {
    signIn: isOn ? 'on' : 'off',
    ownerWanted: isOn && !hasOwner(shop.db),
    provider: isOn ? (providerOf(shop.db)?.name ?? null) : null,
    right: caller?.right ?? null,
    person: person
      ? {
          ...{ id: person.id, name: person.name, role: person.role, signInName: person.signInName },
          ...{ hasPassword: person.password !== null, usesCodes: person.totp !== null },
        }
      : null,
    preferences: person ? person.preferences : null,
  };
}
