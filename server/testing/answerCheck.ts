import { Ajv, type ValidateFunction } from 'ajv';
import type { TSchema } from 'typebox';
import { FileAnswer, type OnAnswer, type Route } from '../http/route.ts';

/** An answer as it goes over the wire; one that a worker has written is sent as it stands. */
function textOf(answer: unknown): string {
  if (answer instanceof FileAnswer && 'bytes' in answer.content) return Buffer.from(answer.content.bytes).toString();
  return JSON.stringify(answer ?? {});
}

/** A schema in which nothing may stand that it doesn't name. */
function closed(schema: unknown): unknown {
  if (Array.isArray(schema)) return schema.map(closed);
  if (schema === null || typeof schema !== 'object') return schema;
  const each = Object.fromEntries(Object.entries(schema).map(([key, value]) => [key, closed(value)]));
  const isObject = each.type === 'object' && each.properties !== undefined && each.patternProperties === undefined;
  return isObject && each.additionalProperties === undefined ? { ...each, additionalProperties: false } : each;
}

/** By the text of the schema: those that a list of routes makes for itself come anew with each shop. */
const compiled = new Map<string, ValidateFunction>();
const ajv = new Ajv({ strict: false, allErrors: true });

function checkOf(schema: TSchema): ValidateFunction {
  const text = JSON.stringify(schema);
  const known = compiled.get(text) ?? ajv.compile(closed(schema) as TSchema);
  compiled.set(text, known);
  return known;
}

/**
 * Compares every answer with the schema of its route, as it goes over the wire: what is missing, wrong or not named there
 * makes the request fail. It keeps count, so that a test can tell which routes it has not looked at yet, and which have only
 * ever answered with an empty list.
 */
export function answerCheck(routes: readonly Route[]): { readonly check: OnAnswer; readonly unseen: () => string[] } {
  const seen = new Set<string>();
  const name = ({ method, path }: Pick<Route, 'method' | 'path'>): string => `${method} ${path}`;
  return {
    check: (route, answer) => {
      if (!route.answer) return;
      const known = checkOf(route.answer);
      const sent: unknown = JSON.parse(textOf(answer));
      if (!known(sent)) {
        const text = (known.errors ?? [])
          .slice(0, 5)
          .map(({ instancePath, message, params }) => `${instancePath} ${message ?? ''} ${JSON.stringify(params)}`);
        throw new Error(`${name(route)} answers what its schema does not say: ${text.join('; ')}`);
      }
      if (!Array.isArray(sent) || sent.length > 0) seen.add(name(route));
    },
    unseen: () => routes.filter((route) => route.answer && !seen.has(name(route))).map(name),
  };
}
