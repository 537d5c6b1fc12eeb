import { PageError } from '../../ui/PageError.tsx';
import { DndContext } from '@dnd-kit/core';
import { ListOrdered } from 'lucide-react';
import { useCallback, useContext, useMemo, useRef } from 'react';
import { useSearchParams } from 'react-router';
import { errorText } from '../../api/client.ts';
import { timeText, ShopTimeContext, shopNow, useShopNow, useZone } from '../../app/shopTime.ts';
import { Button } from '../../ui/Button.tsx';
import { useMedia, usePhone } from '../../ui/useMedia.ts';
import { useRoving } from '../../ui/useRoving.ts';
import { NextHands, useHands } from './NextHands.tsx';
import { OrderSheet } from './OrderSheet.tsx';
import { PrinterCards } from './PrinterCards.tsx';
import { PrinterHead } from './PrinterHead.tsx';
import { PrinterSheet } from './printer/PrinterSheet.tsx';
import { Strip } from './Strip.tsx';
import { TimeRuler } from './TimeRuler.tsx';
import { ChoiceBar } from '../../ui/time/ChoiceBar.tsx';
import { ZOOMS } from './timeView.ts';
import { awaySpans, useFloor } from './useFloor.ts';
import { useOffers } from './useOffers.ts';
import { useRunDrag } from './useRunDrag.ts';
import { useTimeView } from './useTimeView.ts';

const HEAD_PX = 336;
/** Beside a sheet on a small screen the heads give way to the strips. */
const NARROW_HEAD_PX = 176;
const NARROW = '(max-width: 1099px)';

/** What a screen reader is told; where a run would land is said by the page itself. */
const SPOKEN = {
  screenReaderInstructions: {
    draggable:
      'Press Space to pick the run up, the arrow keys to move it along and across the strips, Space again to put it down, Escape to leave it.',
  },
  announcements: {
    onDragStart: () => 'The run is taken up.',
    onDragOver: () => undefined,
    onDragEnd: () => 'The run is put down.',
    onDragCancel: () => 'The run stays where it was.',
  },
};

/** The live view of all printers on one time scale. */
export function FloorPage() {
  const time = useContext(ShopTimeContext);
  return time ? <FloorAt now={() => shopNow(time)} /> : null;
}

