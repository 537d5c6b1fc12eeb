import { PageError } from '../../ui/PageError.tsx';
import { DndContext, DragOverlay, useDroppable } from '@dnd-kit/core';
import { ListChecks, PackagePlus, Printer as PrinterSign } from 'lucide-react';
import { type ReactNode, useMemo } from 'react';
import { Link, useSearchParams } from 'react-router';
import type { StockOutlook } from '../../../contract/api/media/supply.ts';
import { errorText } from '../../api/client.ts';
import { type Printer, type SpoolView, usePrinters, useRuns, useSpools, useStocks } from '../../api/data.ts';
import { StateWord } from '../../draw/StateShape.tsx';
import { Sources } from '../../media/Sources.tsx';
import { leftFigure } from '../../media/spoolText.ts';
import { Button } from '../../ui/Button.tsx';
import { Section, Sheet } from '../../ui/Sheet.tsx';
import { LabelButton } from './LabelButton.tsx';
import { CountSheet } from './supply/CountSheet.tsx';
import { ReceiveSheet } from './supply/ReceiveSheet.tsx';
import { StockSheet } from './supply/StockSheet.tsx';
import { ToOrder } from './supply/ToOrder.tsx';
import { daysText, outlookOf, useOutlooks } from './supply/useOutlooks.ts';
import { InPrinter, OnRack } from './SpoolCards.tsx';
import { SpoolSheet } from './SpoolSheet.tsx';
import { RACK, type SpoolDrag, useSpoolDrag } from './useSpoolDrag.ts';
import { May, useMay } from '../../people/May.tsx';

/** What a screen reader is told; what comes of it the page says itself. */
const SPOKEN = {
  screenReaderInstructions: {
    draggable:
      'Press Space to pick the spool up, the arrow keys to carry it from place to place, Space again to put it down, Escape to leave it where it was.',
  },
  announcements: {
    onDragStart: () => 'The spool is taken up.',
    onDragOver: ({ over }: { readonly over: { readonly id: string | number } | null }) =>
      over === null ? undefined : `Over ${String(over.id).replace('/', ', ')}.`,
    onDragEnd: () => 'The spool is put down.',
    onDragCancel: () => 'The spool stays where it was.',
  },
};

