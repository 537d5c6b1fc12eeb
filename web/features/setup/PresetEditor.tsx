import { useSWRConfig } from 'swr';
import type { PresetChange, PresetView } from '../../../contract/api/ticket.ts';
import { sendJson } from '../../api/client.ts';
import { KEYS } from '../../api/data.ts';
import { useNotice } from '../../app/notice.tsx';
import { TicketForm } from '../../ticket/TicketForm.tsx';
import { partModel } from '../../ticket/model.ts';
import { Button } from '../../ui/Button.tsx';
import { NameInput } from '../../ui/fields/NameInput.tsx';
import { useOwnPart } from './useOwnPart.ts';
import { useSetupPlace } from './usePlace.ts';

/** A preset: the settings that it names; all others are left to the queue. */
export function PresetEditor({
  preset,
  onOpen,
}: {
  readonly preset: PresetView;
  readonly onOpen: (id: string | null) => void;
}) {
  const { tell } = useNotice();
  const place = useSetupPlace(undefined);
  const { mutate } = useSWRConfig();
  const send = async (values: PresetChange): Promise<PresetView | undefined> => {
    try {
      const changed = await sendJson<PresetView>('PATCH', `/api/presets/${preset.id}`, values);
      await mutate(KEYS.presets);
      return changed;
    } catch (error) {
      tell(error);
      return undefined;
    }
  };
  const [settings, setSettings] = useOwnPart(
    preset.settings,
    async (part) => (await send({ settings: part }))?.settings,
  );
  const named = Object.keys(settings).length;
  return (
    <div className="max-w-xl">
      <NameInput
        label="Name of the preset"
        value={preset.name}
        onChange={(name) => {
          void send({ name });
        }}
      />
      <p className="mt-1 mb-4 px-1 text-soft">
        Names {named} {named === 1 ? 'setting' : 'settings'}; what is left open comes from the queue. Changes count for
        jobs that get it from now on:{' '}
        {preset.usedBy.jobs === 0
          ? 'no job carries it'
          : `the ${String(preset.usedBy.jobs)} that carry it keep what they have`}
        .
      </p>
      <div className="mb-4 flex flex-wrap gap-2">
        <Button
          onClick={() => {
            sendJson<PresetView>('POST', `/api/presets/${preset.id}/copy`)
              .then((copy) => {
                onOpen(copy.id);
              })
              .catch(tell);
          }}
        >
          Copy
        </Button>
        <a
          href={`/api/presets/export?id=${preset.id}`}
          className="inline-flex h-8 items-center rounded-md border border-rule bg-card px-3 font-medium hover:border-soft"
        >
          Export
        </a>
        <Button
          kind="danger"
          onClick={() => {
            sendJson('DELETE', `/api/presets/${preset.id}`)
              .then(() => {
                onOpen(null);
              })
              .catch(tell);
          }}
        >
          Delete
        </Button>
      </div>
      <TicketForm model={partModel(settings, [], setSettings)} place={place} />
    </div>
  );
}
