import type { ErrorDetail } from '../../contract/api/common.ts';
import type { TaskStarted } from '../../contract/api/task.ts';
import type { RunHow, Work } from '../ports/work.ts';
import type { TaskKinds } from '../work/kinds.ts';
import type { Actor } from '../../core/events/actor.ts';
import { type Right, allows, roleFor } from '../../core/people/rights.ts';
import type { Caller } from '../usecases/people/sessions.ts';
import { Ajv, type ValidateFunction } from 'ajv';
import { createReadStream } from 'node:fs';
import { pipeline } from 'node:stream/promises';
import type { Express, Request, Response } from 'express';
import type { Static, TObject, TSchema } from 'typebox';
import { Refused } from '../shop.ts';

/** One route: what it takes and gives as schemas; validation and OpenAPI both come from here. */
export interface Route {
  readonly method: 'get' | 'post' | 'put' | 'patch' | 'delete';
  /** With express parameters: /api/jobs/:id */
  readonly path: string;
  /** What a person must be allowed to do for this; *anyone*: they need not even have signed in. */
  readonly needs: Right | 'anyone';
  /** Who may do what is for people at a page alone: no program that has a token does that. */
  readonly inPerson?: true;
  /** A device may fetch it by the link that it was given. */
  readonly byDeviceLink?: true;
  readonly summary: string;
  readonly query?: TObject;
  readonly body?: TSchema;
  /** Multipart instead of JSON: described here, parsed by the handler's own middleware. */
  readonly multipart?: TSchema;
  readonly answer?: TSchema;
  /** Anything but JSON: its media type. */
  readonly produces?: string;
  readonly status?: number;
  /** May take longer than a request should: answered with 202 and a task then, which is called this. */
  readonly heavy?: string;
  /** Takes in what is not JSON, before anything is done with it; how long that takes is up to whoever sends. */
  readonly receive?: (req: Request, res: Response) => Promise<void>;
  readonly handle: (call: Call) => unknown;
}

export interface Call {
  readonly params: Readonly<Record<string, string>>;
  readonly query: Readonly<Record<string, unknown>>;
  readonly body: unknown;
  /** Who asks for it. */
  readonly actor: Actor;
  /** How they are known, and what else they may do; undefined: nobody has signed in. */
  readonly caller: Caller | undefined;
  /** For the tasks of a heavy request: they end when it is cancelled as a task, and tell it how far they are. */
  readonly how: RunHow;
  readonly req: Request;
  readonly res: Response;
}

interface RouteParts<Q extends TObject, B extends TSchema, A extends TSchema> {
  readonly query?: Q;
  readonly body?: B;
  readonly answer?: A;
  readonly handle: (
    call: Omit<Call, 'query' | 'body'> & { readonly query: Static<Q>; readonly body: Static<B> },
  ) => Answer<A> | Promise<Answer<A>>;
}

/** What a handler may give: what its schema says, a file, or nothing where it has answered by itself. */
type Answer<A extends TSchema> = Readonlys<Static<A>> | Reply<Readonlys<Static<A>>> | FileAnswer | undefined;

/** A schema's type, of which nothing has to be writable. */
type Readonlys<T> = T extends readonly (infer E)[]
  ? readonly Readonlys<E>[]
  : T extends object
    ? { readonly [K in keyof T]: Readonlys<T[K]> }
    : T;

/** Gives a handler the types of its own schemas: what it is asked, and what it must answer. */
export function route<Q extends TObject, B extends TSchema, A extends TSchema>(
  definition: Omit<Route, 'query' | 'body' | 'answer' | 'handle'> & RouteParts<Q, B, A>,
): Route {
  return definition as unknown as Route;
}

// Each compiles a schema when it is asked for the first time, and keeps it: all of them at the start would take a second or two.
const ajv = new Ajv({ strict: false, allErrors: true, coerceTypes: false, useDefaults: true });
const ajvQuery = new Ajv({ strict: false, allErrors: true, coerceTypes: true, useDefaults: true });

/** A file as an answer: mount sends it, so that a heavy request can be answered before it is made. */
export class FileAnswer {
  constructor(
    readonly type: string,
    readonly content:
      | { readonly path: string }
      | { readonly bytes: Uint8Array }
      /** Pieces one behind the other, files by their paths, and how long all of them are. */
      | { readonly pieces: readonly (Uint8Array | string)[]; readonly length: number },
    /** As it is called when it is kept; left out: it is shown. */
    readonly name?: string,
    readonly headers: Readonly<Record<string, string>> = {},
  ) {}
}

