import { useState } from 'react';
import { Link } from 'react-router';
import { sendJson } from '../../api/client.ts';
import { useNotice } from '../../app/notice.tsx';
import { clockText, useShopNow, useZone } from '../../app/shopTime.ts';
import { moneyText } from '../../draw/money.ts';
import { StateShape } from '../../draw/StateShape.tsx';
import { Button } from '../../ui/Button.tsx';
import { Select } from '../../ui/fields/Select.tsx';
import { number } from '../../ui/text/number.ts';
import { Row, Section, Sheet } from '../../ui/Sheet.tsx';
import { AdviceSection } from './AdviceSection.tsx';
import { ClogChart } from './ClogChart.tsx';
import { countsText } from './Comb.tsx';
import { FeedSection } from './FeedSection.tsx';
import { HeadHistory } from './HeadHistory.tsx';
import type { Check, Heads } from './useHeads.ts';
import { May } from '../../people/May.tsx';

interface SheetActs {
  readonly onRead: (checkId: string | null) => void;
  readonly onCompare: (checkId: string) => void;
}

/** A printer's heads: its check, what to do, which modes it is fit for, how it clogs, its checks and what care has cost. */
export function HeadSheet({
  heads,
  onClose,
  onRead,
  onCompare,
}: { readonly heads: Heads; readonly onClose: () => void } & SheetActs) {
  return (
    <Sheet title={heads.name} under={<p className="text-soft">{heads.form}</p>} onClose={onClose} wide>
      <CheckSection heads={heads} onRead={onRead} />
      {heads.advice && <AdviceSection heads={heads} advice={heads.advice} />}
      <FitSection heads={heads} />
      <ClogSection heads={heads} />
      <ChecksSection heads={heads} onRead={onRead} onCompare={onCompare} />
      <FeedSection heads={heads} />
      <CareInk heads={heads} />
    </Sheet>
  );
}

function CheckSection({ heads, onRead }: { readonly heads: Heads; readonly onRead: SheetActs['onRead'] }) {
  const { tell, say } = useNotice();
  const waits = heads.checkToRead;
  return (
    <Section title="Check">
      {waits !== null && (
        <>
          <p className="mb-2 flex items-center gap-1.5 text-wait">
            <StateShape shape="waiting" /> A check plot is printed and waits to be read.
          </p>
          <May right="operate">
            <Button
              kind="main"
              className="mb-2 w-full"
              onClick={() => {
                onRead(waits);
              }}
            >
              Read the check plot
            </Button>
          </May>
        </>
      )}
      <May right="operate">
        <div className="flex flex-wrap gap-2">
          <Button
            kind={waits === null ? 'main' : 'plain'}
            onClick={() => {
              sendJson('POST', '/api/care', { printerId: heads.printerId, what: { kind: 'check' } }).then(() => {
                say(`Nozzle check of ${heads.name}: as soon as it is free`);
              }, tell);
            }}
          >
            Print a check
          </Button>
          <Button
            kind="quiet"
            onClick={() => {
              onRead(null);
            }}
          >
            Read another plot
          </Button>
        </div>
      </May>
      <p className="dense mt-2 text-soft">
        {heads.readsChecks
          ? `${heads.name} reads its plots itself; a person can put that right.`
          : 'Read by eye, or from a picture: a scan or a photo.'}{' '}
        <a className="text-tide underline" href={`/api/printers/${heads.printerId}/check-plot.pdf`}>
          The plot as PDF
        </a>
      </p>
    </Section>
  );
}

function FitSection({ heads }: { readonly heads: Heads }) {
  const ink = (id: string): string => heads.channels.find((each) => each.id === id)?.name ?? id;
  return (
    <Section title="Fit for">
      {heads.modes.map(({ id, name, unfit, banding }) => (
        <div key={id} className="mb-1.5 flex gap-1.5">
          <span className="mt-0.5">
            <StateShape shape={unfit.length > 0 ? 'fault' : 'done'} />
          </span>
          <div>
            {name}
            {unfit.length === 0 && (
              <span className="text-soft">
                {' '}
                {banding.length > 0 ? `fit; mild banding of ${banding.map(ink).join(', ')} is normal` : 'fit'}
              </span>
            )}
            {unfit.map(({ channelId, text }) => (
              <p key={channelId} className="dense text-soft">
                {ink(channelId)}: {text}
              </p>
            ))}
          </div>
        </div>
      ))}
    </Section>
  );
}

