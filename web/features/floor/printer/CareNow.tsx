import { useState } from 'react';
import type { CareWhatView } from '../../../../contract/api/care.ts';
import { sendJson } from '../../../api/client.ts';
import { type Printer, useDesigns } from '../../../api/data.ts';
import { useNotice } from '../../../app/notice.tsx';
import { durationText } from '../../../../core/units/durationText.ts';
import { clockText, useShopNow, useZone } from '../../../app/shopTime.ts';
import { Button } from '../../../ui/Button.tsx';
import { Select } from '../../../ui/fields/Select.tsx';
import { number } from '../../../ui/text/number.ts';
import { Row, Section } from '../../../ui/Sheet.tsx';
import { Changeable, useMay } from '../../../people/May.tsx';

const MIN = 60_000;
const SOON_MS = 24 * 3_600_000;
const ALL = 'all channels';

/** Care of a printer: what comes within a day, and what a person can start now, each with its ink and minutes. */
export function CareNow({ printer }: { readonly printer: Printer }) {
  const { config, care } = printer;
  const [channelId, setChannelId] = useState<string>(ALL);
  const { data: designs = [] } = useDesigns();
  const { tell, say } = useNotice();
  const nowMs = useShopNow(10_000) ?? 0;
  const zone = useZone();
  const mayCare = useMay('operate');
  const start = (what: CareWhatView, title: string): void => {
    sendJson('POST', '/api/care', { printerId: printer.id, what }).then(() => {
      say(`${title} of ${printer.name}: as soon as it is free`);
    }, tell);
  };
  const cleaned = channelId === ALL ? config.channels : config.channels.filter(({ id }) => id === channelId);
  const heads = (channels: typeof config.channels): number => channels.reduce((sum, each) => sum + each.heads, 0);
  const channelIds = cleaned.map(({ id }) => id);
  const soon = care.filter(({ fromMs }) => fromMs < nowMs + SOON_MS);
  const takes = (minutes: number, ml: number): string => `${durationText(minutes * MIN)}, ${number(ml, 2)} ml`;
  return (
    <Section title="Care">
      {soon.map(({ id, title, fromMs, timerId }, i) => {
        // What is under way stands first.
        const present = i === 0 && printer.state === 'caring';
        return (
          <Row key={id} label={title}>
            <span className="inline-flex items-center gap-1">
              {present ? 'under way' : fromMs <= nowMs ? 'as soon as it is free' : clockText(fromMs, nowMs, zone)}
              {timerId === null && mayCare && (
                <Button
                  kind="quiet"
                  className="!h-7 !px-1.5"
                  aria-label={present ? `Stop the ${title}` : `Take the ${title} out of the line`}
                  onClick={() => {
                    sendJson('POST', `/api/care/${id}/cancel`).catch(tell);
                  }}
                >
                  {present ? 'Stop' : 'Take out'}
                </Button>
              )}
            </span>
          </Row>
        );
      })}
      <Changeable right="operate">
        <Start
          title="Nozzle check"
          takes={takes(config.care.check.minutes, config.care.check.mlPerHead * heads(config.channels))}
          onStart={(title) => {
            start({ kind: 'check' }, title);
          }}
        />
        <div className="mt-1 flex items-center justify-between gap-3">
          <span className="text-soft">Clean</span>
          <Select
            label="Channels to clean"
            value={channelId}
            choices={[ALL, ...config.channels.map(({ id, name }) => ({ value: id, text: name }))]}
            onChange={setChannelId}
          />
        </div>
        {(['light', 'deep'] as const).map((strength) => (
          <Start
            key={strength}
            title={strength === 'light' ? 'Light clean' : 'Deep clean'}
            takes={takes(config.care[strength].minutes, config.care[strength].mlPerHead * heads(cleaned))}
            onStart={(title) => {
              start({ kind: 'clean', strength, channelIds }, title);
            }}
          />
        ))}
        {config.channels.some(({ id }) => id === 'white') && (
          <Start
            title="Stir white"
            takes={durationText(config.care.stirMinutes * MIN)}
            onStart={(title) => {
              start({ kind: 'stir' }, title);
            }}
          />
        )}
        {designs
          .filter(({ printerId }) => printerId === printer.id)
          .map(({ id, name, figures }) => (
            <Start
              key={id}
              title={name}
              takes={takes(
                figures.durationMs / MIN,
                Object.values(figures.inkMl).reduce((sum, ml) => sum + ml, 0),
              )}
              onStart={(title) => {
                start({ kind: 'purge', designId: id }, title);
              }}
            />
          ))}
      </Changeable>
    </Section>
  );
}

function Start({
  title,
  takes,
  onStart,
}: {
  readonly title: string;
  readonly takes: string;
  readonly onStart: (title: string) => void;
}) {
  return (
    <div className="flex items-center justify-between gap-3">
      <Button
        kind="quiet"
        className="!h-7 !px-1.5"
        onClick={() => {
          onStart(title);
        }}
      >
        {title}
      </Button>
      <span className="dense text-soft">{takes}</span>
    </div>
  );
}
