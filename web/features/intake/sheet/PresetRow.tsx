import { useState } from 'react';
import type { JobChange, PresetView, TicketPartView } from '../../../../contract/api/ticket.ts';
import { sendJson } from '../../../api/client.ts';
import { usePresets } from '../../../api/data.ts';
import { useNotice } from '../../../app/notice.tsx';
import { Button } from '../../../ui/Button.tsx';

interface PresetRowProps {
  /** Undefined: mixed. */
  readonly preset: { readonly id: string; readonly name: string } | null | undefined;
  readonly changed: boolean;
  /** What "save as preset" would keep; undefined where there is nothing. */
  readonly toSave: TicketPartView | undefined;
  readonly onChange: (change: JobChange) => void;
}

/** Which preset a ticket carries, whether it is changed here, and the way to keep these settings as a new one. */
export function PresetRow({ preset, changed, toSave, onChange }: PresetRowProps) {
  const { data: presets } = usePresets();
  const { tell } = useNotice();
  const [name, setName] = useState<string>();
  const save = (): void => {
    if (name === undefined || name.trim() === '' || !toSave) return;
    sendJson<PresetView>('POST', '/api/presets', { name: name.trim(), settings: toSave })
      .then(() => {
        setName(undefined);
      })
      .catch(tell);
  };
  const gone = preset && presets && !presets.some((each) => each.id === preset.id);
  return (
    <div className="mb-3 border-b border-rule pb-3">
      <div className="flex items-center gap-2">
        <span className="w-[92px] text-soft">Preset</span>
        <select
          aria-label="Preset"
          value={preset === undefined ? 'mixed' : (preset?.id ?? '')}
          onChange={(event) => {
            onChange({ presetId: event.target.value === '' ? null : event.target.value });
          }}
          className="h-7 min-w-0 flex-1 rounded border border-rule bg-card px-1"
        >
          {preset === undefined && (
            <option value="mixed" disabled>
              mixed
            </option>
          )}
          <option value="">none</option>
          {gone && <option value={preset.id}>{preset.name} (deleted since)</option>}
          {(presets ?? []).map((each) => (
            <option key={each.id} value={each.id}>
              {each.name}
            </option>
          ))}
        </select>
        {changed && <span className="dense rounded border border-ink bg-spool px-1.5 text-on-spool">changed here</span>}
        {toSave && name === undefined && (
          <Button
            kind="quiet"
            onClick={() => {
              setName('');
            }}
          >
            Save as preset
          </Button>
        )}
      </div>
      {name !== undefined && (
        <div className="mt-2 ml-[100px] flex gap-1">
          <input
            autoFocus
            aria-label="Name of the preset"
            placeholder="Name of the preset"
            value={name}
            maxLength={80}
            onChange={(event) => {
              setName(event.target.value);
            }}
            onKeyDown={(event) => {
              if (event.key === 'Enter') save();
              if (event.key === 'Escape') setName(undefined);
            }}
            className="h-8 min-w-0 flex-1 rounded border border-rule bg-card px-2"
          />
          <Button kind="main" disabled={name.trim() === ''} onClick={save}>
            Save {Object.keys(toSave ?? {}).length} settings
          </Button>
        </div>
      )}
    </div>
  );
}
