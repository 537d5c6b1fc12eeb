import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { BellRing, Lock, Printer as PrinterIcon, Sparkles } from 'lucide-react';
import type { AwayNow, AwaySimulation, AwayView } from '../../../contract/api/away.ts';
import { errorText, sendJson } from '../../api/client.ts';
import { useAwayNow } from '../../api/away.ts';
import { useNotice } from '../../app/notice.tsx';
import { clockText, useShopNow, useZone } from '../../app/shopTime.ts';
import { May } from '../../people/May.tsx';
import { Button } from '../../ui/Button.tsx';
import { PageError } from '../../ui/PageError.tsx';
import { counted } from '../../ui/text/counted.ts';
import { AwayFigures } from './AwayFigures.tsx';
import { AwayStrips } from './AwayStrips.tsx';
import { BeforeYouGo } from './BeforeYouGo.tsx';
import { EventList } from './EventList.tsx';
import { LearnedSheet } from './LearnedSheet.tsx';
import { NightSheet } from './NightSheet.tsx';
import { PeriodChoice } from './PeriodChoice.tsx';
import { SendList } from './SendList.tsx';
import { type Period, type Ticked, useSimulation } from './useSimulation.ts';

/** What a time away will bring, how sure that is, and what to do now to make it surer. */
export function AwayPage() {
  const nowMs = useShopNow(10_000);
  const { data: away, error } = useAwayNow();
  if (error && !away) return <PageError>{errorText(error)}</PageError>;
  return nowMs !== undefined && away ? <AwayAt away={away} nowMs={nowMs} /> : null;
}

function AwayAt({ away, nowMs }: { readonly away: AwayNow; readonly nowMs: number }) {
  const [params, setParams] = useSearchParams();
  const period = periodOf(away, params);
  const [ticked, setTicked] = useState<readonly Ticked[]>([]);
  const { simulation, error, working, again } = useSimulation(
    period,
    ticked.map(({ change }) => change),
  );
  const isArmed = away.armed !== null && period?.fromMs === away.armed.fromMs && period.toMs === away.armed.toMs;
  return (
    <div className="flex h-full min-h-0">
      <section className="flex min-w-0 flex-1 flex-col overflow-y-auto" aria-label="Away plan">
        <header className="flex flex-wrap items-center gap-x-3 gap-y-2 px-5 pt-3 pb-2.5 max-phone:px-3">
          <h1 className="mr-2 text-lg font-semibold">Away plan</h1>
          <PeriodChoice
            away={away}
            period={period}
            onChoose={(next) => {
              setTicked([]);
              setParams(next, { replace: true });
            }}
          />
          <span className="flex-1" />
          {period && (
            <Button
              onClick={() => {
                setParams(withOpen(params, 'night'), { replace: true });
              }}
            >
              <Sparkles size={16} aria-hidden="true" /> Propose the night
            </Button>
          )}
          {simulation && period && (
            <May right="coordinate">
              <ArmButton
                away={away}
                period={period}
                simulation={simulation}
                open={ticked.length}
                working={working}
                onChanged={again}
              />
            </May>
          )}
        </header>
        {away.armed && <ArmedLine armed={away.armed} isShown={isArmed} nowMs={nowMs} />}
        {away.toLookAt !== null && (
          <p className="px-5 pb-2 max-phone:px-3">
            The last time away is over.{' '}
            <Link to={`/rota/away/${away.toLookAt}`} className="text-tide underline">
              See how it came out
            </Link>
          </p>
        )}
        {error && (
          <p className="px-5 pb-2 text-stop" role="alert">
            {errorText(error)}
          </p>
        )}
        {!period && (
          <p className="px-5 py-3 text-soft">
            Shop hours say that somebody is always there. Set them under Setup, Shop, or choose a time of your own.
          </p>
        )}
        {period && !simulation && !error && <p className="px-5 py-3 text-soft">Simulating 2,000 nights …</p>}
        {period && simulation && (
          <div aria-busy={working}>
            <AwayFigures
              simulation={simulation}
              onOpen={() => {
                setParams(withOpen(params, 'learned'), { replace: true });
              }}
            />
            <div className="flex min-h-0 gap-4 px-5 pb-6 max-[1000px]:flex-col max-phone:px-3">
              <div className="min-w-0 flex-1 max-[1000px]:order-2">
                <AwayStrips simulation={simulation} nowMs={nowMs} />
                <EventList simulation={simulation} nowMs={nowMs} />
              </div>
              <BeforeYouGo
                simulation={simulation}
                ticked={ticked}
                working={working}
                links={
                  <p className="mb-2 flex gap-4">
                    <a
                      href={printAddress(period)}
                      target="_blank"
                      rel="noreferrer"
                      className="inline-flex items-center gap-1 text-tide underline"
                    >
                      <PrinterIcon size={14} aria-hidden="true" /> Print the list
                    </a>
                    <May right="coordinate">
                      <SendList period={period} />
                    </May>
                  </p>
                }
                onTick={(action) => {
                  const { key, text, change } = action;
                  if (change === null) return;
                  const isOn = ticked.some((each) => each.key === key);
                  setTicked(isOn ? ticked.filter((each) => each.key !== key) : [...ticked, { key, text, change }]);
                }}
              />
            </div>
          </div>
        )}
      </section>
      {period && params.has('night') && (
        <NightSheet
          key={`${String(period.fromMs)} ${String(period.toMs)}`}
          period={period}
          onClose={() => {
            setParams(withOpen(params, null), { replace: true });
          }}
        />
      )}
      {params.has('learned') && (
        <LearnedSheet
          onClose={() => {
            setParams(withOpen(params, null), { replace: true });
          }}
        />
      )}
    </div>
  );
}

