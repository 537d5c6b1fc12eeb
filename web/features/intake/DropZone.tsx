import { number } from '../../ui/text/number.ts';
import { counted } from '../../ui/text/counted.ts';
import { Upload } from 'lucide-react';
import { useRef, useState, type ReactNode } from 'react';
import type { UploadResult } from '../../../contract/api/job.ts';
import { sendFiles } from '../../api/client.ts';
import type { Queue } from '../../api/data.ts';
import { useNotice } from '../../app/notice.tsx';
import { setPreferences, usePreferences } from '../../ui/preferences.ts';
import { useWindowDrop } from '../../ui/useWindowDrop.ts';
import { Tray } from './Tray.tsx';
import { Select } from '../../ui/fields/Select.tsx';
import { May, useMay } from '../../people/May.tsx';

const ACCEPTED = '.pdf,.png,.jpg,.jpeg,.tif,.tiff,.svg,.jdf,.json,.csv';

/** The way in: drop files anywhere on the window, or choose them; then a preset, and bring them in or send them to print. */
export function DropZone({ queues, children }: { readonly queues: readonly Queue[]; readonly children: ReactNode }) {
  const { dropQueueId: queueId } = usePreferences();
  const [over, setOver] = useState(false);
  const [sending, setSending] = useState(0);
  const [tray, setTray] = useState<readonly File[]>([]);
  const input = useRef<HTMLInputElement>(null);
  const { tell, say } = useNotice();
  const queue = queues.find((each) => each.id === queueId) ?? queues[0];
  const may = useMay('coordinate');
  const add = (files: readonly File[]): void => {
    if (may) setTray((laid) => [...laid, ...files]);
  };
  const bringIn = (presetId: string | null, send: boolean): void => {
    if (!queue || tray.length === 0) return;
    const files = tray;
    setTray([]);
    setSending((n) => n + files.length);
    sendFiles<UploadResult>('/api/jobs', { queueId: queue.id, presetId, send }, files)
      .then((result) => {
        const text = resultText(result, files.length, queue.name);
        // A run that was queued the wire announces by itself, with the way back.
        if (text.wrong) tell(new Error(text.text));
        else if (result.runs.length === 0) say(text.text);
      })
      .catch((error: unknown) => {
        // Nothing is lost: what did not get through lies in the tray again.
        setTray((laid) => [...files, ...laid]);
        tell(error);
      })
      .finally(() => {
        setSending((n) => n - files.length);
      });
  };
  useWindowDrop((now) => {
    setOver(now && may);
  }, add);
  const folders = queue?.hotFolders ?? [];
  const [folder] = folders;
  return (
    <div className="flex h-full min-h-0 flex-col">
      <header
        className={`flex flex-wrap items-center gap-x-4 gap-y-2 border-b px-5 py-3 ${over ? 'border-ink bg-spool text-on-spool' : 'border-rule'}`}
        aria-label="Landing zone"
      >
        <h1 className="text-lg font-semibold">Intake</h1>
        <May right="coordinate">
          <span className="flex items-center gap-2">
            <Upload size={18} aria-hidden="true" className={over ? '' : 'text-soft'} />
            <span>
              {over
                ? 'Drop the files here'
                : sending > 0
                  ? `Bringing in ${number(sending)} ${sending === 1 ? 'file' : 'files'}…`
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
              accept={ACCEPTED}
              onChange={(event) => {
                add([...(event.target.files ?? [])]);
                event.target.value = '';
              }}
            />
          </span>
          <label className="flex items-center gap-2">
            <span className={over ? '' : 'text-soft'}>into</span>
            <Select
              label="Into queue"
              value={queue?.id ?? ''}
              choices={queues.map(({ id, name }) => ({ value: id, text: name }))}
              className="h-8 text-ink"
              onChange={(id) => {
                setPreferences({ dropQueueId: id });
              }}
            />
          </label>
        </May>
        {folder && (
          <span className={`dense ml-auto min-w-0 truncate ${over ? '' : 'text-soft'}`} title={folder.path}>
            {folder.state === 'watched' ? 'Its hot folder' : `Its hot folder is ${folder.state}`}: {folder.path}
            {folders.length > 1 ? ` and ${String(folders.length - 1)} more` : ''}
          </span>
        )}
      </header>
      {tray.length > 0 && queue && (
        <Tray
          files={tray}
          queue={queue}
          onBringIn={bringIn}
          onClear={() => {
            setTray([]);
          }}
        />
      )}
      <div className="min-h-0 flex-1">{children}</div>
    </div>
  );
}

function resultText(
  { accepted, refused, problems }: UploadResult,
  files: number,
  queueName: string,
): { readonly wrong: boolean; readonly text: string } {
  const [bad] = refused;
  const [problem] = problems;
  if (bad) {
    return {
      wrong: true,
      text: `${String(refused.length)} of ${counted(files, 'file')} were refused. ${bad.sourceName}: ${bad.reason}`,
    };
  }
  if (problem) return { wrong: true, text: problem.text };
  const jobs = `${number(accepted.length)} ${accepted.length === 1 ? 'job' : 'jobs'}`;
  return { wrong: false, text: `${jobs} arrived in ${queueName}` };
}
