import { useSyncExternalStore } from 'react';

/** How people want to read lengths. *metric*: millimetres, and metres where a length is along the media. */
export const UNITS = ['metric', 'mm', 'cm', 'm', 'in', 'ft'] as const;
export type Units = (typeof UNITS)[number];

/** What a person has chosen for this browser. There is one place for it, so that it can move to the person once people sign in. */
export interface Preferences {
  /** A sound when a printer stops. */
  readonly sound: boolean;
  /** A notification of the desktop when a printer stops. */
  readonly notify: boolean;
  /** How lengths are read; fields take any unit. */
  readonly units: Units;
  /** How numbers, dates and times are written; words stay English. */
  readonly locale: string;
  /** The step of the first guide that is shown; below zero: it has not begun; null: it is over. */
  readonly guideStep: number | null;
}

const KEY = 'yellow-spool-preferences';
const PLAIN: Preferences = { sound: false, notify: false, units: 'metric', locale: 'en-GB', guideStep: -1 };

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