function ClogSection({ heads }: { readonly heads: Heads }) {
  const worst = [...heads.channels].sort((a, b) => b.rate.clogs - a.rate.clogs || b.rate.mean - a.rate.mean)[0];
  const [channelId, setChannelId] = useState(worst?.id ?? '');
  const channel = heads.channels.find(({ id }) => id === channelId) ?? worst;
  if (!channel) return null;
  const { rate } = channel;
  return (
    <Section
      title="Clogs by idle hours"
      aside={
        <Select
          label="Channel of the curve"
          value={channel.id}
          choices={heads.channels.map(({ id, name }) => ({ value: id, text: name }))}
          className="w-32"
          onChange={setChannelId}
        />
      }
    >
      {worst && worst.rate.clogs > 0 && (
        <p className="mb-1">
          {worst.name} clogs most: {number(worst.rate.clogs)} {worst.rate.clogs === 1 ? 'nozzle' : 'nozzles'} between
          checks so far.
        </p>
      )}
      <ClogChart printerId={heads.printerId} channel={channel} />
      <HeadHistory heads={heads} channel={channel} />
      <p className="mb-2">
        <Link to={`/story/head/${heads.printerId}-${channel.id}`} className="text-tide underline">
          The story of {channel.name}
        </Link>
      </p>
      <Firings channel={channel} />
      <Row label="A nozzle has clogged">
        {chanceText(channel.clogChance)} by now, {chanceText(channel.clogChanceByMorning)} by morning
      </Row>
      <Row label="Clog rate">
        {number(rate.mean * 1000, 1)}{' '}
        <span className="text-soft">
          ‰, {number(rate.low * 1000, 1)} to {number(rate.high * 1000, 1)}
        </span>
      </Row>
      <Row label="Grows with">
        {rate.form === 'cubic'
          ? 'the cube of idle time beyond half the limit'
          : rate.form === 'linear'
            ? 'all idle time, as this log says'
            : 'idle time beyond half the limit, as this log says'}
      </Row>
    </Section>
  );
}

function chanceText(chance: number | null): string {
  return chance === null ? 'not known' : `${number(chance * 100)} %`;
}

/** When the channel has fired last, for what, and how much. */
function Firings({ channel: { firings } }: { readonly channel: Heads['channels'][number] }) {
  const nowMs = useShopNow(30_000) ?? 0;
  const zone = useZone();
  return firings.map(({ toMs, ml, purpose }, i) => (
    <Row key={`${String(toMs)} ${purpose}`} label={i === 0 ? 'Fired last' : 'Before'}>
      {clockText(toMs, nowMs, zone)}, {purpose}, {number(ml, 2)} ml
    </Row>
  ));
}

const READ_BY = { device: 'by the printer', eye: 'by eye', photo: 'from a picture' } as const;

function ChecksSection({ heads, onRead, onCompare }: { readonly heads: Heads } & SheetActs) {
  const nowMs = useShopNow(30_000) ?? 0;
  const zone = useZone();
  const read = heads.checks.filter(({ readMs }) => readMs !== null);
  return (
    <Section title="Checks">
      {heads.checks.length === 0 && <p className="text-soft">None yet. Print one to see what its nozzles are like.</p>}
      {heads.checks.map((check) => {
        const older = read.some(({ printedMs }) => printedMs < check.printedMs);
        return (
          <div key={check.id} className="mb-2">
            <Row label={clockText(check.printedMs, nowMs, zone)}>
              {check.readMs === null ? 'not read' : foundText(check)}
            </Row>
            <div className="dense flex items-baseline justify-between gap-2 text-soft">
              <span>
                {check.by === null ? '' : `${READ_BY[check.by]}${check.by === 'device' ? '' : `, ${check.who ?? ''}`}`}
              </span>
              <span className="flex gap-3">
                {check.readMs !== null && older && (
                  <TextButton
                    text="Compare with the one before"
                    onClick={() => {
                      onCompare(check.id);
                    }}
                  />
                )}
                <May right="operate">
                  <TextButton
                    text={check.readMs === null ? 'Read' : 'Put right'}
                    onClick={() => {
                      onRead(check.id);
                    }}
                  />
                </May>
              </span>
            </div>
          </div>
        );
      })}
    </Section>
  );
}

function TextButton({ text, onClick }: { readonly text: string; readonly onClick: () => void }) {
  return (
    <button type="button" className="text-tide underline underline-offset-2" onClick={onClick}>
      {text}
    </button>
  );
}

/** What a check found, over all its channels. */
export function foundText({ found }: Pick<Check, 'found'>): string {
  const counts = { missing: 0, weak: 0, crooked: 0 };
  for (const { missing, weak, crooked } of Object.values(found ?? {})) {
    counts.missing += missing.length;
    counts.weak += weak.length;
    counts.crooked += crooked.length;
  }
  return countsText(counts);
}

function CareInk({ heads }: { readonly heads: Heads }) {
  const most = Math.max(...heads.careInk.map(({ costMinor }) => costMinor), 1);
  return (
    <Section title="Ink spent on care">
      {heads.careInk.length === 0 && <p className="text-soft">None so far.</p>}
      <May right="coordinate">
        <Link className="dense mb-1 block text-tide underline" to="/rota?design=new">
          Design a purge
        </Link>
      </May>
      {heads.careInk.map(({ month, ml, costMinor }) => (
        <div key={month} className="dense flex items-center gap-2 py-0.5">
          <span className="w-16 shrink-0 text-soft">{month}</span>
          <span className="flex h-3 min-w-0 flex-1">
            {heads.channels.map(({ id, colour, pricePerMlMicro }) => (
              <span
                key={id}
                style={{
                  width: `${String((100 * (ml[id] ?? 0) * pricePerMlMicro) / 10_000 / most)}%`,
                  background: colour,
                }}
                className="border-y border-soft/40 first:border-l last:border-r"
              />
            ))}
          </span>
          <span className="w-28 shrink-0 text-right">
            {number(
              Object.values(ml).reduce((sum, each) => sum + each, 0),
              1,
            )}{' '}
            ml, {moneyText(costMinor, heads.currency)}
          </span>
        </div>
      ))}
    </Section>
  );
}
