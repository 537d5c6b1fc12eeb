import { Ajv } from 'ajv';
import type { Static, TSchema } from 'typebox';

const ajv = new Ajv({ strict: false });

/** @throws with status 400 and what is wrong with it */
export function parse<T extends TSchema>(schema: T, value: unknown): Static<T> {
  const check = ajv.compile(schema);
  if (!check(value)) throw Object.assign(new Error(ajv.errorsText(check.errors)), { status: 400 });
  return value as Static<T>;
}
