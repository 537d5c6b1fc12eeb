import { Upload } from 'lucide-react';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import type { UploadResult } from '../../../contract/api/job.ts';
import { sendFiles } from '../../api/client.ts';
import type { Queue } from '../../api/data.ts';
import { useNotice } from '../../app/notice.tsx';

const KEY = 'yellow-spool-drop-queue';

/** The way in: drop files anywhere on the window, or choose them; beside it the hot folder of the queue. */
export function DropZone({ queues, children }: { readonly queues: readonly Queue[]; readonly children: ReactNode }) {
  const [queueId, setQueueId] = useState(() => localStorage.getItem(KEY) ?? '');
  const [over, setOver] = useState(false);
  const [sending, setSending] = useState(0);
  const input = useRef<HTMLInputElement>(null);
  const { tell, say } = useNotice();
  const queue = queues.find((each) => each.id === queueId) ?? queues[0];
  const take = (files: readonly File[]): void => {
    if (!queue || files.length === 0) return;
    setSending((n) => n + files.length);
    sendFiles<UploadResult>('/api/jobs', queue.id, files)
      .then(({ accepted, refused }) => {
        if (refused.length > 0)
          tell(
            new Error(
              `${String(refused.length)} of ${String(files.length)} files were refused: ${refused[0]?.reason ?? ''}`,
            ),
          );
        else say(`${String(accepted.length)} ${accepted.length === 1 ? 'file' : 'files'} arrived in ${queue.name}`);
      })
      .catch(tell)
      .finally(() => {
        setSending((n) => n - files.length);
      });
  };
  useWindowDrop(setOver, take);
  const folder = queue?.hotFolders[0];
  return (
    <div className="flex h-full min-h-0 flex-col">
      <header
        className={`flex flex-wrap items-center gap-x-4 gap-y-2 border-b px-5 py-3 ${over ? 'border-ink bg-spool text-on-spool' : 'border-rule'}`}
        aria-label="Landing zone"
      >
        <h1 className="text-lg font-semibold">Intake</h1>
        <span className="flex items-center gap-2">
          <Upload size={18} aria-hidden="true" className={over ? '' : 'text-soft'} />
          <span>
            {over
              ? 'Let go to bring the files in'
              : sending > 0
                ? `Bringing in ${String(sending)} files…`
                : 'Drop files anywhere, or'}
          </span>
          <button
            type="button"
            className={`font-medium underline ${over ? '' : 'text-tide'}`}
            onClick={() => input.current?.click()}
          >
            choose them
          </button>
          <input
            ref={input}
            type="file"
            multiple
            hidden
            aria-label="Files"
            accept=".pdf,.png,.jpg,.jpeg"
            onChange={(event) => {
              take([...(event.target.files ?? [])]);
              event.target.value = '';
            }}
          />
        </span>
        <label className="flex items-center gap-2">
          <span className={over ? '' : 'text-soft'}>into</span>
          <select
            aria-label="Into queue"
            value={queue?.id ?? ''}
            onChange={(event) => {
              localStorage.setItem(KEY, event.target.value);
              setQueueId(event.target.value);
            }}
            className="h-8 rounded-md border border-rule bg-card px-2 text-ink"
          >
            {queues.map((each) => (
              <option key={each.id} value={each.id}>
                {each.name}
              </option>
            ))}
          </select>
        </label>
        {folder && (
          <span className={`dense ml-auto min-w-0 truncate ${over ? '' : 'text-soft'}`} title={folder.path}>
            {folder.state === 'watched' ? 'Its hot folder' : 'Its hot folder is missing'}: {folder.path}
          </span>
        )}
      </header>
      <div className="min-h-0 flex-1">{children}</div>
    </div>
  );
}

function useWindowDrop(setOver: (over: boolean) => void, take: (files: readonly File[]) => void): void {
  const taking = useRef(take);
  useEffect(() => {
    taking.current = take;
  });
  useEffect(() => {
    const hasFiles = (event: DragEvent): boolean => event.dataTransfer?.types.includes('Files') ?? false;
    const onOver = (event: DragEvent): void => {
      if (!hasFiles(event)) return;
      event.preventDefault();
      setOver(true);
    };
    const onLeave = (event: DragEvent): void => {
      if (event.relatedTarget === null) setOver(false);
    };
    const onDrop = (event: DragEvent): void => {
      if (!hasFiles(event)) return;
      event.preventDefault();
      setOver(false);
      taking.current([...(event.dataTransfer?.files ?? [])]);
    };
    window.addEventListener('dragover', onOver);
    window.addEventListener('dragleave', onLeave);
    window.addEventListener('drop', onDrop);
    return () => {
      window.removeEventListener('dragover', onOver);
      window.removeEventListener('dragleave', onLeave);
      window.removeEventListener('drop', onDrop);
    };
  }, [setOver]);
}
