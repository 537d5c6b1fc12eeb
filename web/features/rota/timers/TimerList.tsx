import { Pause, Play } from 'lucide-react';
import { sendJson } from '../../../api/client.ts';
import { usePrinters, useDesigns } from '../../../api/data.ts';
import { useNotice } from '../../../app/notice.tsx';
import { durationText } from '../../../../core/units/durationText.ts';
import { clockText, useZone } from '../../../app/shopTime.ts';
import { moneyText } from '../../../draw/money.ts';
import { IconButton } from '../../../ui/IconButton.tsx';
import { number } from '../../../ui/text/number.ts';
import { Button } from '../../../ui/Button.tsx';
import { CARE_SIGNS } from '../../../draw/careSigns.tsx';
import { RuleList } from './RuleList.tsx';
import { useCareRules, useTimers } from '../useRota.ts';
import { May } from '../../../people/May.tsx';

/** All timers, printer by printer, and the purges that they print. */
export function TimerList({
  nowMs,
  chosenId,
  onOpen,
  onDesign,
  onPropose,
  onRule,
}: {
  readonly nowMs: number;
  readonly chosenId: string | null;
  readonly onOpen: (id: string) => void;
  readonly onDesign: (id: string) => void;
  readonly onPropose: () => void;
  readonly onRule: (id: string) => void;
}) {
  const { data: timers = [], mutate, isLoading } = useTimers();
  const { data: designs = [], isLoading: designsLoad } = useDesigns();
  const { isLoading: rulesLoad } = useCareRules();
  const { data: printers = [] } = usePrinters();
  const zone = useZone();
  const { tell } = useNotice();
  const nameOf = (id: string): string => printers.find((printer) => printer.id === id)?.name ?? id;
  const pause = (path: string, method: 'PATCH' | 'POST', paused: boolean): void => {
    sendJson(method, path, { paused })
      .then(() => mutate())
      .catch(tell);
  };
  // All lists come at once: one that grows later would push the next away from under the pointer.
  if (isLoading || designsLoad || rulesLoad) return <p className="px-5 py-3 text-soft">Reading …</p>;
  const withTimers = printers.filter(({ id }) => timers.some(({ printerId }) => printerId === id));
  return (
    <div className="grid gap-x-8 px-5 py-3 min-[1100px]:grid-cols-2">
      <section aria-label="Timers" className="min-w-0">
        <div className="mb-1 flex items-center justify-between gap-3">
          <h2 className="font-semibold">Timers</h2>
          <May right="coordinate">
            <Button kind="quiet" onClick={onPropose}>
              Propose timers
            </Button>
          </May>
        </div>
        {timers.length === 0 && (
          <p className="text-soft">
            No timers yet. Design a purge, then make a timer for it: what it does by itself is drawn above.
          </p>
        )}
        {withTimers.map((printer) => {
          const own = timers.filter(({ printerId }) => printerId === printer.id);
          const allPaused = own.every(({ paused }) => paused);
          return (
            <div key={printer.id} className="border-t border-rule py-1.5 first-of-type:border-0">
              <div className="flex items-center justify-between gap-3">
                <h3 className="font-medium">{printer.name}</h3>
                <May right="coordinate">
                  <Button
                    kind="quiet"
                    onClick={() => {
                      pause(`/api/printers/${printer.id}/timers/pause`, 'POST', !allPaused);
                    }}
                  >
                    {allPaused ? 'Let all go on' : 'Pause all'}
                  </Button>
                </May>
              </div>
              {own.map((timer) => {
                const { icon: Icon } = CARE_SIGNS[timer.what.kind];
                return (
                  <div key={timer.id} className="flex items-center gap-2">
                    <button
                      type="button"
                      aria-current={timer.id === chosenId}
                      onClick={() => {
                        onOpen(timer.id);
                      }}
                      className="flex min-w-0 flex-1 items-center gap-2 rounded px-1 py-1 text-left hover:bg-rule/50 aria-[current=true]:bg-rule/50"
                    >
                      <Icon size={16} aria-hidden="true" className="shrink-0 text-tide" />
                      <span className="min-w-0 flex-1">
                        {timer.title} <span className="text-soft">{timer.text}</span>
                      </span>
                      <span className="dense shrink-0 text-soft">
                        {timer.paused
                          ? 'paused'
                          : timer.nextMs === null
                            ? 'over'
                            : `next ${clockText(timer.nextMs, nowMs, zone)}`}
                      </span>
                    </button>
                    <May right="coordinate">
                      <IconButton
                        label={`${timer.paused ? 'Let go on' : 'Pause'}: ${timer.title} of ${printer.name}`}
                        onClick={() => {
                          pause(`/api/timers/${timer.id}`, 'PATCH', !timer.paused);
                        }}
                      >
                        {timer.paused ? <Play size={16} /> : <Pause size={16} />}
                      </IconButton>
                    </May>
                  </div>
                );
              })}
            </div>
          );
        })}
      </section>
      <div className="min-w-0">
        <section aria-label="Purges">
          <h2 className="mb-1 flex min-h-9 items-center font-semibold">Purges</h2>
          {designs.length === 0 && <p className="text-soft">None is designed yet.</p>}
          {designs.map((design) => (
            <button
              key={design.id}
              type="button"
              onClick={() => {
                onDesign(design.id);
              }}
              className="flex w-full items-baseline gap-2 border-t border-rule px-1 py-1.5 text-left first-of-type:border-0 hover:bg-rule/50"
            >
              <span className="min-w-0 flex-1">
                {design.name} <span className="text-soft">{nameOf(design.printerId)}</span>
              </span>
              <span className="dense text-soft">
                {number(
                  Object.values(design.figures.inkMl).reduce((sum, ml) => sum + ml, 0),
                  2,
                )}{' '}
                ml, {moneyText(design.figures.costMinor, design.figures.currency)},{' '}
                {durationText(design.figures.durationMs)}
              </span>
            </button>
          ))}
        </section>
        <RuleList onOpen={onRule} />
      </div>
    </div>
  );
}