/** What there is, where it stands, and how long it lasts. */
export function MediaPage() {
  const { data: spools, error } = useSpools();
  const { data: printers = [] } = usePrinters();
  const { data: runs = [] } = useRuns();
  const [params, setParams] = useSearchParams();
  const mayReceive = useMay('coordinate');
  const receiving = params.has('receive');
  const chosen = spools?.find(({ id }) => id === params.get('spool'));
  const printer = printers.find(({ id }) => id === params.get('printer'));
  const choose = (key: string, id: string | null): void => {
    setParams(id === null ? {} : { [key]: id }, { replace: true });
  };
  const groups = useMemo(() => byStock(spools ?? []), [spools]);
  const wanted = useMemo(() => {
    const need = new Map<string, number>();
    for (const run of runs) {
      if (run.state === 'queued') need.set(run.stockId, (need.get(run.stockId) ?? 0) + run.needMm);
    }
    return need;
  }, [runs]);
  const { data: outlooks, mutate: outlooksAnew } = useOutlooks();
  const { data: stocks = [] } = useStocks();
  const stock = stocks.find(({ id }) => id === params.get('stock'));
  const outlook = stock && outlookOf(outlooks, stock.id);
  const counting = params.has('count');
  const drag = useSpoolDrag(spools ?? [], printers, (printerId, source, spool) => {
    setParams({ printer: printerId, source, load: spool }, { replace: true });
  });
  const load = params.get('load');
  const source = params.get('source');
  if (error) return <PageError>{errorText(error)}</PageError>;
  return (
    <div className="flex h-full min-h-0">
      <section className="min-w-0 flex-1 overflow-y-auto px-5 py-3.5">
        <header className="mb-3 flex flex-wrap items-center gap-3">
          <h1 className="text-lg font-semibold">Media</h1>
          <p className="text-soft">Rolls and packs at one scale; the dotted ring is the roll as it came.</p>
          <Link to="/media/spools" className="ml-auto text-tide underline">
            Which spool for which run
          </Link>
          <May right="coordinate">
            <span className="flex gap-2">
              <Button
                onClick={() => {
                  setParams({ count: '' }, { replace: true });
                }}
              >
                <ListChecks size={16} aria-hidden="true" /> Count
              </Button>
              <LabelButton spoolIds={(spools ?? []).map(({ id }) => id)} text="Labels of all" />
              <Button
                kind="main"
                onClick={() => {
                  setParams({ receive: '' }, { replace: true });
                }}
              >
                <PackagePlus size={16} aria-hidden="true" /> Receive media
              </Button>
            </span>
          </May>
        </header>
        <ToOrder
          outlooks={outlooks}
          onOpen={(id) => {
            choose('stock', id);
          }}
        />
        <h2 className="mb-1.5 flex items-center gap-2 font-semibold">
          <PrinterSign size={16} aria-hidden="true" className="text-soft" /> In the printers
        </h2>
        <DndContext
          sensors={drag.sensors}
          accessibility={SPOKEN}
          autoScroll={false}
          onDragStart={drag.start}
          onDragOver={drag.move}
          onDragEnd={drag.end}
          onDragCancel={drag.cancel}
        >
          <ul className="mb-5 grid grid-cols-[repeat(auto-fill,minmax(164px,1fr))] gap-2">
            {printers.map((each) => (
              <li key={each.id}>
                <InPrinter
                  printer={each}
                  drag={drag}
                  on={each.id === printer?.id}
                  onClick={() => {
                    choose('printer', each.id === printer?.id ? null : each.id);
                  }}
                />
              </li>
            ))}
          </ul>
          <Rack drag={drag}>
            {groups.map(({ stockId, name, spools: own }) => (
              <div key={stockId} className="mb-3 border-t border-rule pt-2">
                <h3 className="flex items-baseline gap-3">
                  <button
                    type="button"
                    aria-pressed={stockId === stock?.id}
                    onClick={() => {
                      choose('stock', stockId === stock?.id ? null : stockId);
                    }}
                    className="text-left font-semibold underline decoration-rule underline-offset-4 hover:decoration-ink"
                  >
                    {name}
                  </button>
                  <Stand own={own} needMm={wanted.get(stockId) ?? 0} outlook={outlookOf(outlooks, stockId)} />
                </h3>
                <ul className="mt-1 flex flex-wrap items-end gap-x-4 gap-y-2" aria-label={name}>
                  {own.map((spool) => (
                    <li key={spool.id}>
                      <OnRack
                        spool={spool}
                        printer={printers.find(({ id }) => id === spool.printerId)}
                        on={spool.id === chosen?.id}
                        onClick={() => {
                          choose('spool', spool.id === chosen?.id ? null : spool.id);
                        }}
                      />
                    </li>
                  ))}
                </ul>
              </div>
            ))}
          </Rack>
          <DragOverlay dropAnimation={null}>
            {drag.dragged && (
              <span className="rounded-md border border-ink bg-card px-2 py-1 font-medium shadow-lg">
                {drag.dragged.label}
              </span>
            )}
          </DragOverlay>
        </DndContext>
        {spools?.length === 0 && (
          <p className="text-soft">The rack is empty. Receive a roll or a pack, and it is drawn here to scale.</p>
        )}
      </section>
      {receiving && mayReceive && (
        <ReceiveSheet
          onClose={(id) => {
            choose('spool', id ?? null);
          }}
        />
      )}
      {counting && mayReceive && (
        <CountSheet
          spools={spools ?? []}
          onClose={() => {
            choose('count', null);
          }}
        />
      )}
      {stock && outlook && outlooks && (
        <StockSheet
          key={stock.id}
          stock={stock}
          outlook={outlook}
          currency={outlooks.currency}
          again={() => void outlooksAnew()}
          onClose={() => {
            choose('stock', null);
          }}
        />
      )}
      {chosen && (
        <SpoolSheet
          key={chosen.id}
          spool={chosen}
          printers={printers}
          onClose={() => {
            choose('spool', null);
          }}
        />
      )}
      {printer && !chosen && (
        <Sheet
          title={printer.name}
          under={<StateWord state={printer.state}>{printer.reason ?? printer.state}</StateWord>}
          onClose={() => {
            choose('printer', null);
          }}
          wide
        >
          <Section title="Loaded">
            <Sources
              key={`${printer.id} ${source ?? ''} ${load ?? ''}`}
              printer={printer}
              wantedStockId={nextStock(printer, runs)}
              offered={load === null || source === null ? undefined : { sourceId: source, spoolId: load }}
            />
          </Section>
        </Sheet>
      )}
    </div>
  );
}

