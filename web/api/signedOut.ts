import { useSyncExternalStore } from 'react';

/*
 * Requests of a page whose session has ended wait here until somebody has signed in again; then each is made once more.
 */

let waiting: { readonly until: Promise<void>; readonly goOn: () => void } | undefined;
const listeners = new Set<() => void>();

function told(): void {
  for (const listener of listeners) listener();
}

/** Whom this page belongs to, as each of its requests says: in another tab of the browser somebody else may sign in meanwhile. */
let owner: string | undefined;

/** From now on requests of this page are those of a person, and of nobody else. */
export function belongTo(personId: string): void {
  owner = personId;
}

/** What a request says of whom it is. */
export function ownHeaders(): Readonly<Record<string, string>> {
  return owner === undefined ? {} : { 'x-signed-in-as': owner };
}

/** Done as soon as somebody has signed in again. */
export function signedInAgain(): Promise<void> {
  if (!waiting) {
    let goOn: () => void = () => undefined;
    const until = new Promise<void>((done) => {
      goOn = done;
    });
    waiting = { until, goOn };
    told();
  }
  return waiting.until;
}

/** Somebody has signed in: what waits goes on. */
export function goOnSignedIn(): void {
  waiting?.goOn();
  waiting = undefined;
  told();
}

/** Whether anything waits for somebody to sign in. */
export function useSignedOut(): boolean {
  return useSyncExternalStore(
    (changed) => {
      listeners.add(changed);
      return () => {
        listeners.delete(changed);
      };
    },
    () => waiting !== undefined,
  );
}
