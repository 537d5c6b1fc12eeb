import { useEffect, useMemo, useState } from 'react';
import { useSearchParams } from 'react-router';
import { usePrinters, useRuns, type Printer, type RunItem } from '../../api/data.ts';
import { errorText } from '../../api/client.ts';
import { isTyping } from '../../app/useGlobalKeys.ts';
import { useShopNow } from '../../app/shopTime.ts';
import { lineOfRuns } from '../../../core/schedule/timeline.ts';
import { Handwork } from './Handwork.tsx';
import { PrinterHead } from './PrinterHead.tsx';
import { PrinterSheet } from './PrinterSheet.tsx';
import { RunStrip, type StripRun } from './RunStrip.tsx';
import { TimeRuler } from './TimeRuler.tsx';
import { ZOOMS, type TimeScale } from './timeScale.ts';

const HEAD_PX = 336;

export function FloorPage() {
  const printers = usePrinters();
  const { data: runs } = useRuns();
  const now = useShopNow(250);
  const [zoom, setZoom] = useZoom();
  const [params, setParams] = useSearchParams();
  const chosen = params.get('printer');
  const choose = (id: string | null): void => {
    setParams(id === null ? {} : { printer: id }, { replace: true });
  };
  const scale = useMemo((): TimeScale | undefined => {
    const z = ZOOMS[zoom];
    return now === undefined || !z ? undefined : { fromMs: now - z.backMs, toMs: now + z.aheadMs, stepMs: z.stepMs };
  }, [now, zoom]);
  const shown = (printers.data ?? []).find((printer) => printer.id === chosen);
  if (printers.error)
    return (
      <p className="p-8 text-stop" role="alert">
        {errorText(printers.error)}
      </p>
    );
  return (
    <div className="flex h-full min-h-0">
      <section className="flex min-w-0 flex-1 flex-col overflow-auto">
        <header className="flex flex-wrap items-center gap-4 px-5 pt-4 pb-3">
          <h1 className="text-lg font-semibold">Floor</h1>
          <Handwork printers={printers.data ?? []} runs={runs ?? []} onPrinter={choose} />
          <div className="ml-auto flex items-center gap-1" role="group" aria-label="Time shown">
            {ZOOMS.map((z, i) => (
              <button
                key={z.name}
                type="button"
                aria-pressed={i === zoom}
                onClick={() => {
                  setZoom(i);
                }}
                className="rounded-md border border-transparent px-2.5 py-1 text-soft hover:text-ink aria-pressed:border-ink aria-pressed:bg-spool aria-pressed:font-medium aria-pressed:text-on-spool"
              >
                {z.name}
              </button>
            ))}
          </div>
        </header>
        {scale && now !== undefined && (
          <>
            <TimeRuler scale={scale} nowMs={now} headPx={HEAD_PX} />
            {(printers.data ?? []).map((printer) => (
              <PrinterRow
                key={printer.id}
                printer={printer}
                runs={runs ?? []}
                scale={scale}
                nowMs={now}
                chosen={printer.id === chosen}
                onChoose={choose}
              />
            ))}
            {printers.data?.length === 0 && <p className="p-8 text-soft">No printers are described yet.</p>}
          </>
        )}
      </section>
      {shown && (
        <PrinterSheet
          printer={shown}
          runs={(runs ?? []).filter((run) => run.printerId === shown.id)}
          onClose={() => {
            choose(null);
          }}
        />
      )}
    </div>
  );
}

interface PrinterRowProps {
  readonly printer: Printer;
  readonly runs: readonly RunItem[];
  readonly scale: TimeScale;
  readonly nowMs: number;
  readonly chosen: boolean;
  readonly onChoose: (id: string | null) => void;
}

function PrinterRow({ printer, runs, scale, nowMs, chosen, onChoose }: PrinterRowProps) {
  const own = runs.filter((run) => run.printerId === printer.id);
  const spans = lineOfRuns(
    own.map((run) => ({ ...run, msLeft: run.progress?.msLeft ?? null, saidAtMs: run.progress?.atMs ?? null })),
    nowMs,
  );
  const strip = spans
    .filter((span) => span.toMs > scale.fromMs && span.fromMs < scale.toMs)
    .flatMap((span): StripRun[] => {
      const run = own.find((each) => each.id === span.id);
      return run ? [{ run, ...span }] : [];
    });
  const freeMs = spans.filter((span) => span.toMs > nowMs).reduce((latest, span) => Math.max(latest, span.toMs), nowMs);
  return (
    <article
      aria-label={printer.name}
      className={`flex max-h-48 min-h-[118px] flex-1 border-b border-rule ${chosen ? 'bg-spool/10' : ''}`}
    >
      <PrinterHead
        printer={printer}
        widthPx={HEAD_PX}
        freeMs={freeMs}
        nowMs={nowMs}
        onOpen={() => {
          onChoose(chosen ? null : printer.id);
        }}
      />
      <RunStrip runs={strip} scale={scale} nowMs={nowMs} printerName={printer.name} />
    </article>
  );
}

function useZoom(): [number, (zoom: number) => void] {
  const [zoom, setZoom] = useState(() => Number(localStorage.getItem('yellow-spool-floor-zoom') ?? 0));
  useEffect(() => {
    localStorage.setItem('yellow-spool-floor-zoom', String(zoom));
    const onKey = (event: KeyboardEvent): void => {
      if (isTyping(event.target) || event.ctrlKey) return;
      if (event.key === '+' || event.key === '=') setZoom(Math.max(0, zoom - 1));
      if (event.key === '-') setZoom(Math.min(ZOOMS.length - 1, zoom + 1));
    };
    window.addEventListener('keydown', onKey);
    return () => {
      window.removeEventListener('keydown', onKey);
    };
  }, [zoom]);
  return [Math.min(ZOOMS.length - 1, Math.max(0, zoom)), setZoom];
}
