import { useState } from 'react';
import type { JobChange, PresetView, TicketPartView } from '../../../../contract/api/ticket.ts';
import { sendJson } from '../../../api/client.ts';
import { usePresets } from '../../../api/data.ts';
import { useNotice } from '../../../app/notice.tsx';
import { Button } from '../../../ui/Button.tsx';
import { NewName } from '../../../ui/fields/NewName.tsx';
import { Select } from '../../../ui/fields/Select.tsx';

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
  const [naming, setNaming] = useState(false);
  const save = (name: string): void => {
    sendJson<PresetView>('POST', '/api/presets', { name, settings: toSave })
      .then(() => {
        setNaming(false);
      })
      .catch(tell);
  };
  const gone = preset && presets && !presets.some((each) => each.id === preset.id);
  return (
    <div className="mb-3 border-b border-rule pb-3">
      <div className="flex items-center gap-2">
        <span className="w-[92px] text-soft">Preset</span>
        <Select
          label="Preset"
          value={preset === undefined ? undefined : (preset?.id ?? '')}
          choices={[
            { value: '', text: 'none' },
            ...(gone ? [{ value: preset.id, text: `${preset.name} (deleted since)` }] : []),
            ...(presets ?? []).map((each) => ({ value: each.id, text: each.name })),
          ]}
          className="min-w-0 flex-1"
          onChange={(id) => {
            onChange({ presetId: id === '' ? null : id });
          }}
        />
        {changed && <span className="dense rounded border border-ink bg-spool px-1.5 text-on-spool">changed here</span>}
        {toSave && !naming && (
          <Button
            kind="quiet"
            onClick={() => {
              setNaming(true);
            }}
          >
            Save as preset
          </Button>
        )}
      </div>
      {naming && toSave && (
        <div className="mt-2 ml-[100px]">
          <NewName
            label="Name of the preset"
            action={`Save ${String(Object.keys(toSave).length)} settings`}
            onName={save}
            onCancel={() => {
              setNaming(false);
            }}
          />
        </div>
      )}
    </div>
  );
}