/** An answer with a status of its own. */
export class Reply<T> {
  constructor(
    readonly status: number,
    readonly body: T,
  ) {}
}

/** Told in place of an answer that is not there yet. */
class Later {
  constructor(readonly taskId: string) {}
}

/** As long as a request should take. */
const IN_TIME_MS = 2000;

/**
 * Waits for a heavy request as long as a request should take; then its task is told, and the work goes on. What a browser
 * loads by itself, a picture in a page or a link that is followed, waits on: nobody there could ask for the task.
 */
async function inTime(
  title: string,
  req: Request,
  handle: (how: RunHow) => Promise<unknown>,
  { work, explain, inTimeMs = IN_TIME_MS }: Mounting,
): Promise<unknown> {
  const { answer, publish } = work.follow(title, handle, (error) => explain(error, req).error);
  const loadedBy = req.get('sec-fetch-dest');
  if (loadedBy !== undefined && loadedBy !== 'empty') return answer;
  let timer: NodeJS.Timeout | undefined;
  const tooLate = new Promise<Later>((done) => {
    timer = setTimeout(() => {
      done(new Later(publish(resultOf)));
    }, inTimeMs);
  });
  try {
    return await Promise.race([answer, tooLate]);
  } finally {
    clearTimeout(timer);
  }
}

/** What a task tells of an answer: a file is asked for once more when it is made. */
function resultOf(answer: unknown): unknown {
  if (answer instanceof FileAnswer) return null;
  return answer instanceof Reply ? answer.body : answer;
}

/** Sends what a handler has given, by its kind. What a handler has sent by itself is left alone. */
async function send(res: Response, { status = 200, produces }: Route, answer: unknown): Promise<void> {
  if (answer instanceof Later) {
    res.status(202).location(`/api/tasks/${answer.taskId}`);
    res.json({ taskId: answer.taskId } satisfies TaskStarted);
    return;
  }
  if (answer instanceof FileAnswer) {
    await sendFile(res, answer);
    return;
  }
  if (answer instanceof Reply) {
    res.status(answer.status).json(answer.body);
    return;
  }
  if (res.headersSent || res.writableEnded || produces !== undefined) return;
  res.status(status).json(answer ?? {});
}

/** Sends a file, shown or kept under its name; an error on the way counts only while somebody is still there. */
async function sendFile(res: Response, { type, content, name, headers }: FileAnswer): Promise<void> {
  res.type(type).set(headers);
  if (name !== undefined) res.attachment(name);
  if ('bytes' in content) {
    res.send(Buffer.from(content.bytes));
    return;
  }
  if ('pieces' in content) {
    res.set('Content-Length', String(content.length));
    await sendPieces(res, content.pieces);
    return;
  }
  await new Promise<void>((done, failed) => {
    res.sendFile(content.path, { dotfiles: 'allow' }, (error?: Error) => {
      // Whoever asked has gone: nobody is left to be told.
      if (error && !res.headersSent) failed(error);
      else done();
    });
  });
}

/** Sends pieces one behind the other; none is held whole that lies in a file. */
async function sendPieces(res: Response, pieces: readonly (Uint8Array | string)[]): Promise<void> {
  const all = async function* (): AsyncGenerator<Uint8Array> {
    for (const piece of pieces) {
      if (typeof piece === 'string') for await (const chunk of createReadStream(piece)) yield chunk as Uint8Array;
      else yield piece;
    }
  };
  try {
    await pipeline(all, res);
  } catch (error) {
    // Whoever asked has gone: nobody is left to be told.
    if (!res.headersSent) throw error;
  }
}

/** Told of an answer before it is sent. */
export type OnAnswer = (route: Route, answer: unknown) => void;

export interface AnswerHow {
  readonly onAnswer?: OnAnswer;
  /** A heavy request is answered with its task after so long. */
  readonly inTimeMs?: number;
}

interface Mounting extends AnswerHow {
  readonly callerOf: (req: Request) => Caller | undefined;
  /** Whether a request says that it comes from a page of this server. */
  readonly isFromOwnPage: (req: Request) => boolean;
  /** Whether a request comes by a link that was given to a device. */
  readonly isDeviceLink: (req: Request) => boolean;
  /** Takes in a JSON body, of those whom a route lets in: a large one of people, a small one of anybody. */
  readonly readBody: (req: Request, res: Response, small: boolean) => Promise<void>;
  readonly work: Work<TaskKinds>;
  /** An error as it is told, and with which status. */
  readonly explain: (error: unknown, req: Request) => { readonly status: number; readonly error: ErrorDetail };
}

