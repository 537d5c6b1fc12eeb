import { Type } from 'typebox';
import { Nothing } from '../../../../contract/api/common.ts';
import {
  NewToken,
  OneTimeCode,
  PasswordChange,
  PasswordProof,
  PersonBody,
  PersonChange,
  PersonView,
  PreferenceChange,
  ProviderBody,
  ProviderView,
  SessionView,
  SignInSwitch,
  TokenBody,
  TokenView,
  TotpOffer,
  TotpProof,
} from '../../../../contract/api/people.ts';
import { Refused, type Shop } from '../../../shop.ts';
import {
  addPerson,
  changePerson,
  giveCode,
  personViews,
  removePerson,
  setPreferences,
} from '../../../usecases/people/people.ts';
import { providerView, setProvider } from '../../../usecases/people/provider.ts';
import { type Caller, sessionsOf, signOut } from '../../../usecases/people/sessions.ts';
import { changePassword } from '../../../usecases/people/signIn.ts';
import { switchSignIn } from '../../../usecases/people/signInSwitch.ts';
import { makeToken, removeToken, tokensOf } from '../../../usecases/people/tokens.ts';
import { dropTotp, offerTotp, takeTotp } from '../../../usecases/people/totp.ts';
import { dropSession, originOf } from '../../identify.ts';
import { type Route, route, signInFirst } from '../../route.ts';

/** The people of the shop, as owners set them up, and what each sets for themselves. */
export function peopleRoutes(shop: Shop, publicOrigin: string | undefined): Route[] {
  return [...forOwners(shop, publicOrigin), ...forThemselves(shop)];
}

function forOwners(shop: Shop, publicOrigin: string | undefined): Route[] {
  const one = (id: string | undefined): PersonView => {
    const found = personViews(shop.db).find((person) => person.id === id);
    if (!found) throw new Refused(404, 'no-such-person', `There is no person ${id ?? ''}.`);
    return found;
  };
  return [
    route({
      method: 'get',
      path: '/api/people',
      needs: 'set up',
      summary: 'The people of the shop',
      answer: Type.Array(PersonView),
      handle: () => personViews(shop.db),
    }),
    route({
      method: 'post',
      path: '/api/people',
      needs: 'set up',
      inPerson: true,
      summary: 'Adds somebody',
      body: PersonBody,
      answer: PersonView,
      handle: ({ body, actor }) => one(addPerson(shop, body, actor)),
    }),
    route({
      method: 'patch',
      path: '/api/people/:id',
      needs: 'set up',
      inPerson: true,
      summary: 'Changes what is set of somebody',
      body: PersonChange,
      answer: PersonView,
      handle: ({ params, body, actor }) => {
        changePerson(shop, params.id ?? '', body, actor);
        return one(params.id);
      },
    }),
    route({
      method: 'delete',
      path: '/api/people/:id',
      needs: 'set up',
      inPerson: true,
      summary: 'Takes somebody off the list: they and their programs can no longer sign in',
      answer: Nothing,
      handle: ({ params, actor }) => {
        removePerson(shop, params.id ?? '', actor);
        return {};
      },
    }),
    route({
      method: 'post',
      path: '/api/people/:id/code',
      needs: 'set up',
      inPerson: true,
      summary: 'A code with which somebody chooses how to sign in; told once',
      answer: OneTimeCode,
      handle: ({ params, actor }) => giveCode(shop, params.id ?? '', actor),
    }),
    route({
      method: 'post',
      path: '/api/people/:id/sign-out',
      needs: 'set up',
      inPerson: true,
      summary: 'Ends every session of somebody',
      answer: Nothing,
      handle: ({ params, actor }) => {
        signOut(shop, one(params.id).id, 'everywhere', actor);
        return {};
      },
    }),
    route({
      method: 'put',
      path: '/api/sign-in',
      needs: 'set up',
      inPerson: true,
      summary: 'Whether people have to sign in; off only while no other machine can reach the shop',
      body: SignInSwitch,
      answer: Nothing,
      handle: ({ body, actor }) => {
        switchSignIn(shop, body.on, actor);
        return {};
      },
    }),
    route({
      method: 'get',
      path: '/api/sign-in/provider',
      needs: 'set up',
      summary: 'The sign-in provider, without its secret',
      answer: ProviderView,
      handle: ({ req }) => ({
        provider: providerView(shop.db),
        returnTo: `${publicOrigin ?? originOf(req)}/sign-in/back`,
      }),
    }),
    route({
      method: 'put',
      path: '/api/sign-in/provider',
      needs: 'set up',
      inPerson: true,
      summary: 'Sets where people can sign in by an account that they have elsewhere (OpenID Connect)',
      body: ProviderBody,
      answer: Nothing,
      handle: async ({ body, actor }) => {
        await setProvider(shop, body, actor);
        return {};
      },
    }),
    route({
      method: 'delete',
      path: '/api/sign-in/provider',
      needs: 'set up',
      inPerson: true,
      summary: 'Nobody signs in by a provider any more',
      answer: Nothing,
      handle: async ({ actor }) => {
        await setProvider(shop, null, actor);
        return {};
      },
    }),
  ];
}

