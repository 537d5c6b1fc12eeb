import { number } from '../ui/text/number.ts';
import { X } from 'lucide-react';
import { createPortal } from 'react-dom';
import { sendJson } from '../api/client.ts';
import { type LongTask, markCancelling, useLongTasks } from '../api/longTasks.ts';
import { IconButton } from '../ui/IconButton.tsx';
import { useMay } from '../people/May.tsx';

/** What the server is at for this page and takes longer than a moment: how far it is, and its end before its time. */
export function LongTasks({ onError }: { readonly onError: (error: unknown) => void }) {
  const tasks = useLongTasks();
  const mayCancel = useMay('coordinate');
  if (tasks.length === 0) return null;
  const cancel = (taskId: string): void => {
    markCancelling(taskId, true);
    sendJson('DELETE', `/api/tasks/${taskId}`).catch((error: unknown) => {
      markCancelling(taskId, false);
      onError(error);
    });
  };
  // It lies over the wire, outside of the page: what waits for it may be a dialog, and nothing else can be reached then.
  return createPortal(
    <div
      role="status"
      aria-label="What takes longer"
      className="fixed right-0 bottom-[34px] z-50 border-l border-rule bg-card text-sm md:right-36 md:bottom-0"
    >
      {tasks.map((task) => (
        <div key={task.taskId} className="flex h-[33px] items-center justify-end gap-2 border-t border-rule px-3">
          <span>{task.cancelling ? 'Cancelling …' : `${task.title} …`}</span>
          <Share task={task} />
          {mayCancel && (
            <IconButton
              label={`Cancel: ${task.title}`}
              disabled={task.cancelling}
              onClick={() => {
                cancel(task.taskId);
              }}
            >
              <X size={16} aria-hidden="true" />
            </IconButton>
          )}
        </div>
      ))}
    </div>,
    document.body,
  );
}

/** How far it is as a bar and a figure; where that is not known the bar says only that it goes on. */
function Share({ task: { title, progress } }: { readonly task: LongTask }) {
  // Without a value it is shown as not known.
  const known = progress === null ? {} : { 'aria-valuenow': Math.round(progress * 100) };
  return (
    <>
      <div
        role="progressbar"
        aria-label={title}
        aria-valuemin={0}
        aria-valuemax={100}
        {...known}
        className="h-2 w-24 overflow-hidden rounded-full bg-rule"
      >
        <div
          className={`h-full rounded-full bg-tide ${progress === null ? 'w-1/3 motion-safe:animate-pulse' : ''}`}
          style={progress === null ? undefined : { width: `${String(progress * 100)}%` }}
        />
      </div>
      <span className="w-10 text-right tabular-nums">{progress === null ? '' : `${number(progress * 100)} %`}</span>
    </>
  );
}
