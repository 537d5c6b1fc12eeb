import { PageError } from '../../ui/PageError.tsx';
import { CalendarClock, Download, Droplets, TriangleAlert } from 'lucide-react';
import { format } from 'date-fns';
import { useContext, useState } from 'react';
import type { RotaView } from '../../../contract/api/care.ts';
import { useSearchParams } from 'react-router';

import { errorText } from '../../api/client.ts';
import { ShopTimeContext, dateText, shopNow, timeText, useShopNow, useZone } from '../../app/shopTime.ts';
import { moneyText } from '../../draw/money.ts';
import { counted } from '../../ui/text/counted.ts';
import { Button } from '../../ui/Button.tsx';
import { ChoiceBar, StepButton } from '../../ui/time/ChoiceBar.tsx';
import { number } from '../../ui/text/number.ts';
import { AwayBand } from './AwayBand.tsx';
import { ItemSheet } from './ItemSheet.tsx';
import { ProposalSheet } from './ProposalSheet.tsx';
import { PurgeSheet } from './purge/PurgeSheet.tsx';
import { RuleSheet } from './timers/RuleSheet.tsx';
import { RotaStrips } from './RotaStrips.tsx';
import { TimerList } from './timers/TimerList.tsx';
import { TimerSheet } from './timers/TimerSheet.tsx';
import { SPANS, type RotaSpan, rotaSpan } from './rotaTime.ts';
import { useMoves } from './useMoves.ts';
import { useRota } from './useRota.ts';
import { May } from '../../people/May.tsx';

/** What will happen by itself: a day, a week or a month by printer, and the timers that bring it. */
export function RotaPage() {
  const time = useContext(ShopTimeContext);
  return time ? <RotaAt now={() => shopNow(time)} /> : null;
}

function RotaAt({ now }: { readonly now: () => number }) {
  const nowMs = useShopNow(10_000) ?? now();
  const zone = useZone();
  const [params, setParams] = useSearchParams();
  const [offset, setOffset] = useState(0);
  const shown = SPANS.find((each) => each === params.get('span')) ?? 'week';
  const span = rotaSpan(shown, nowMs, offset, zone);
  const { data: rota, error } = useRota(span.fromMs, span.toMs);
  const open = (change: Readonly<Record<string, string>>): void => {
    setParams({ ...(shown === 'week' ? {} : { span: shown }), ...change }, { replace: true });
  };
  const close = (): void => {
    open({});
  };
  const itemId = params.get('item');
  const moves = useMoves(span, nowMs, zone, (before, id) => {
    if (itemId === before) open({ item: id });
  });
  const items = rota?.printers.flatMap((printer) => printer.items.map((item) => ({ printer, item }))) ?? [];
  const chosen = items.find(({ item }) => item.id === itemId);
  const conflicts = items.filter(({ item }) => item.outcome === 'conflict');
  const timerId = params.get('timer');
  const designId = params.get('design');
  const ruleId = params.get('rule');
  const proposing = params.has('propose');
  if (error) return <PageError>{errorText(error)}</PageError>;
  return (
    <div className="flex h-full min-h-0">
      <section className="flex min-w-0 flex-1 flex-col">
        <header className="flex flex-wrap items-center gap-x-3 gap-y-2 px-5 pt-3 pb-2.5">
          <h1 className="mr-2 text-lg font-semibold">Rota</h1>
          <ChoiceBar
            label="Time shown"
            choices={SPANS}
            chosen={shown}
            onChoose={(next) => {
              setOffset(0);
              setParams(next === 'week' ? {} : { span: next }, { replace: true });
            }}
          />
          <div className="flex items-center gap-1">
            <StepButton
              label="Earlier"
              onClick={() => {
                setOffset((before) => before - 1);
              }}
            />
            <StepButton
              label="Later"
              onClick={() => {
                setOffset((before) => before + 1);
              }}
            />
            <span className="dense ml-1 text-soft">{spanText(span, zone)}</span>
          </div>
          <span className="flex-1" />
          <May right="coordinate">
            <Button
              onClick={() => {
                open({ design: 'new' });
              }}
            >
              <Droplets size={16} aria-hidden="true" /> Design a purge
            </Button>
            <Button
              kind="main"
              onClick={() => {
                open({ timer: 'new' });
              }}
            >
              <CalendarClock size={16} aria-hidden="true" /> New timer
            </Button>
          </May>
        </header>
        {conflicts.length > 0 && (
          <p className="flex items-center gap-2 px-5 pb-2 text-stop">
            <TriangleAlert size={16} aria-hidden="true" />
            <button
              type="button"
              className="underline"
              onClick={() => {
                open({ item: conflicts[0]?.item.id ?? '' });
              }}
            >
              {counted(conflicts.length, 'conflict')}
            </button>
            <span className="min-w-0 truncate">
              {conflicts[0]?.printer.name}: {conflicts[0]?.item.title}, {conflicts[0]?.item.why}
            </span>
          </p>
        )}
        <div className="min-h-0 flex-1 overflow-y-auto">
          <DayRuler span={span} zone={zone} />
          <AwayBand span={span} nowMs={nowMs} zone={zone} />
          <RotaStrips
            rota={rota}
            span={span}
            nowMs={nowMs}
            zone={zone}
            chosenId={itemId}
            moves={moves}
            onChoose={(item) => {
              open({ item: item.id });
            }}
          />
          {rota && (
            <p className="dense flex items-baseline justify-between gap-3 px-5 py-2 text-soft">
              <span aria-live="polite">
                {moves.pending ? (
                  <strong className="font-semibold text-ink">
                    {moves.text}. Enter keeps it, Escape leaves it as it was.
                  </strong>
                ) : (
                  'Plain: somebody is there. Hatched: nobody. Drag what is planned to another time, or move it with Shift and an arrow.'
                )}{' '}
                {rota.saved.filter(({ inkMl }) => inkMl > 0).map(savedText)}
              </span>
              <a
                href="/api/calendar.ics"
                className="inline-flex items-center gap-1 whitespace-nowrap text-tide underline"
              >
                <Download size={14} aria-hidden="true" /> Calendar (.ics)
              </a>
            </p>
          )}
          {rota && (
            <TimerList
              nowMs={nowMs}
              chosenId={timerId}
              onOpen={(id) => {
                open({ timer: id });
              }}
              onDesign={(id) => {
                open({ design: id });
              }}
              onPropose={() => {
                open({ propose: '' });
              }}
              onRule={(id) => {
                open({ rule: id });
              }}
            />
          )}
        </div>
      </section>
      {chosen && (
        <ItemSheet
          item={chosen.item}
          printer={chosen.printer}
          nowMs={nowMs}
          onTimer={(id) => {
            open({ timer: id });
          }}
          onClose={close}
        />
      )}
      {!chosen && timerId !== null && (
        <TimerSheet
          key={timerId}
          timerId={timerId}
          nowMs={nowMs}
          onClose={close}
          onDesign={() => {
            open({ design: 'new' });
          }}
        />
      )}
      {!chosen && ruleId !== null && <RuleSheet key={ruleId} ruleId={ruleId} onClose={close} />}
      {!chosen && proposing && (
        <ProposalSheet
          onClose={close}
          onDesign={() => {
            open({ design: 'new' });
          }}
        />
      )}
      {!chosen && timerId === null && designId !== null && (
        <PurgeSheet
          key={designId}
          designId={designId}
          onClose={close}
          onKept={(id) => {
            open({ design: id });
          }}
        />
      )}
    </div>
  );
}