function forThemselves(shop: Shop): Route[] {
  const self = (caller: Caller | undefined): Caller => {
    if (!caller) throw signInFirst();
    return caller;
  };
  return [
    route({
      method: 'patch',
      path: '/api/me/preferences',
      needs: 'see',
      summary: 'What whoever asks prefers',
      body: PreferenceChange,
      answer: Nothing,
      handle: ({ body, caller }) => {
        setPreferences(shop, self(caller), body);
        return {};
      },
    }),
    route({
      method: 'put',
      path: '/api/me/password',
      needs: 'see',
      inPerson: true,
      summary: 'Another password; everywhere else the person has to sign in again',
      body: PasswordChange,
      answer: Nothing,
      handle: async ({ body, caller }) => {
        await changePassword(shop, self(caller), body);
        return {};
      },
    }),
    route({
      method: 'get',
      path: '/api/me/sessions',
      needs: 'see',
      summary: 'Where whoever asks is signed in',
      answer: Type.Array(SessionView),
      handle: ({ caller }) => sessionsOf(shop, self(caller)),
    }),
    route({
      method: 'delete',
      path: '/api/me/sessions/:id',
      needs: 'see',
      inPerson: true,
      summary: 'Ends one session of whoever asks',
      answer: Nothing,
      handle: ({ params, caller, actor }) => {
        signOut(shop, self(caller).personId ?? '', { id: params.id ?? '' }, actor);
        return {};
      },
    }),
    route({
      method: 'post',
      path: '/api/me/sign-out-everywhere',
      needs: 'see',
      inPerson: true,
      summary: 'Ends every session of whoever asks, this one too',
      answer: Nothing,
      handle: ({ caller, actor, req, res }) => {
        signOut(shop, self(caller).personId ?? '', 'everywhere', actor);
        dropSession(req, res);
        return {};
      },
    }),
    route({
      method: 'get',
      path: '/api/me/tokens',
      needs: 'see',
      summary: 'Tokens of programs that act for whoever asks',
      answer: Type.Array(TokenView),
      handle: ({ caller }) => tokensOf(shop, self(caller)),
    }),
    route({
      method: 'post',
      path: '/api/me/tokens',
      needs: 'see',
      inPerson: true,
      summary: 'A token for a program; told once',
      body: TokenBody,
      answer: NewToken,
      handle: ({ body, caller }) => makeToken(shop, self(caller), body),
    }),
    route({
      method: 'delete',
      path: '/api/me/tokens/:id',
      needs: 'see',
      inPerson: true,
      summary: 'Takes a token back',
      answer: Nothing,
      handle: ({ params, caller }) => {
        removeToken(shop, self(caller), params.id ?? '');
        return {};
      },
    }),
    route({
      method: 'post',
      path: '/api/me/totp',
      needs: 'see',
      inPerson: true,
      summary: 'A secret for an app of one-time codes; nothing is kept yet',
      answer: TotpOffer,
      handle: ({ caller }) => offerTotp(shop, self(caller)),
    }),
    route({
      method: 'put',
      path: '/api/me/totp',
      needs: 'see',
      inPerson: true,
      summary: 'Signs in with one-time codes from now on, once a code shows that the app has the secret',
      body: TotpProof,
      answer: Nothing,
      handle: ({ body, caller }) => {
        takeTotp(shop, self(caller), body);
        return {};
      },
    }),
    route({
      method: 'delete',
      path: '/api/me/totp',
      needs: 'see',
      inPerson: true,
      summary: 'Signs in without one-time codes again',
      body: PasswordProof,
      answer: Nothing,
      handle: async ({ body, caller }) => {
        await dropTotp(shop, self(caller), body.password);
        return {};
      },
    }),
  ];
}