/** One sheet at a time, or none. */
function withOpen(params: URLSearchParams, open: 'learned' | 'night' | null): URLSearchParams {
  const next = new URLSearchParams(params);
  next.delete('learned');
  next.delete('night');
  if (open !== null) next.set(open, '');
  return next;
}

/** The time that was chosen, else the one that is armed, else tonight. */
function periodOf(away: AwayNow, params: URLSearchParams): Period | undefined {
  const [fromMs, toMs] = [Number(params.get('from')), Number(params.get('to'))];
  if (fromMs > 0 && toMs > 0) return { fromMs, toMs };
  const named = away.suggested.find(({ name }) => name === params.get('for'));
  return named ?? away.armed ?? away.suggested[0];
}

function printAddress(period: Period): string {
  return `/api/away/list.html?fromMs=${String(period.fromMs)}&toMs=${String(period.toMs)}`;
}

/** Says that a time away is armed, and lets a person who is back end it. */
function ArmedLine({
  armed,
  isShown,
  nowMs,
}: {
  readonly armed: AwayView;
  readonly isShown: boolean;
  readonly nowMs: number;
}) {
  const zone = useZone();
  const { tell } = useNotice();
  const text = `${clockText(armed.fromMs, nowMs, zone)} to ${clockText(armed.toMs, nowMs, zone)}`;
  return (
    <p className="mx-5 mb-2 flex flex-wrap items-center gap-2 rounded-md border border-ink bg-spool px-3 py-1.5 text-on-spool max-phone:mx-3 max-phone:flex-col max-phone:items-start">
      <Lock size={16} aria-hidden="true" />
      <span className="min-w-0 flex-1">
        <strong className="font-semibold">Armed by {armed.armedBy}</strong>, {text}
        {isShown ? '' : '; another time is shown below'}.
      </span>
      <Link to={`/rota/away/${armed.id}`} className="underline">
        Planned against happened
      </Link>
      <May right="coordinate">
        <Button
          onClick={() => {
            sendJson('POST', `/api/away/${armed.id}/disarm`).catch(tell);
          }}
        >
          Disarm
        </Button>
      </May>
    </p>
  );
}

function ArmButton({
  away,
  period,
  simulation,
  open,
  working,
  onChanged,
}: {
  readonly away: AwayNow;
  readonly period: Period;
  readonly simulation: AwaySimulation;
  /** Things that are ticked and only imagined: it is armed once they have been done. */
  readonly open: number;
  readonly working: boolean;
  readonly onChanged: () => void;
}) {
  const { tell } = useNotice();
  const zone = useZone();
  const [busy, setBusy] = useState(false);
  if (away.armed) return null;
  const arm = async (): Promise<void> => {
    setBusy(true);
    try {
      const { fromMs, toMs } = period;
      await sendJson('POST', '/api/away/arm', { fromMs, toMs, planHash: simulation.planHash });
    } catch (problem) {
      tell(problem);
      // Another floor than was seen: it is worked out anew.
      onChanged();
    } finally {
      setBusy(false);
    }
  };
  const isSeen = simulation.fromMs === period.fromMs && simulation.toMs === period.toMs;
  return (
    <Button
      kind="main"
      disabled={busy || open > 0 || working || !isSeen}
      title={open > 0 ? `First do the ${counted(open, 'ticked thing')}, then untick` : undefined}
      onClick={() => void arm()}
    >
      <BellRing size={16} aria-hidden="true" /> Arm until {clockText(period.toMs, period.fromMs, zone)}
    </Button>
  );
}
