import { and, eq, isNull, sql } from 'drizzle-orm';
import {
  type Configuration,
  allowInsecureRequests,
  authorizationCodeGrant,
  buildAuthorizationUrl,
  calculatePKCECodeChallenge,
  discovery,
  randomNonce,
  randomPKCECodeVerifier,
  randomState,
} from 'openid-client';
import type { ProviderBody, ProviderView } from '../../../contract/api/people.ts';
import type { Actor } from '../../../core/events/actor.ts';
import { LOOPBACK } from '../../../core/people/exposure.ts';
import type { Reader } from '../../db/open.ts';
import { people } from '../../db/tables/peopleTables.ts';
import { settings } from '../../db/tables/schema.ts';
import { Refused, type Shop, transact } from '../../shop.ts';
import { personById } from './people.ts';
import { type From, signedIn } from './signIn.ts';

const KEY = 'signInProvider';
/** What is asked of a provider has to be answered within (s). */
const WITHIN_S = 10;

interface Provider {
  readonly name: string;
  readonly issuer: string;
  readonly clientId: string;
  readonly clientSecret: string;
}

/** What is kept in a cookie of the browser between leaving for the provider and coming back. */
export interface Leaving {
  readonly state: string;
  readonly nonce: string;
  readonly verifier: string;
}

/** Where people can sign in by an account that they have elsewhere; undefined: nowhere. */
export function providerOf(db: Reader): Provider | undefined {
  return (db.select().from(settings).where(eq(settings.key, KEY)).get()?.value ?? undefined) as Provider | undefined;
}

/** Without the secret, which is never told again. */
export function providerView(db: Reader): ProviderView['provider'] {
  const provider = providerOf(db);
  if (!provider) return null;
  const { name, issuer, clientId, clientSecret } = provider;
  return { name, issuer, clientId, hasSecret: clientSecret !== '' };
}

/** Sets the provider once it has answered, or takes it away. */
export async function setProvider(shop: Shop, body: ProviderBody | null, actor: Actor): Promise<void> {
  const secret = body?.clientSecret ?? providerOf(shop.db)?.clientSecret ?? '';
  const value = body && { name: body.name, issuer: body.issuer, clientId: body.clientId, clientSecret: secret };
  if (value) await reached(value);
  transact(shop, (work) => {
    if (value === null) work.tx.delete(settings).where(eq(settings.key, KEY)).run();
    else
      work.tx
        .insert(settings)
        .values({ key: KEY, value })
        .onConflictDoUpdate({ target: settings.key, set: { value } })
        .run();
    work.note({
      kind: 'provider.changed',
      subject: ['shop', 'sign-in'],
      actor,
      data: { provider: value?.name ?? null },
    });
  });
  shop.bus.tell('sign-in', {});
}

/** What was found out last, and of whom: strangers must not be able to have a provider asked again and again. */
let found: { readonly of: string; readonly atMs: number; readonly configuration: Configuration } | undefined;
const FOUND_FOR_MS = 10 * 60_000;

/** What the provider can do, asked anew after ten minutes. */
async function configurationOf(
  shop: Shop,
): Promise<{ readonly provider: Provider; readonly configuration: Configuration }> {
  const provider = mustHaveProvider(shop.db);
  const of = JSON.stringify(provider);
  const atMs = shop.realNow();
  if (found?.of !== of || atMs - found.atMs > FOUND_FOR_MS)
    found = { of, atMs, configuration: await reached(provider) };
  return { provider, configuration: found.configuration };
}

/** Asks the provider what it can do. @throws Refused where it does not answer as one */
async function reached({ issuer, clientId, clientSecret }: Provider): Promise<Configuration> {
  const url = new URL(issuer);
  const onThisMachine = (LOOPBACK as readonly string[]).includes(url.hostname.replace(/^\[|\]$/g, ''));
  if (url.protocol !== 'https:' && !onThisMachine) {
    throw new Refused(422, 'not-safe', `${issuer} is not safe: its address has to begin with https.`);
  }
  // oxlint-disable-next-line typescript/no-deprecated -- marked so that it stands out; only for a provider on this machine
  const execute = url.protocol === 'https:' ? [] : [allowInsecureRequests];
  try {
    return await discovery(url, clientId, clientSecret === '' ? undefined : clientSecret, undefined, {
      execute,
      timeout: WITHIN_S,
    });
  } catch (error) {
    throw new Refused(
      422,
      'no-provider',
      `${issuer} does not answer as a sign-in provider: ${error instanceof Error ? error.message : 'no reason given'}.`,
      undefined,
      'Look whether the address is the one that the provider calls its issuer.',
    );
  }
}

