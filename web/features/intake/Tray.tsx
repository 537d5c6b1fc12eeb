import { number } from '../../ui/text/number.ts';
import { useState } from 'react';
import { usePresets, type Queue } from '../../api/data.ts';
import { Button } from '../../ui/Button.tsx';

/** Files that were laid down: which preset they get, and what becomes of them. */
export function Tray({
  files,
  queue,
  onBringIn,
  onClear,
}: {
  readonly files: readonly File[];
  readonly queue: Queue;
  readonly onBringIn: (presetId: string | null, send: boolean) => void;
  readonly onClear: () => void;
}) {
  const { data: presets } = usePresets();
  const [presetId, setPresetId] = useState<string | null>(null);
  const bytes = files.reduce((sum, file) => sum + file.size, 0);
  const names = files.slice(0, 3).map((file) => file.name);
  return (
    <section
      aria-label="Files laid down"
      className="flex flex-wrap items-center gap-x-4 gap-y-2 border-b border-rule bg-card px-5 py-3"
    >
      <span className="min-w-0">
        <span className="font-semibold">
          {number(files.length)} {files.length === 1 ? 'file' : 'files'}
        </span>
        <span className="text-soft">
          , {bytes < 1e5 ? `${number(Math.max(1, bytes / 1e3))} kB` : `${number(bytes / 1e6, 1)} MB`}:{' '}
          {names.join(', ')}
          {files.length > 3 ? ` and ${number(files.length - 3)} more` : ''}
        </span>
      </span>
      <span className="flex flex-wrap items-center gap-1" role="group" aria-label="Preset for these files">
        {[{ id: null, name: `as ${queue.name} gives` }, ...(presets ?? [])].map((preset) => (
          <button
            key={preset.id ?? 'none'}
            type="button"
            aria-pressed={preset.id === presetId}
            className="rounded-md border border-rule bg-card px-2.5 py-1 hover:border-soft aria-pressed:border-ink aria-pressed:bg-spool aria-pressed:font-medium aria-pressed:text-on-spool"
            onClick={() => {
              setPresetId(preset.id);
            }}
          >
            {preset.name}
          </button>
        ))}
      </span>
      <span className="ml-auto flex gap-2">
        <Button kind="quiet" onClick={onClear}>
          Discard
        </Button>
        <Button
          onClick={() => {
            onBringIn(presetId, false);
          }}
        >
          Add
        </Button>
        <Button
          kind="main"
          title="Lays them out and queues the run at once"
          onClick={() => {
            onBringIn(presetId, true);
          }}
        >
          Add and queue
        </Button>
      </span>
    </section>
  );
}