/** What a device that fetches its files is taken for; it does nothing else. */
const DEVICE: Actor = { kind: 'device', id: 'device', name: 'device' };
/** Who tries to sign in. */
const STRANGER: Actor = { kind: 'person', id: 'nobody', name: 'nobody' };

/** The refusal of whoever has to sign in; pages ask them to, and go on where they were. */
export function signInFirst(): Refused {
  return new Refused(401, 'sign-in', 'You are not signed in, or not any more.', undefined, 'Sign in.');
}

/**
 * Lets in who may ask for a route.
 * @throws Refused 401 where nobody has signed in, 403 where they may not, with what they may
 */
function admitted(
  route: Route,
  req: Request,
  how: Mounting,
): { readonly actor: Actor; readonly caller: Caller | undefined } {
  const caller = how.callerOf(req);
  // A cookie goes along with whatever a browser sends, by whichever page: only a page of the shop's own may change anything.
  const byCookie = caller ? caller.by === 'session' : route.needs === 'anyone';
  if (route.method !== 'get' && byCookie && !how.isFromOwnPage(req)) {
    throw new Refused(
      403,
      'foreign-origin',
      'Only pages of this server may ask for this.',
      { origin: req.get('origin') ?? null },
      'Programs use a token.',
    );
  }
  if (route.needs === 'anyone') return { actor: caller?.actor ?? STRANGER, caller };
  if (!caller) {
    if (route.byDeviceLink && how.isDeviceLink(req)) return { actor: DEVICE, caller };
    throw signInFirst();
  }
  // A page says whom it belongs to: what it was begun with must not be done in the name of who has signed in since, in another tab.
  const meant = req.get('x-signed-in-as');
  if (caller.by === 'session' && meant !== undefined && meant !== caller.personId) throw signInFirst();
  if (!allows(caller.right, route.needs)) {
    const role = roleFor(route.needs);
    throw new Refused(
      403,
      'not-allowed',
      `${caller.actor.name} may not do this: it takes ${/^o/.test(role) ? 'an' : 'a'} ${role}.`,
      { needs: route.needs, right: caller.right },
      'Ask an owner, who can change that in Setup, People.',
    );
  }
  if (route.inPerson && caller.by === 'token') {
    throw new Refused(403, 'in-person', 'A token can’t do this: sign in at a page.');
  }
  return { actor: caller.actor, caller };
}

/** Puts routes on the application; each answer that is returned is sent as JSON. Nothing of a request is read before it is let in. */
export function mount(app: Express, routes: readonly Route[], how: Mounting): void {
  for (const each of routes) {
    app[each.method](each.path, async (req, res) => {
      const { actor, caller } = admitted(each, req, how);
      const query = { ...req.query };
      if (each.query) must(ajvQuery.compile(each.query), query, 'query');
      if (each.receive) await each.receive(req, res);
      else await how.readBody(req, res, each.needs === 'anyone');
      const body: unknown = req.body;
      if (each.body) must(ajv.compile(each.body), body, 'body');
      const params = Object.fromEntries(Object.entries(req.params).map(([key, value]) => [key, String(value)]));
      const handle = (tasks: RunHow): Promise<unknown> =>
        Promise.resolve(each.handle({ params, query, body, actor, caller, how: tasks, req, res }));
      const { heavy } = each;
      const answer = heavy === undefined ? await handle({}) : await inTime(heavy, req, handle, how);
      if (!(answer instanceof Later)) how.onAnswer?.(each, answer instanceof Reply ? answer.body : answer);
      await send(res, each, answer);
    });
  }
}

function must(check: ValidateFunction, value: unknown, where: string): void {
  if (check(value)) return;
  const errors = check.errors ?? [];
  const text = errors
    .slice(0, 5)
    .map((error) => `${(error.instancePath || where).replace(/^\//, '')} ${error.message ?? 'is wrong'}`)
    .join('; ');
  throw new Refused(400, 'bad-request', `The ${where} is not as expected: ${text}.`, {
    errors: errors.slice(0, 20).map(({ instancePath, message, params }) => ({ at: instancePath, message, params })),
  });
}
