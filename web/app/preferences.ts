import { useSyncExternalStore } from 'react';

/** What a person has chosen for this browser. There is one place for it, so that it can move to the person once people sign in. */
export interface Preferences {
  /** A sound when a printer stops. */
  readonly sound: boolean;
  /** A notification of the desktop when a printer stops. */
  readonly notify: boolean;
}

const KEY = 'yellow-spool-preferences';
const PLAIN: Preferences = { sound: false, notify: false };

let kept: Preferences | undefined;
const listeners = new Set<() => void>();

function read(): Preferences {
  try {
    return { ...PLAIN, ...(JSON.parse(localStorage.getItem(KEY) ?? '{}') as Partial<Preferences>) };
  } catch {
    // What another version has left there is worth less than a page that opens.
    return PLAIN;
  }
}

export function preferences(): Preferences {
  kept ??= read();
  return kept;
}

export function setPreferences(change: Partial<Preferences>): void {
  kept = { ...preferences(), ...change };
  localStorage.setItem(KEY, JSON.stringify(kept));
  for (const listener of listeners) listener();
}

/** What is chosen, anew whenever it changes. */
export function usePreferences(): Preferences {
  return useSyncExternalStore((changed) => {
    listeners.add(changed);
    return () => {
      listeners.delete(changed);
    };
  }, preferences);
}
