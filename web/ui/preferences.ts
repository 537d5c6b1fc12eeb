import { useSyncExternalStore } from 'react';
import { PLAIN_PREFERENCES, type Preferences } from '../../core/people/preferences.ts';

/*
 * What the person at this page prefers. It is kept in the browser, so that a page looks right before anybody has answered, and
 * with the person where one has signed in, so that it is the same on each of their screens.
 */

const KEY = 'yellow-spool-preferences';
/** Where earlier versions kept single choices. */
const BEFORE: Readonly<Record<string, keyof Preferences>> = {
  'yellow-spool-theme': 'theme',
  'yellow-spool-drop-queue': 'dropQueueId',
  'yellow-spool-floor-span': 'floorHours',
  'yellow-spool-intake-view': 'intakeView',
  'yellow-spool-intake-views': 'intakeViews',
};

type Send = (change: Partial<Preferences>) => void;

let key = KEY;
let send: Send | undefined;
let kept: Preferences | undefined;
const listeners = new Set<() => void>();

function read(): Preferences {
  const kept: Record<string, unknown> = {};
  for (const [before, name] of Object.entries(BEFORE)) {
    const text = stored(before);
    if (text !== null) kept[name] = parsed(text) ?? text;
  }
  return { ...PLAIN_PREFERENCES, ...kept, ...(parsed(stored(key) ?? '{}') as Partial<Preferences>) };
}

/** A browser may keep nothing for pages. */
function stored(name: string): string | null {
  try {
    return localStorage.getItem(name);
  } catch {
    return null;
  }
}

/** What another version has left there is worth less than a page that opens. */
function parsed(text: string): unknown {
  try {
    return JSON.parse(text) as unknown;
  } catch {
    return undefined;
  }
}

function told(): void {
  for (const listener of listeners) listener();
}

export function preferences(): Preferences {
  kept ??= read();
  return kept;
}

export function setPreferences(change: Partial<Preferences>): void {
  kept = { ...preferences(), ...change };
  localStorage.setItem(key, JSON.stringify(kept));
  send?.(change);
  told();
}

/**
 * From now on preferences are those of a person: what they have chosen anywhere counts over what this browser had for them.
 * @param theirs as the server has it
 * @param sendOn tells the server of each further choice
 */
export function keepPreferencesOf(personId: string, theirs: Partial<Preferences>, sendOn: Send): void {
  key = `${KEY}-${personId}`;
  send = sendOn;
  kept = { ...read(), ...theirs };
  localStorage.setItem(key, JSON.stringify(kept));
  told();
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
