import { ChevronUp, Undo2, X } from 'lucide-react';
import { useEffect, useState } from 'react';
import { signedInName } from '../../core/events/actor.ts';
import type { EventKind } from '../../core/events/eventData.ts';
import { undoRight } from '../../core/people/undoRight.ts';
import { sendJson } from '../api/client.ts';
import { useLog, type LogEvent } from '../api/data.ts';
import type { Link } from '../api/live.ts';
import { StateShape } from '../draw/StateShape.tsx';
import { FlyOut } from '../ui/FlyOut.tsx';
import { eventText } from '../ui/text/inUnits.ts';
import { LongTasks } from './LongTasks.tsx';
import { useNotice } from './notice.tsx';
import { clockText, useShopNow, useZone } from './shopTime.ts';
import { useMay } from '../people/May.tsx';

/** What people did comes first for a while: its undo must not be pushed away by what printers report. */
const HOLD_MS = 8000;
/** What the shop finds out by itself: it stands in the log, and pushes away nothing that somebody should see. */
const QUIET: ReadonlySet<string> = new Set<EventKind>(['run.sampled', 'run.counted']);

/** The line at the foot: what just happened, with undo. */
export function Wire({ link }: { readonly link: Link }) {
  const { data: log } = useLog();
  const { notice, tell, clear } = useNotice();
  const [undone, setUndone] = useState<ReadonlySet<number>>(new Set());
  const shown = useHeldEvent(log ?? []);
  const undo = (event: LogEvent): void => {
    if (!event.undo) return;
    setUndone((old) => new Set(old).add(event.id));
    sendJson(event.undo.method, event.undo.path, event.undo.body).catch(tell);
  };
  return (
    <footer
      className="col-span-2 flex min-w-0 max-phone:col-span-1 max-phone:min-h-[34px] items-center gap-3 border-t border-rule bg-card px-3 text-sm"
      aria-label="Wire"
    >
      <LinkSign link={link} />
      <div className="flex min-w-0 flex-1 items-center gap-3" aria-live="polite">
        {notice ? (
          <>
            <span
              className={`min-w-0 truncate ${notice.wrong ? 'text-stop' : ''}`}
              title={notice.text}
              role={notice.wrong ? 'alert' : undefined}
            >
              {notice.text}
            </span>
            <button
              type="button"
              onClick={clear}
              aria-label="Put this message away"
              className="text-soft hover:text-ink"
            >
              <X size={16} />
            </button>
          </>
        ) : (
          shown && <EventLine event={shown} undone={undone.has(shown.id)} onUndo={undo} />
        )}
      </div>
      <LongTasks onError={tell} />
      <FlyOut
        title="What happened"
        up
        scrolls
        button={
          <>
            What happened <ChevronUp size={14} aria-hidden="true" />
          </>
        }
        buttonClass="flex items-center gap-1 rounded px-2 py-0.5 whitespace-nowrap text-soft hover:bg-rule/40 hover:text-ink"
        panelClass="max-h-[60vh] w-[min(520px,90vw)] overflow-auto p-2"
      >
        {() =>
          (log ?? []).map((event) => (
            <div key={event.id} className="border-b border-rule/60 py-1 last:border-0">
              <EventLine event={event} undone={undone.has(event.id)} onUndo={undo} />
            </div>
          ))
        }
      </FlyOut>
    </footer>
  );
}

/** The event that is shown: what a person did stays for a moment, also when printers report meanwhile. */
function useHeldEvent(log: readonly LogEvent[]): LogEvent | undefined {
  const newest = log.find(({ kind }) => !QUIET.has(kind));
  const own = log.find((event) => event.undo);
  // What was there when the page came is old news.
  const [seen, setSeen] = useState<number>();
  const [held, setHeld] = useState<LogEvent>();
  if (newest && seen === undefined) setSeen(own?.id ?? 0);
  else if (own && seen !== undefined && own.id > seen) {
    setSeen(own.id);
    setHeld(own);
  }
  useEffect(() => {
    if (!held) return undefined;
    const timer = window.setTimeout(() => {
      setHeld(undefined);
    }, HOLD_MS);
    return () => {
      window.clearTimeout(timer);
    };
  }, [held]);
  return held ?? newest;
}

function EventLine({
  event,
  undone,
  onUndo,
}: {
  readonly event: LogEvent;
  readonly undone: boolean;
  readonly onUndo: (event: LogEvent) => void;
}) {
  const now = useShopNow(5000);
  const zone = useZone();
  const may = useMay(undoRight(event.undo?.path ?? ''));
  const sentence = eventText(event);
  const who = whoOf(event, sentence);
  return (
    <div className="flex min-w-0 items-center gap-3">
      <span className="shrink-0 text-soft">{clockText(event.atMs, now ?? event.atMs, zone)}</span>
      <span className="min-w-0 truncate" title={sentence}>
        {sentence}
      </span>
      {who !== null && <span className="shrink-0 text-soft max-phone:hidden">{who}</span>}
      {event.undo && !undone && may && (
        <button
          type="button"
          onClick={() => {
            onUndo(event);
          }}
          className="flex shrink-0 items-center gap-1 rounded px-1.5 font-medium text-tide hover:bg-rule/50"
        >
          <Undo2 size={14} aria-hidden="true" /> {event.undo.label}
        </button>
      )}
    </div>
  );
}

/** The person who has signed in and did it, where the sentence does not say so itself. */
function whoOf({ actorKind: kind, actorId: id, who: name }: LogEvent, sentence: string): string | null {
  const person = id === null ? null : signedInName({ kind, id, name });
  return person === null || sentence.startsWith(person) ? null : person;
}

/** Whether what is seen is the present. A dead line is said in red: figures on the page may be old then. */
function LinkSign({ link }: { readonly link: Link }) {
  if (link === 'live')
    return (
      <span className="flex items-center gap-1.5 text-soft">
        <StateShape shape="idle" size={12} /> live
      </span>
    );
  if (link === 'connecting') return <span className="text-soft">connecting</span>;
  return (
    <span className="flex items-center gap-1.5 text-stop" role="alert">
      <StateShape shape="fault" /> Server does not answer; trying again
    </span>
  );
}
