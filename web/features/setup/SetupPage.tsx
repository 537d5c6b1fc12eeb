import { Layers3, ListTree, Plus, Ruler, Upload } from 'lucide-react';
import { useRef, type ReactNode } from 'react';
import { useSearchParams } from 'react-router';
import type { PresetView, QueueView } from '../../../contract/api/ticket.ts';
import { sendJson } from '../../api/client.ts';
import { usePresets, useQueues, useSizes } from '../../api/data.ts';
import { useNotice } from '../../app/notice.tsx';
import { PresetEditor } from './PresetEditor.tsx';
import { QueueEditor } from './QueueEditor.tsx';
import { SizesEditor } from './SizesEditor.tsx';

/** Queues with their hot folders, presets and named sizes: what arriving jobs are given. */
export function SetupPage() {
  const [params, setParams] = useSearchParams();
  const { data: queues = [] } = useQueues();
  const { data: presets = [] } = usePresets();
  const { data: own = [] } = useSizes();
  const { tell } = useNotice();
  const presetId = params.get('preset');
  const preset = presets.find((each) => each.id === presetId);
  const sizes = params.has('sizes');
  const queue = queues.find((each) => each.id === params.get('queue')) ?? (preset || sizes ? undefined : queues[0]);
  const go = (to: Record<string, string>): void => {
    setParams(to, { replace: true });
  };
  const make = (): void => {
    const taken = new Set(presets.map((each) => each.name));
    const name = ['New preset', ...Array.from({ length: 99 }, (_, i) => `New preset ${String(i + 2)}`)].find(
      (each) => !taken.has(each),
    );
    sendJson<PresetView>('POST', '/api/presets', { name, settings: {} })
      .then((made) => {
        go({ preset: made.id });
      })
      .catch(tell);
  };
  return (
    <div className="flex h-full min-h-0">
      <nav aria-label="What is set up" className="w-60 shrink-0 overflow-y-auto border-r border-rule px-3 py-3">
        <h1 className="mb-3 px-2 text-lg font-semibold">Setup</h1>
        <Heading icon={<ListTree size={16} aria-hidden="true" />}>Queues</Heading>
        {queues.map((each) => (
          <Entry
            key={each.id}
            on={each.id === queue?.id}
            onClick={() => {
              go({ queue: each.id });
            }}
            more={folderText(each)}
          >
            {each.name}
          </Entry>
        ))}
        <Heading icon={<Layers3 size={16} aria-hidden="true" />}>Presets</Heading>
        {presets.map((each) => (
          <Entry
            key={each.id}
            on={each.id === preset?.id}
            onClick={() => {
              go({ preset: each.id });
            }}
            more={usedText(each)}
          >
            {each.name}
          </Entry>
        ))}
        <div className="mt-1 flex flex-wrap gap-1 px-1">
          <button
            type="button"
            className="inline-flex items-center gap-1 rounded px-1 py-1 text-tide hover:bg-rule/50"
            onClick={make}
          >
            <Plus size={15} aria-hidden="true" /> New
          </button>
          <ImportButton />
          <a
            href="/api/presets/export"
            className="inline-flex items-center rounded px-1 py-1 text-tide hover:bg-rule/50"
          >
            Export all
          </a>
        </div>
        <Heading icon={<Ruler size={16} aria-hidden="true" />}>Sizes</Heading>
        <Entry
          on={sizes}
          onClick={() => {
            go({ sizes: '' });
          }}
          more={own.length === 0 ? 'ISO and ANSI' : `ISO, ANSI and ${String(own.length)} of your own`}
        >
          Named sizes
        </Entry>
      </nav>
      <div className="min-h-0 min-w-0 flex-1 overflow-y-auto px-6 py-4">
        {sizes ? (
          <SizesEditor />
        ) : preset ? (
          <PresetEditor
            key={preset.id}
            preset={preset}
            onOpen={(id) => {
              go(id === null ? {} : { preset: id });
            }}
          />
        ) : queue ? (
          <QueueEditor
            key={queue.id}
            queue={queue}
            onOpen={(id) => {
              go({ queue: id });
            }}
          />
        ) : (
          <p className="text-soft">Reading…</p>
        )}
      </div>
    </div>
  );
}

function folderText(queue: QueueView): string {
  const n = queue.hotFolders.length;
  return n === 0 ? 'no hot folder' : n === 1 ? '1 hot folder' : `${String(n)} hot folders`;
}

function usedText({ usedBy }: PresetView): string {
  const jobs = usedBy.jobs === 0 ? '' : `${String(usedBy.jobs)} ${usedBy.jobs === 1 ? 'job' : 'jobs'}`;
  const folders = usedBy.hotFolders === 0 ? '' : `${String(usedBy.hotFolders)} hot folders`;
  return [jobs, folders].filter(Boolean).join(', ') || 'not in use';
}

function Heading({ icon, children }: { readonly icon: ReactNode; readonly children: ReactNode }) {
  return (
    <h2 className="mt-3 mb-1 flex items-center gap-2 px-2 font-semibold">
      <span className="text-soft">{icon}</span>
      {children}
    </h2>
  );
}

function Entry({
  on,
  onClick,
  more,
  children,
}: {
  readonly on: boolean;
  readonly onClick: () => void;
  readonly more: string;
  readonly children: ReactNode;
}) {
  return (
    <button
      type="button"
      aria-current={on ? 'page' : undefined}
      onClick={onClick}
      className={`block w-full rounded-md border px-2 py-1 text-left ${on ? 'border-ink bg-spool text-on-spool' : 'border-transparent hover:bg-rule/40'}`}
    >
      <span className="block truncate font-medium">{children}</span>
      <span className={`dense block truncate ${on ? '' : 'text-soft'}`}>{more}</span>
    </button>
  );
}

function ImportButton() {
  const input = useRef<HTMLInputElement>(null);
  const { tell, say } = useNotice();
  const take = async (file: File | undefined): Promise<void> => {
    if (!file) return;
    try {
      const { ids } = await sendJson<{ ids: string[] }>('POST', '/api/presets/import', JSON.parse(await file.text()));
      say(`${String(ids.length)} ${ids.length === 1 ? 'preset' : 'presets'} taken in`);
    } catch (error) {
      tell(error instanceof SyntaxError ? new Error(`${file.name} is no JSON: nothing was taken in.`) : error);
    }
  };
  return (
    <>
      <button
        type="button"
        className="inline-flex items-center gap-1 rounded px-1 py-1 text-tide hover:bg-rule/50"
        onClick={() => input.current?.click()}
      >
        <Upload size={15} aria-hidden="true" /> Import
      </button>
      <input
        ref={input}
        type="file"
        hidden
        accept=".json"
        aria-label="Presets to import"
        onChange={(event) => {
          void take(event.target.files?.[0]);
          event.target.value = '';
        }}
      />
    </>
  );
}