/** `Saved in October: 1.2 ml …` */
function savedText({ month, inkMl, minor, currency, purges }: RotaView['saved'][number]): string {
  const name = MONTHS[Number(month.slice(5)) - 1] ?? month;
  return `Saved in ${name}: ${number(inkMl, 2)} ml, ${moneyText(minor, currency)}, by ${counted(purges, 'purge')} that work had made needless. `;
}

const MONTHS = Array.from({ length: 12 }, (_, i) => format(new Date(2026, i, 1), 'MMMM'));

function spanText({ fromMs, toMs, days }: RotaSpan, zone: string): string {
  return days.length <= 2 ? dateText(fromMs, zone) : `${dateText(fromMs, zone)} to ${dateText(toMs - 1, zone)}`;
}

/** Names of days above the strips; of one day its hours. */
function DayRuler({ span, zone }: { readonly span: RotaSpan; readonly zone: string }) {
  const oneDay = span.days.length <= 2;
  const few = span.days.length <= 8;
  const ticks = oneDay
    ? Array.from({ length: 8 }, (_, i) => span.fromMs + ((span.toMs - span.fromMs) * i) / 8)
    : span.days.slice(0, -1);
  return (
    <div className="sticky top-0 z-10 flex border-y border-rule bg-card" aria-hidden="true">
      <span className="w-28 shrink-0 max-phone:w-20" />
      <div className="relative h-7 min-w-0 flex-1">
        {ticks.map((ms, i) => (
          <span
            key={ms}
            className="dense absolute top-1.5 overflow-hidden border-l border-rule pl-1 text-ellipsis whitespace-nowrap text-soft"
            style={{ left: `${String((i / ticks.length) * 100)}%`, width: `${String(100 / ticks.length)}%` }}
          >
            {oneDay
              ? timeText(ms, zone)
              : few
                ? dateText(ms, zone)
                : dateText(ms, zone).replace(/^\D+/, '').replace(/ .*/, '')}
          </span>
        ))}
      </div>
    </div>
  );
}
