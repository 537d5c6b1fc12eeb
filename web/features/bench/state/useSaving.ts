import { useCallback, useEffect, useRef, useState } from 'react';
import { ApiError, getJson, sendJson } from '../../../api/client.ts';
import type { RunDetail } from '../../../api/data.ts';
import { useNotice } from '../../../app/notice.tsx';
import { type Layout, changeOf } from './layoutState.ts';

const SAVE_AFTER_MS = 350;
/** A server that does not answer, or has no room, is asked again after so long. */
const AGAIN_AFTER_MS = 3000;

/** Saving as the Bench sees it. */
export interface Saving {
  /** Resolves once the newest layout is on the server; rejects where it could not be saved. */
  readonly save: () => Promise<void>;
  /** The run as somebody else has laid it out meanwhile. */
  readonly conflict: RunDetail | undefined;
  /**
   * The next save goes over what somebody else has laid out.
   * @param kept the change that is theirs, as it is on the server; left out: mine is saved
   */
  readonly settleConflict: (kept?: number) => void;
}

/**
 * Keeps the layout on the server a moment after each change, and at once when asked. A layout counts as saved only when the
 * server has answered, and is saved only over the version that it was made from: what another person has done is never
 * overwritten unseen.
 * @param change counts the changes made here
 */
export function useSaving(
  run: RunDetail,
  layout: Layout,
  change: number,
  nesting: boolean,
  onSaved: (run: RunDetail) => void,
): Saving {
  const { tell } = useNotice();
  const saved = useRef(0);
  const version = useRef(run.version);
  const latest = useRef({ layout, change });
  const [conflict, setConflict] = useState<RunDetail>();
  const conflicted = useRef(false);
  useEffect(() => {
    latest.current = { layout, change };
  });
  useEffect(() => {
    // Other things done to the run here come back with its newest version.
    version.current = Math.max(version.current, run.version);
  }, [run.version]);
  /** One after another: a second save must know the version that the first one made. */
  const queue = useRef<Promise<void>>(Promise.resolve());
  const sendLatest = useCallback(async () => {
    const { layout: now, change: at } = latest.current;
    if (at === saved.current || now.places.size === 0) return;
    if (conflicted.current) throw new Error('First choose whose layout to keep.');
    const path = `/api/runs/${run.id}`;
    try {
      const next = await sendJson<RunDetail>('PUT', `${path}/layout`, changeOf(now), {
        'if-match': `"${String(version.current)}"`,
      });
      saved.current = at;
      version.current = next.version;
      onSaved(next);
    } catch (error) {
      if (error instanceof ApiError && error.code === 'layout-changed') {
        conflicted.current = true;
        setConflict(await getJson<RunDetail>(path));
      }
      throw error;
    }
  }, [run.id, onSaved]);
  const save = useCallback(() => {
    const next = queue.current.catch(() => undefined).then(sendLatest);
    queue.current = next;
    return next;
  }, [sendLatest]);
  useEffect(() => {
    if (change === saved.current || nesting || run.state !== 'draft' || conflict) return undefined;
    let timer = window.setTimeout(attempt, SAVE_AFTER_MS);
    function attempt(): void {
      save().catch((error: unknown) => {
        tell(error);
        if (mayPassLater(error)) timer = window.setTimeout(attempt, AGAIN_AFTER_MS);
      });
    }
    return () => {
      window.clearTimeout(timer);
    };
  }, [change, nesting, run.state, conflict, save, tell]);
  return {
    save,
    conflict,
    settleConflict: (kept) => {
      if (kept !== undefined) saved.current = kept;
      if (conflict) version.current = conflict.version;
      conflicted.current = false;
      setConflict(undefined);
    },
  };
}

/** Whether the same layout may be taken the next time: what the server has refused for its own sake never is. */
function mayPassLater(error: unknown): boolean {
  return error instanceof ApiError && (error.status === 0 || error.status >= 500);
}
