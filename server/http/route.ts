import type { Actor } from '../../core/events/actor.ts';
import type { Right } from '../../core/flow/rights.ts';
import { Ajv, type ValidateFunction } from 'ajv';
import type { Express, Request, Response } from 'express';
import type { Static, TObject, TSchema } from 'typebox';
import { Refused } from '../shop.ts';

/** One route: what it takes and gives as schemas; validation and OpenAPI both come from here. */
export interface Route {
  readonly method: 'get' | 'post' | 'put' | 'patch' | 'delete';
  /** With express parameters: /api/jobs/:id */
  readonly path: string;
  /** What a person must be allowed to do for this. */
  readonly needs: Right;
  readonly summary: string;
  readonly query?: TObject;
  readonly body?: TSchema;
  /** Multipart instead of JSON: described here, parsed by the handler's own middleware. */
  readonly multipart?: TSchema;
  readonly answer?: TSchema;
  /** Anything but JSON: its media type. */
  readonly produces?: string;
  readonly status?: number;
  readonly handle: (call: Call) => unknown;
}

export interface Call {
  readonly params: Readonly<Record<string, string>>;
  readonly query: Readonly<Record<string, unknown>>;
  readonly body: unknown;
  /** Who asks for it. */
  readonly actor: Actor;
  readonly req: Request;
  readonly res: Response;
}

interface RouteParts<Q extends TObject, B extends TSchema> {
  readonly query?: Q;
  readonly body?: B;
  readonly handle: (
    call: Omit<Call, 'query' | 'body'> & { readonly query: Static<Q>; readonly body: Static<B> },
  ) => unknown;
}

/** Gives a handler the types of its own schemas. */
export function route<Q extends TObject, B extends TSchema>(
  definition: Omit<Route, 'query' | 'body' | 'handle'> & RouteParts<Q, B>,
): Route {
  return definition as unknown as Route;
}

const ajv = new Ajv({ strict: false, allErrors: true, coerceTypes: false, useDefaults: true });
const ajvQuery = new Ajv({ strict: false, allErrors: true, coerceTypes: true, useDefaults: true });

/** Puts routes on the application; each answer that is returned is sent as JSON. */
export function mount(app: Express, routes: readonly Route[], actorOf: (req: Request) => Actor): void {
  for (const each of routes) {
    const checkBody = each.body && ajv.compile(each.body);
    const checkQuery = each.query && ajvQuery.compile(each.query);
    app[each.method](each.path, async (req, res) => {
      const query = { ...req.query };
      if (checkQuery) must(checkQuery, query, 'query');
      const body: unknown = req.body;
      if (checkBody) must(checkBody, body, 'body');
      const params = Object.fromEntries(Object.entries(req.params).map(([key, value]) => [key, String(value)]));
      const answer = await each.handle({ params, query, body, actor: actorOf(req), req, res });
      if (res.headersSent || res.writableEnded || each.produces !== undefined) return;
      res.status(each.status ?? 200).json(answer ?? {});
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
