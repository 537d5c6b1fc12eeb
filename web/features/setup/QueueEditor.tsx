import { number } from '../../ui/text/number.ts';
import { useState } from 'react';
import { useSWRConfig } from 'swr';
import type { QueueChange, QueueView } from '../../../contract/api/ticket.ts';
import { sendJson } from '../../api/client.ts';
import { KEYS } from '../../api/data.ts';
import { useNotice } from '../../app/notice.tsx';
import { TicketForm } from '../../ticket/TicketForm.tsx';
import { partModel } from '../../ticket/model.ts';
import { Button } from '../../ui/Button.tsx';
import { Row, Section } from '../../ui/Sheet.tsx';
import { HotFolders } from './HotFolders.tsx';
import { NameInput } from '../../ui/fields/NameInput.tsx';
import { useOwnPart } from './useOwnPart.ts';
import { useSetupPlace } from './usePlace.ts';
import { Checkbox } from '../../ui/fields/Checkbox.tsx';
import { LengthInput } from '../../ui/fields/LengthInput.tsx';
import { NumberInput } from '../../ui/fields/NumberInput.tsx';
import { Select } from '../../ui/fields/Select.tsx';
import { NewName } from '../../ui/fields/NewName.tsx';

const RULES = [
  { value: 'wait', text: 'wait: a person looks first' },
  { value: 'prepare', text: 'prepare: checked, ready to lay out' },
  { value: 'go', text: 'go: laid out and queued by itself' },
] as const;

const ROUTINGS = [
  { value: 'stays', text: 'stays on this printer' },
  { value: 'rules', text: 'by the rules, else it stays' },
  { value: 'best', text: 'to the first of the fit list' },
] as const;

/** A queue: what arriving jobs get, what they are checked for, and where they come from. */
export function QueueEditor({ queue, onOpen }: { readonly queue: QueueView; readonly onOpen: (id: string) => void }) {
  const { tell } = useNotice();
  const place = useSetupPlace(queue.printerId);
  const [copying, setCopying] = useState(false);
  const { mutate } = useSWRConfig();
  const send = async (values: QueueChange): Promise<QueueView | undefined> => {
    try {
      const changed = await sendJson<QueueView>('PATCH', `/api/queues/${queue.id}`, values);
      await mutate(KEYS.queues);
      return changed;
    } catch (error) {
      tell(error);
      return undefined;
    }
  };
  const change = (values: QueueChange): void => {
    void send(values);
  };
  const [settings, setSettings] = useOwnPart(
    queue.settings,
    async (part) => (await send({ settings: part }))?.settings,
  );
  const [checks, setChecks] = useOwnPart(queue.checks, async (part) => (await send({ checks: part }))?.checks);
  const copy = (name: string): void => {
    sendJson<QueueView>('POST', `/api/queues/${queue.id}/copy`, { name })
      .then((made) => {
        onOpen(made.id);
      })
      .catch(tell);
  };
  const jobs = queue.waitingJobs;
  return (
    <div>
      <div className="flex items-start justify-between gap-4 max-phone:flex-col">
        <div className="min-w-0 flex-1">
          <NameInput
            label="Name of the queue"
            value={queue.name}
            onChange={(name) => {
              change({ name });
            }}
          />
          <p className="mt-1 mb-4 px-1 text-soft">
            Feeds {place.printer?.name ?? '…'}. What you change here touches jobs that arrive from now on;{' '}
            {jobs === 0
              ? 'no job is here now'
              : `the ${number(jobs)} that ${jobs === 1 ? 'is' : 'are'} here ${jobs === 1 ? 'keeps its ticket' : 'keep their tickets'}`}
            .
          </p>
        </div>
        {!copying ? (
          <Button
            onClick={() => {
              setCopying(true);
            }}
          >
            Copy the queue
          </Button>
        ) : (
          <NewName
            label="Name of the copy"
            first={`${queue.name} copy`}
            action="Copy"
            onName={copy}
            onCancel={() => {
              setCopying(false);
            }}
          />
        )}
      </div>
      <div className="grid gap-x-10 min-[1150px]:grid-cols-2">
        <div>
          <HotFolders queue={queue} />
          <Section title="When a job arrives">
            <Row label="Arrival rule">
              <Select
                label="Arrival rule"
                value={queue.arrivalRule}
                className="w-full max-w-72"
                choices={RULES}
                onChange={(arrivalRule) => {
                  change({ arrivalRule });
                }}
              />
            </Row>
            {queue.arrivalRule === 'go' && (
              <Row label="Like jobs may join for">
                <MinutesField
                  value={queue.goAfterMin}
                  onChange={(goAfterMin) => {
                    change({ goAfterMin });
                  }}
                />
              </Row>
            )}
            <Row label="Routing">
              <Select
                label="Routing"
                value={queue.routing}
                className="w-full max-w-72"
                choices={ROUTINGS}
                onChange={(routing) => {
                  change({ routing });
                }}
              />
            </Row>
            {place.printer?.config.pool != null && (
              <Row label={`Pool ${place.printer.config.pool}`}>
                <Checkbox
                  text="any printer of it"
                  value={queue.forPool}
                  onChange={(forPool) => {
                    change({ forPool });
                  }}
                />
              </Row>
            )}
            <Row label="Gap between pieces">
              <LengthInput
                label="Gap"
                valueMm={queue.gapMm}
                mostMm={500}
                onChange={(mm) => {
                  change({ gapMm: mm ?? 0 });
                }}
              />
            </Row>
          </Section>
          <Checks checks={checks} onChange={setChecks} />
        </div>
        <div>
          <TicketForm model={partModel(settings, ['modeId', 'stockId'], setSettings)} place={place} />
        </div>
      </div>
    </div>
  );
}