/** The Floor once the shop’s time is known: strips and figures without an instant would lie. */
function FloorAt({ now }: { readonly now: () => number }) {
  const nowMs = useShopNow(1000) ?? now();
  const floor = useFloor(nowMs);
  const zone = useZone();
  const offers = useOffers(floor.lines);
  const hands = useHands(floor.lines, offers, nowMs);
  const [params, setParams] = useSearchParams();
  const ordering = params.has('order');
  const chosen = params.get('printer');
  const narrow = useMedia(NARROW) && (chosen !== null || ordering);
  const phone = usePhone();
  const headPx = narrow ? NARROW_HEAD_PX : HEAD_PX;
  const carrying = useRef(false);
  const isCarrying = useCallback(() => carrying.current, []);
  const { view, drawn, hold, show } = useTimeView(headPx, now, isCarrying);
  const list = useRef<HTMLDivElement>(null);
  const onKeyDown = useRoving(list, false);
  const drag = useRunDrag(floor, view, nowMs, carrying);
  const choose = (id: string | null): void => {
    setParams(id === null ? {} : { printer: id }, { replace: true });
  };
  const away = useMemo(() => awaySpans(floor.attended), [floor.attended]);
  const shown = floor.lines.find(({ printer }) => printer.id === chosen);
  if (floor.error) return <PageError>{errorText(floor.error)}</PageError>;
  return (
    <div className="flex h-full min-h-0">
      <section className="flex min-w-0 flex-1 flex-col">
        <header className="flex flex-wrap items-center gap-x-4 gap-y-2 px-5 pt-3 pb-2.5">
          <h1 className="flex-1 text-lg font-semibold">Floor</h1>
          <Button
            onClick={() => {
              setParams({ order: '' }, { replace: true });
            }}
          >
            <ListOrdered size={16} aria-hidden="true" /> Propose an order
          </Button>
          <ChoiceBar
            label="Time shown"
            choices={ZOOMS.map(({ name }) => name)}
            chosen={ZOOMS.find(({ allH }) => Math.abs(drawn.toMs - drawn.fromMs - 3 * allH * 36e5) < 36e5 * 0.2)?.name}
            className="max-phone:hidden"
            onChoose={(name) => {
              const zoom = ZOOMS.find((each) => each.name === name);
              if (zoom) show(zoom);
            }}
          />
          {floor.loading ? (
            <p className="w-full text-soft">Reading …</p>
          ) : phone && hands.length > 0 ? null : (
            <NextHands hands={hands} lines={floor.lines} nowMs={nowMs} onPrinter={choose} />
          )}
        </header>
        {phone && <PrinterCards lines={floor.lines} hands={hands} nowMs={nowMs} onOpen={choose} />}
        {!phone && (
          <DndContext
            sensors={drag.sensors}
            accessibility={SPOKEN}
            onDragStart={drag.start}
            onDragMove={drag.look}
            onDragEnd={drag.end}
            onDragCancel={drag.cancel}
          >
            <div ref={hold} className="relative flex min-h-0 flex-1 flex-col">
              <div className="flex border-y border-rule bg-card">
                <div style={{ width: headPx }} className="shrink-0 border-r border-rule" />
                <div className="relative h-7 min-w-0 flex-1 overflow-hidden" data-time>
                  <TimeRuler drawn={drawn} baseMs={view.baseMs} zone={zone} />
                  <NowFlag zone={zone} />
                </div>
              </div>
              <div
                ref={list}
                onKeyDown={onKeyDown}
                role="group"
                aria-label="Printers"
                className="flex min-h-0 flex-1 flex-col overflow-x-hidden overflow-y-auto"
              >
                {floor.lines.map((floorLine) => {
                  const { printer, line } = floorLine;
                  const own = printer.id === chosen;
                  return (
                    <article
                      key={printer.id}
                      aria-label={printer.name}
                      className={`flex max-h-40 min-h-[92px] flex-1 border-b border-rule ${own ? 'bg-spool/10' : ''}`}
                    >
                      <PrinterHead
                        printer={printer}
                        widthPx={headPx}
                        freeMs={line.freeMs}
                        nowMs={nowMs}
                        onOpen={() => {
                          choose(own ? null : printer.id);
                        }}
                      />
                      <div className="relative min-w-0 flex-1 overflow-hidden" data-time>
                        <Strip
                          floorLine={floorLine}
                          drawn={drawn}
                          baseMs={view.baseMs}
                          away={away}
                          landing={drag.landing?.printerId === printer.id ? drag.landing : null}
                        />
                      </div>
                    </article>
                  );
                })}
                {!floor.loading && floor.lines.length === 0 && (
                  <p className="p-8 text-soft">No printers are described yet. Add one under Setup.</p>
                )}
              </div>
              {drag.landing && (
                <p
                  role="status"
                  className={`pointer-events-none absolute bottom-3 left-1/2 z-20 max-w-[70%] -translate-x-1/2 rounded-md border bg-card px-3 py-1.5 font-medium shadow-lg ${drag.landing.wrong ? 'border-stop text-stop' : 'border-ink'}`}
                >
                  {drag.landing.text}
                </p>
              )}
            </div>
          </DndContext>
        )}
      </section>
      {ordering && (
        <OrderSheet
          lines={floor.lines}
          nowMs={nowMs}
          onClose={() => {
            choose(null);
          }}
        />
      )}
      {shown && !ordering && (
        <PrinterSheet
          floorLine={shown}
          floor={floor}
          nowMs={nowMs}
          offers={offers.get(shown.printer.id) ?? []}
          onClose={() => {
            choose(null);
          }}
        />
      )}
    </div>
  );
}

function NowFlag({ zone }: { readonly zone: string }) {
  const now = useShopNow(1000);
  if (now === undefined) return null;
  return (
    <div className="now-mark absolute top-1 left-0">
      <span className="dense block -translate-x-1/2 rounded bg-ink px-1.5 py-0.5 font-semibold text-paper outline-[6px] outline-card">
        {timeText(now, zone)}
      </span>
    </div>
  );
}