function mustHaveProvider(db: Reader): Provider {
  const provider = providerOf(db);
  if (!provider)
    throw new Refused(409, 'no-provider', 'There is no sign-in provider.', undefined, 'Sign in with a password.');
  return provider;
}

/** Where the browser goes, and what it keeps meanwhile. @param returnTo where the provider sends it back to */
export async function leaveForProvider(
  shop: Shop,
  returnTo: string,
): Promise<{ readonly url: string; readonly leaving: Leaving }> {
  const { configuration } = await configurationOf(shop);
  const leaving = { state: randomState(), nonce: randomNonce(), verifier: randomPKCECodeVerifier() };
  const url = buildAuthorizationUrl(configuration, {
    redirect_uri: returnTo,
    scope: 'openid email profile',
    state: leaving.state,
    nonce: leaving.nonce,
    code_challenge: await calculatePKCECodeChallenge(leaving.verifier),
    code_challenge_method: 'S256',
  });
  return { url: url.href, leaving };
}

/**
 * Opens a session for whom the provider has sent back. A person is known by the name that stays at the provider; the first time
 * by the address for messages, which the provider must have looked into. Nobody is added by it: owners do that.
 */
export async function backFromProvider(
  shop: Shop,
  {
    returnTo,
    query,
    leaving,
  }: { readonly returnTo: string; readonly query: string; readonly leaving: Leaving | undefined },
  from: From,
): Promise<string> {
  const again = 'Sign in once more.';
  if (!leaving)
    throw new Refused(
      401,
      'not-expected',
      'This sign-in was not begun in this browser, or it took too long.',
      undefined,
      again,
    );
  const { provider, configuration } = await configurationOf(shop);
  const claims = await authorizationCodeGrant(configuration, new URL(query, returnTo), {
    expectedState: leaving.state,
    expectedNonce: leaving.nonce,
    pkceCodeVerifier: leaving.verifier,
    idTokenExpected: true,
  })
    .then((tokens) => tokens.claims())
    .catch((error: unknown) => {
      shop.log.warn({ err: error }, 'a sign-in by the provider failed');
      throw new Refused(401, 'provider-refused', `${provider.name} did not confirm this sign-in.`, undefined, again);
    });
  if (!claims)
    throw new Refused(401, 'provider-refused', `${provider.name} does not say who you are.`, undefined, again);
  const subject = `${claims.iss} ${claims.sub}`;
  return transact(shop, (work) => {
    const { tx } = work;
    const bySubject = tx
      .select()
      .from(people)
      .where(and(eq(people.providerSubject, subject), isNull(people.leftMs)))
      .get();
    if (bySubject) return signedIn(shop, work, bySubject, from.device, 'provider');
    const mail = claims.email_verified === true && typeof claims.email === 'string' ? claims.email.toLowerCase() : null;
    const byMail =
      mail === null
        ? []
        : tx
            .select()
            .from(people)
            .where(and(sql`lower(${people.mail}) = ${mail}`, isNull(people.leftMs), isNull(people.providerSubject)))
            .all();
    // Two people of one address could not be told apart.
    const [person] = byMail.length === 1 ? byMail : [];
    if (!person) {
      throw new Refused(
        403,
        'not-known',
        `${provider.name} knows you, but nobody of this shop has ${mail ?? 'an address that it has looked into'}.`,
        undefined,
        'Ask an owner to add you in Setup, People, with your address.',
      );
    }
    tx.update(people).set({ providerSubject: subject }).where(eq(people.id, person.id)).run();
    return signedIn(shop, work, personById(tx, person.id), from.device, 'provider');
  });
}