/** How long a run that goes by itself waits for like jobs. */
function MinutesField({ value, onChange }: { readonly value: number; readonly onChange: (minutes: number) => void }) {
  const choices = [0, 2, 5, 10, 15, 30, 60, 120].map((minutes) => ({
    value: String(minutes),
    text: minutes === 0 ? 'not at all: it goes at once' : `${String(minutes)} min`,
  }));
  return (
    <Select
      label="Like jobs may join for"
      value={String(value)}
      choices={choices}
      onChange={(text) => {
        onChange(Number(text));
      }}
    />
  );
}

/** What the first look holds against a file that comes in here. A finding never changes the file. */
function Checks({
  checks,
  onChange,
}: {
  readonly checks: QueueView['checks'];
  readonly onChange: (checks: QueueView['checks']) => void;
}) {
  const set = (part: Partial<typeof checks>): void => {
    onChange({ ...checks, ...part });
  };
  const dpi = (label: string, value: number, take: (value: number) => void) => (
    <Row label={label}>
      <NumberInput label={label} value={value} unit="dpi" whole least={1} most={2400} onChange={take} />
    </Row>
  );
  return (
    <Section title="Checks">
      {dpi('Warn below', checks.warnBelowDpi, (warnBelowDpi) => {
        set({ warnBelowDpi });
      })}
      {dpi('Note below', checks.noteBelowDpi, (noteBelowDpi) => {
        set({ noteBelowDpi });
      })}
      <Row label="Bleed wanted">
        <LengthInput
          label="Bleed wanted"
          valueMm={checks.bleedMm}
          mostMm={100}
          onChange={(mm) => {
            set({ bleedMm: mm ?? 0 });
          }}
        />
      </Row>
      <Row label="Warn of lines under">
        <LengthInput
          label="Warn of lines under"
          valueMm={checks.thinLineMm}
          mostMm={10}
          onChange={(mm) => {
            set({ thinLineMm: mm ?? 0 });
          }}
        />
      </Row>
      <Row label="Pages expected at most">
        <NumberInput
          label="Pages expected at most"
          value={checks.mostPages}
          whole
          least={1}
          most={2000}
          onChange={(mostPages) => {
            set({ mostPages });
          }}
        />
      </Row>
    </Section>
  );
}
