import { useState } from 'react';
import { useSWRConfig } from 'swr';
import type { QueueChange, QueueView } from '../../../contract/api/ticket.ts';
import { sendJson } from '../../api/client.ts';
import { KEYS } from '../../api/data.ts';
import { useNotice } from '../../app/notice.tsx';
import { TicketForm } from '../../ticket/TicketForm.tsx';
import { ChoiceField, CountField, MmField, YesField } from '../../ticket/fields.tsx';
import { partModel } from '../../ticket/model.ts';
import { Button } from '../../ui/Button.tsx';
import { number } from '../../ui/Figure.tsx';
import { Row, Section } from '../../ui/Sheet.tsx';
import { HotFolders } from './HotFolders.tsx';
import { NameField } from './NameField.tsx';
import { useOwnPart } from './useOwnPart.ts';
import { useSetupPlace } from './usePlace.ts';

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
  const [copyName, setCopyName] = useState<string>();
  const { mutate } = useSWRConfig();
  const send = async (values: QueueChange): Promise<void> => {
    try {
      await sendJson('PATCH', `/api/queues/${queue.id}`, values);
      await mutate(KEYS.queues);
    } catch (error) {
      tell(error);
    }
  };
  const change = (values: QueueChange): void => {
    void send(values);
  };
  const [settings, setSettings] = useOwnPart(queue.settings, (part) => send({ settings: part }));
  const copy = (): void => {
    if (copyName === undefined || copyName.trim() === '') return;
    sendJson<QueueView>('POST', `/api/queues/${queue.id}/copy`, { name: copyName.trim() })
      .then((made) => {
        onOpen(made.id);
      })
      .catch(tell);
  };
  const jobs = queue.waitingJobs;
  return (
    <div>
      <div className="flex items-start justify-between gap-4">
        <div className="min-w-0 flex-1">
          <NameField
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
        {copyName === undefined ? (
          <Button
            onClick={() => {
              setCopyName(`${queue.name} copy`);
            }}
          >
            Copy the queue
          </Button>
        ) : (
          <span className="flex gap-1">
            <input
              autoFocus
              aria-label="Name of the copy"
              value={copyName}
              maxLength={80}
              onChange={(event) => {
                setCopyName(event.target.value);
              }}
              onKeyDown={(event) => {
                if (event.key === 'Enter') copy();
                if (event.key === 'Escape') setCopyName(undefined);
              }}
              className="h-8 rounded border border-rule bg-card px-2"
            />
            <Button kind="main" onClick={copy}>
              Copy
            </Button>
          </span>
        )}
      </div>
      <div className="grid gap-x-10 min-[1150px]:grid-cols-2">
        <div>
          <HotFolders queue={queue} />
          <Section title="When a job arrives">
            <Row label="Arrival rule">
              <ChoiceField
                label="Arrival rule"
                value={queue.arrivalRule}
                wide
                choices={RULES}
                onChange={(value) => {
                  const rule = RULES.find((each) => each.value === value)?.value;
                  if (rule) change({ arrivalRule: rule });
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
              <ChoiceField
                label="Routing"
                value={queue.routing}
                wide
                choices={ROUTINGS}
                onChange={(value) => {
                  const routing = ROUTINGS.find((each) => each.value === value)?.value;
                  if (routing) change({ routing });
                }}
              />
            </Row>
            {place.printer?.config.pool != null && (
              <Row label={`Pool ${place.printer.config.pool}`}>
                <YesField
                  text="any printer of it"
                  value={queue.forPool}
                  onChange={(forPool) => {
                    change({ forPool });
                  }}
                />
              </Row>
            )}
            <Row label="Gap between pieces">
              <MmField
                label="Gap"
                value={queue.gapMm}
                most={500}
                onChange={(mm) => {
                  change({ gapMm: mm ?? 0 });
                }}
              />
            </Row>
          </Section>
          <Checks queue={queue} onChange={change} />
        </div>
        <div>
          <TicketForm model={partModel(settings, ['modeId', 'stockId'], setSettings)} place={place} />
        </div>
      </div>
    </div>
  );
}

function MinutesField({ value, onChange }: { readonly value: number; readonly onChange: (minutes: number) => void }) {
  const choices = [0, 2, 5, 10, 15, 30, 60, 120].map((minutes) => ({
    value: String(minutes),
    text: minutes === 0 ? 'not at all: it goes at once' : `${String(minutes)} min`,
  }));
  return (
    <ChoiceField
      label="Like jobs may join for"
      value={String(value)}
      choices={choices}
      onChange={(text) => {
        onChange(Number(text));
      }}
    />
  );
}

function Checks({ queue, onChange }: { readonly queue: QueueView; readonly onChange: (change: QueueChange) => void }) {
  const { checks } = queue;
  const set = (part: Partial<typeof checks>): void => {
    onChange({ checks: { ...checks, ...part } });
  };
  const dpi = (label: string, value: number, take: (value: number) => void) => (
    <Row label={label}>
      <CountField label={label} value={value} most={2400} onChange={take} /> <span className="text-soft">dpi</span>
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
        <MmField
          label="Bleed wanted"
          value={checks.bleedMm}
          most={100}
          onChange={(mm) => {
            set({ bleedMm: mm ?? 0 });
          }}
        />
      </Row>
      <Row label="Warn of lines under">
        <MmField
          label="Warn of lines under"
          value={checks.thinLineMm}
          most={10}
          onChange={(mm) => {
            set({ thinLineMm: mm ?? 0 });
          }}
        />
      </Row>
      <Row label="Pages expected at most">
        <CountField
          label="Pages expected at most"
          value={checks.mostPages}
          most={2000}
          onChange={(mostPages) => {
            set({ mostPages });
          }}
        />
      </Row>
    </Section>
  );
}
