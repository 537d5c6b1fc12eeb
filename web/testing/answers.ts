/** What a request of a page came as, for tests of what it sends. */
export interface Asked {
  readonly method: string;
  readonly path: string;
  readonly body: unknown;
  readonly headers: Readonly<Record<string, string>>;
}

type Answer = { readonly status: number; readonly body: unknown };

/**
 * Stands in for the server: notes what is asked and answers it. A test says what; `undefined` is a server that does not answer.
 * @returns what was asked, in order
 */
export function answering(answer: (asked: Asked) => Answer | undefined | Promise<Answer | undefined>): Asked[] {
  const asked: Asked[] = [];
  globalThis.fetch = (async (path: string, init: RequestInit = {}) => {
    const { method = 'GET', body, headers = {} } = init;
    const one: Asked = {
      method,
      path,
      body: typeof body === 'string' ? (JSON.parse(body) as unknown) : body,
      headers: headers as Record<string, string>,
    };
    asked.push(one);
    const found = await answer(one);
    if (!found) throw new TypeError('no answer');
    const text = JSON.stringify(found.body);
    return { status: found.status, ok: found.status < 400, text: () => Promise.resolve(text) };
  }) as unknown as typeof fetch;
  return asked;
}
