import { timingSafeEqual } from 'node:crypto';
import { type SetCookie, parseCookie, stringifySetCookie } from 'cookie';
import type { Request, Response } from 'express';
import type { Shop } from '../shop.ts';
import { type Leaving } from '../usecases/people/provider.ts';
import {
  AT_THE_MACHINE,
  type Caller,
  LONGEST_MS,
  callerOfSession,
  callerOfToken,
} from '../usecases/people/sessions.ts';
import type { From } from '../usecases/people/signIn.ts';
import { signInIsOn } from '../usecases/people/signInSwitch.ts';

/** The demo's crew is a program of this server's own: it has a token that lasts as long as the server runs. */
const CREW: Caller = {
  actor: { kind: 'person', id: 'crew', name: 'crew' },
  right: 'coordinate',
  by: 'token',
  personId: null,
  sessionId: null,
};

const LEAVING = 'yellow-spool-leaving';
/** Nobody takes longer than this at a provider. */
const LEAVING_S = 600;

/** Browsers keep a cookie of this prefix to this host alone, and send it by TLS only. */
function sessionCookie(req: Request): string {
  return req.secure ? '__Host-yellow-spool' : 'yellow-spool-session';
}

/**
 * Who asks: by the token of a program, by the session of a page, or whoever is at this machine while nobody has to sign in.
 * @param crewToken known to the demo's crew only
 */
export function callerOf(shop: Shop, req: Request, crewToken: string): Caller | undefined {
  const token = tokenOf(req);
  if (token !== undefined) return isSame(token, crewToken) ? CREW : callerOfToken(shop, token);
  if (!signInIsOn(shop)) return AT_THE_MACHINE;
  const secret = secretOf(req);
  return secret === undefined ? undefined : callerOfSession(shop, secret);
}

/** The token of a program; one that can only send a name and a password, such as a calendar, sends it as the password. */
function tokenOf(req: Request): string | undefined {
  const [, scheme = '', value = ''] = /^(Bearer|Basic)\s+(\S{1,400})$/i.exec(req.get('authorization') ?? '') ?? [];
  if (scheme === '') return undefined;
  return scheme.toLowerCase() === 'bearer'
    ? value
    : Buffer.from(value, 'base64')
        .toString()
        .replace(/^[^:]*:/, '');
}

function isSame(a: string, b: string): boolean {
  return a.length === b.length && timingSafeEqual(Buffer.from(a), Buffer.from(b));
}

function secretOf(req: Request): string | undefined {
  return parseCookie(req.get('cookie') ?? '')[sessionCookie(req)];
}

/** Whether a request that changes something comes from a page that this server itself has sent. */
export function isFromOwnPage(req: Request, publicOrigin: string | undefined): boolean {
  const origin = req.get('origin');
  return origin !== undefined && (origin === originOf(req) || origin === publicOrigin);
}

/** As the browser knows this server: through a trusted proxy as that says. */
export function originOf(req: Request): string {
  return `${req.protocol}://${req.host}`;
}

/** From where somebody signs in, and on what: enough to be recognised in a list. */
export function whereFrom(req: Request): From {
  const agent = req.get('user-agent') ?? '';
  // Most say that they are several; the first of these that they name is what they are.
  const browser = ['Edg', 'Firefox', 'Chrome', 'Safari']
    .find((each) => agent.includes(`${each}/`))
    ?.replace('Edg', 'Edge');
  const system = /\b(Android|iPhone|iPad|Windows|Macintosh|Linux)\b/.exec(agent)?.[1];
  const device = [browser, system].filter(Boolean).join(', ');
  return { address: req.ip ?? 'unknown', device: device === '' ? agent.slice(0, 40) : device };
}

/** Has the browser keep a session. */
export function keepSession(req: Request, res: Response, secret: string): void {
  setCookie(req, res, { name: sessionCookie(req), value: secret, path: '/', maxAge: LONGEST_MS / 1000 });
}

export function dropSession(req: Request, res: Response): void {
  setCookie(req, res, { name: sessionCookie(req), value: '', path: '/', maxAge: 0 });
}

/** Has the browser keep what proves that it is the one which left for the provider, until it is back. */
export function keepLeaving(req: Request, res: Response, leaving: Leaving): void {
  const value = Buffer.from(JSON.stringify(leaving)).toString('base64url');
  setCookie(req, res, { name: LEAVING, value, path: '/api/sign-in', maxAge: LEAVING_S });
}

/** What was kept when the browser left; it counts once. */
export function takeLeaving(req: Request, res: Response): Leaving | undefined {
  const kept = parseCookie(req.get('cookie') ?? '')[LEAVING];
  setCookie(req, res, { name: LEAVING, value: '', path: '/api/sign-in', maxAge: 0 });
  try {
    const { state, nonce, verifier } = JSON.parse(Buffer.from(kept ?? '', 'base64url').toString()) as Leaving;
    return [state, nonce, verifier].every((each) => typeof each === 'string') ? { state, nonce, verifier } : undefined;
  } catch {
    return undefined;
  }
}

function setCookie(req: Request, res: Response, cookie: Pick<SetCookie, 'name' | 'value' | 'path' | 'maxAge'>): void {
  res.append('set-cookie', stringifySetCookie({ ...cookie, httpOnly: true, sameSite: 'lax', secure: req.secure }));
}

/** Whether somebody who was let in still would be. */
export function stillMay(caller: Caller | undefined, now: Caller | undefined): boolean {
  return caller !== undefined && now?.personId === caller.personId;
}
