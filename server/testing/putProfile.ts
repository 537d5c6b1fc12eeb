import type { TestHttp } from './httpFixture.ts';

/** Brings in a profile as a page does: a form with one file. */
export async function putProfile(
  http: TestHttp,
  name: string,
  bytes: Uint8Array,
): Promise<{ readonly status: number; readonly body: { readonly error?: { readonly message: string } } }> {
  const form = new FormData();
  form.append('file', new Blob([Uint8Array.from(bytes)]), 'profile.icc');
  const answer = await fetch(`${http.base}/api/profiles/${encodeURIComponent(name)}`, { method: 'PUT', body: form });
  return { status: answer.status, body: (await answer.json()) as { readonly error?: { readonly message: string } } };
}