/** Everything that is not in a printer stands here; what is put down here has been taken out. */
function Rack({ drag, children }: { readonly drag: SpoolDrag; readonly children: ReactNode }) {
  const takes = drag.dragged?.printerId != null;
  const { setNodeRef } = useDroppable({ id: RACK, disabled: !takes });
  return (
    <div
      ref={setNodeRef}
      className={`grid grid-cols-[repeat(auto-fill,minmax(250px,1fr))] gap-x-6 rounded-md ${takes ? `outline-2 outline-offset-4 outline-ink ${drag.over === RACK ? 'bg-spool/10' : 'outline-dashed'}` : ''}`}
    >
      {children}
    </div>
  );
}

function nextStock(
  printer: Printer,
  runs: readonly { readonly printerId: string; readonly state: string; readonly stockId: string }[],
): string | null {
  return runs.find((run) => run.printerId === printer.id && run.state === 'queued')?.stockId ?? null;
}

interface StockGroup {
  readonly stockId: string;
  readonly name: string;
  readonly spools: readonly SpoolView[];
}

function byStock(spools: readonly SpoolView[]): StockGroup[] {
  const groups = new Map<string, { stockId: string; name: string; spools: SpoolView[] }>();
  for (const spool of spools) {
    const group = groups.get(spool.stockId);
    if (group) group.spools.push(spool);
    else groups.set(spool.stockId, { stockId: spool.stockId, name: spool.stockName, spools: [spool] });
  }
  return [...groups.values()]
    .map((group) => ({ ...group, spools: group.spools.sort((a, b) => a.leftMm - b.leftMm) }))
    .sort((a, b) => a.name.localeCompare(b.name, 'en'));
}

/** What is there of a stock, and what the queued runs will take. */
function Stand({
  own,
  needMm,
  outlook,
}: {
  readonly own: readonly SpoolView[];
  readonly needMm: number;
  readonly outlook: StockOutlook | undefined;
}) {
  const leftMm = own.reduce((sum, spool) => sum + spool.leftMm, 0);
  const sheetMm = own[0]?.sheetMm ?? null;
  const left = leftFigure({ leftMm, sheetMm });
  const need = leftFigure({ leftMm: needMm, sheetMm });
  return (
    <span className="text-soft">
      {left.value} {left.unit} in {own.length}
      {needMm > 0 && (
        <span className={needMm > leftMm ? 'font-medium text-stop' : ''}>
          , {need.value} {need.unit} queued{needMm > leftMm ? ': more is needed' : ''}
        </span>
      )}
      {outlook && outlook.known !== 'nothing used' && needMm <= leftMm && (
        <span className={outlook.order.isDue ? 'font-medium text-wait' : ''}>, lasts {daysText(outlook)}</span>
      )}
    </span>
  );
}
