import { createContext, useContext, useEffect, useMemo, useRef, useState } from 'react';
import { type Alert, alertsOf } from '../../../core/flow/alerts.ts';
import { usePrinters, useRuns } from '../../api/data.ts';
import { preferences } from '../../ui/preferences.ts';
import { soundAlert } from './sound.ts';

interface Alerts {
  readonly alerts: readonly Alert[];
  /** Those that nobody has put away here yet. */
  readonly unseen: readonly Alert[];
  readonly seen: (alert: Alert) => void;
}

const SEEN_KEY = 'yellow-spool-seen-alerts';
const NONE: Alerts = { alerts: [], unseen: [], seen: () => undefined };

export const AlertsContext = createContext<Alerts>(NONE);

export function useAlerts(): Alerts {
  return useContext(AlertsContext);
}

/** Watches all printers, whatever view is open. One that was put away comes again when the trouble does. */
export function useWatchedAlerts(): Alerts {
  const { data: printers } = usePrinters();
  const { data: runs } = useRuns();
  const ready = printers !== undefined && runs !== undefined;
  const alerts = useMemo(() => (ready ? alertsOf(printers, runs) : []), [ready, printers, runs]);
  const [seenKeys, setSeen] = useState<ReadonlySet<string>>(readSeen);
  // What is over is forgotten: the next time it is news.
  const still = [...seenKeys].filter((key) => alerts.some((alert) => alert.key === key));
  if (ready && still.length < seenKeys.size) setSeen(new Set(still));
  useEffect(() => {
    sessionStorage.setItem(SEEN_KEY, JSON.stringify([...seenKeys]));
  }, [seenKeys]);
  useCalls(ready ? alerts : undefined);
  return useMemo(
    () => ({
      alerts,
      unseen: alerts.filter(({ key }) => !seenKeys.has(key)),
      seen: ({ key }) => {
        setSeen((old) => new Set([...old, key]));
      },
    }),
    [alerts, seenKeys],
  );
}

function readSeen(): ReadonlySet<string> {
  try {
    return new Set(JSON.parse(sessionStorage.getItem(SEEN_KEY) ?? '[]') as string[]);
  } catch {
    return new Set();
  }
}

/** Calls a person who looks elsewhere, once for each new trouble; what was there when the page came is no news. */
function useCalls(alerts: readonly Alert[] | undefined): void {
  const known = useRef<ReadonlySet<string>>(undefined);
  useEffect(() => {
    if (!alerts) return;
    const before = known.current;
    known.current = new Set(alerts.map(({ key }) => key));
    const [first, ...more] = before ? alerts.filter(({ key }) => !before.has(key)) : [];
    if (!first) return;
    const { sound, notify } = preferences();
    if (sound) soundAlert();
    if (notify && 'Notification' in window && Notification.permission === 'granted') {
      const rest = more.length > 0 ? ` and ${String(more.length)} more` : '';
      new Notification(`${first.text}${rest}`, { body: first.way, tag: first.key });
    }
  }, [alerts]);
}
