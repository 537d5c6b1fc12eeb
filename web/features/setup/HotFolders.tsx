import { number } from '../../ui/text/number.ts';
import { Pause, Play, Plus, X } from 'lucide-react';
import { useState } from 'react';
import type { HotFolderChange, HotFolderView, QueueView } from '../../../contract/api/ticket.ts';
import { SUBFOLDERS } from '../../../core/ticket/namePattern.ts';
import { ApiError, sendJson } from '../../api/client.ts';
import { usePresets } from '../../api/data.ts';
import { useNotice } from '../../app/notice.tsx';
import { clockText, useShopNow, useZone } from '../../app/shopTime.ts';
import { Button } from '../../ui/Button.tsx';
import { Row, Section } from '../../ui/Sheet.tsx';
import { PatternField } from './PatternField.tsx';
import { Select } from '../../ui/fields/Select.tsx';

/** The hot folders of a queue: what each gives to its files, and how it is doing. */
export function HotFolders({ queue }: { readonly queue: QueueView }) {
  const [path, setPath] = useState<string>();
  /** What lies in the folder already, until somebody has decided about it. */
  const [holds, setHolds] = useState<string>();
  const { tell } = useNotice();
  const change = (next: string | undefined): void => {
    setPath(next);
    setHolds(undefined);
  };
  const add = (admitExisting: boolean): void => {
    if (path === undefined || path.trim() === '') return;
    const order = { queueId: queue.id, path: path.trim(), ...(admitExisting ? { admitExisting } : {}) };
    sendJson('POST', '/api/hot-folders', order)
      .then(() => {
        change(undefined);
      })
      .catch((error: unknown) => {
        if (error instanceof ApiError && error.code === 'holds-files') setHolds(error.message);
        else tell(error);
      });
  };
  return (
    <Section
      title="Hot folders"
      aside={
        path === undefined && (
          <button
            type="button"
            className="inline-flex items-center gap-1 text-tide hover:underline"
            onClick={() => {
              change('');
            }}
          >
            <Plus size={15} aria-hidden="true" /> Add one
          </button>
        )
      }
    >
      {path !== undefined && (
        <div className="mb-2 flex gap-1">
          <input
            autoFocus
            aria-label="Name or path of the hot folder"
            placeholder="a name, or a full path such as /mnt/prints/in"
            value={path}
            onChange={(event) => {
              change(event.target.value);
            }}
            onKeyDown={(event) => {
              if (event.key === 'Enter') add(false);
              if (event.key === 'Escape') change(undefined);
            }}
            className="h-8 min-w-0 flex-1 rounded border border-rule bg-card px-2"
          />
          <Button
            kind="main"
            onClick={() => {
              add(false);
            }}
          >
            Add
          </Button>
        </div>
      )}
      {holds !== undefined && (
        <div role="alert" className="mb-2 rounded-md border border-wait bg-wait/10 px-3 py-2">
          <p className="break-words">{holds}</p>
          <div className="mt-2 flex gap-2">
            <Button
              onClick={() => {
                add(true);
              }}
            >
              Take them
            </Button>
            <Button
              onClick={() => {
                setHolds(undefined);
              }}
            >
              Choose another folder
            </Button>
          </div>
        </div>
      )}
      {queue.hotFolders.length === 0 && path === undefined && (
        <p className="text-soft">None yet. Files for this queue can be dropped on Intake.</p>
      )}
      {queue.hotFolders.map((folder) => (
        <HotFolderCard key={folder.id} folder={folder} />
      ))}
    </Section>
  );
}

const STATES: Readonly<Record<HotFolderView['state'], string>> = {
  watched: 'watched',
  missing: 'not there',
  paused: 'paused',
};

/** One hot folder: whether it is watched, what came last, and what its files get beside what the queue gives. */
function HotFolderCard({ folder }: { readonly folder: HotFolderView }) {
  const { tell } = useNotice();
  const { data: presets } = usePresets();
  const now = useShopNow(20_000);
  const zone = useZone();
  const [open, setOpen] = useState(false);
  const change = (values: HotFolderChange): void => {
    sendJson('PATCH', `/api/hot-folders/${folder.id}`, values).catch(tell);
  };
  const { state, lastFile, lastMs } = folder;
  const icon = 'rounded p-1 text-soft hover:bg-rule/60 hover:text-ink';
  return (
    <article aria-label={folder.path} className="mb-2 rounded-md border border-rule bg-card px-3 py-2">
      <div className="flex items-start gap-2">
        <button
          type="button"
          aria-expanded={open}
          className="min-w-0 flex-1 text-left"
          onClick={() => {
            setOpen(!open);
          }}
        >
          <span className="block font-medium break-all">{folder.path}</span>
          <span className="dense block text-soft">
            <span
              className={
                state === 'missing'
                  ? 'font-semibold text-stop'
                  : state === 'paused'
                    ? 'font-semibold text-wait'
                    : 'text-go'
              }
            >
              {STATES[state]}
            </span>
            , {number(folder.taken)} taken, {number(folder.refused)} refused
            {lastFile !== null && lastMs !== null
              ? `; last ${lastFile}, ${clockText(lastMs, now ?? lastMs, zone)}`
              : ''}
          </span>
        </button>
        <button
          type="button"
          className={icon}
          aria-label={folder.paused ? 'Go on watching' : 'Pause'}
          title={folder.paused ? 'Go on watching' : 'Pause: files stay where they are'}
          onClick={() => {
            change({ paused: !folder.paused });
          }}
        >
          {folder.paused ? <Play size={16} aria-hidden="true" /> : <Pause size={16} aria-hidden="true" />}
        </button>
        <button
          type="button"
          className={icon}
          aria-label="Stop watching"
          title="Stop watching this folder; its files stay where they are"
          onClick={() => {
            sendJson('DELETE', `/api/hot-folders/${folder.id}`).catch(tell);
          }}
        >
          <X size={16} aria-hidden="true" />
        </button>
      </div>
      {open && (
        <div className="mt-2 border-t border-rule pt-2">
          <Row label="Preset">
            <Select
              label="Preset of the hot folder"
              value={folder.presetId ?? ''}
              choices={[
                { value: '', text: 'none' },
                ...(presets ?? []).map((each) => ({ value: each.id, text: each.name })),
              ]}
              onChange={(value) => {
                change({ presetId: value === '' ? null : value });
              }}
            />
          </Row>
          <Row label="Arrival rule">
            <Select
              label="Arrival rule of the hot folder"
              value={folder.arrivalRule ?? ''}
              choices={[{ value: '', text: 'as the queue has it' }, 'wait', 'prepare', 'go']}
              onChange={(rule) => {
                change({ arrivalRule: rule === '' ? null : rule });
              }}
            />
          </Row>
          <Row label="Subfolders">
            <Select
              label="Subfolders"
              value={folder.subfolders}
              choices={SUBFOLDERS.map((each) => ({
                value: each,
                text: each === 'not looked into' ? each : `carry ${each}`,
              }))}
              onChange={(subfolders) => {
                change({ subfolders });
              }}
            />
          </Row>
          <Row label="A file that was taken is">
            <Select
              label="A file that was taken is"
              value={folder.afterwards}
              choices={['removed', { value: 'kept in done', text: 'kept in the folder done' }]}
              onChange={(afterwards) => {
                change({ afterwards });
              }}
            />
          </Row>
          <PatternField
            value={folder.namePattern}
            onChange={(namePattern) => {
              change({ namePattern });
            }}
          />
        </div>
      )}
    </article>
  );
}
