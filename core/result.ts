/** An expected failure is a value: callers must look at it, and it carries the figures that explain it. */
export type Result<T, R> = { readonly ok: true; readonly value: T } | { readonly ok: false; readonly reason: R };

/** What came of it. */
export function ok<T>(value: T): { readonly ok: true; readonly value: T } {
  return { ok: true, value };
}

/** Why nothing came of it. */
export function refuse<R>(reason: R): { readonly ok: false; readonly reason: R } {
  return { ok: false, reason };
}
