import { Download } from 'lucide-react';
import { useMemo, useState } from 'react';
import { runTime } from '../../../core/estimate/runTime.ts';
import { mediaUse } from '../../../core/estimate/media.ts';
import { sendJson } from '../../api/client.ts';
import { usePrinters, useRuns, useSpools, type RunDetail, type RunItem } from '../../api/data.ts';
import { useNotice } from '../../app/notice.tsx';
import { durationText } from '../../app/shopTime.ts';
import { SpoolSign } from '../../draw/SpoolSign.tsx';
import { Button } from '../../ui/Button.tsx';
import { Figure, lengthFigure, number } from '../../ui/Figure.tsx';
import { LengthField } from '../../ui/LengthField.tsx';
import { Row, Section } from '../../ui/Sheet.tsx';
import { ChosenPieces } from './ChosenPieces.tsx';
import { MarksPanel } from './MarksPanel.tsx';
import { SegmentsPanel } from './SegmentsPanel.tsx';
import { StepPanel } from './StepPanel.tsx';
import { TimeParts } from './TimeParts.tsx';
import { laidPieces } from './layoutState.ts';
import type { Bench } from './useBench.ts';

interface FiguresPanelProps {
  readonly run: RunDetail;
  readonly bench: Bench;
  readonly selected: ReadonlySet<string>;
  readonly onLeft: () => void;
}

export function FiguresPanel({ run, bench, selected, onLeft }: FiguresPanelProps) {
  const { data: printers } = usePrinters();
  const printer = printers?.find((each) => each.id === run.printerId);
  const { figures, layout } = bench;
  const lengthMm = figures?.lengthMm ?? 0;
  const { pieces, mediaWidthMm, mode, span, dryOut, cutOff } = run;
  const time = useMemo(() => {
    if (!printer) return undefined;
    const laid = laidPieces({ pieces }, layout.places);
    return runTime({ lengthMm, mediaWidthMm, mode, span, dryOut, cutOff, pieces: laid }, printer.config.machine);
  }, [printer, lengthMm, pieces, mediaWidthMm, mode, span, dryOut, cutOff, layout.places]);
  const used = lengthFigure(lengthMm);
  const over = figures && figures.boundMm > 0 ? lengthMm / figures.boundMm - 1 : 0;
  return (
    <aside aria-label="Figures" className="flex w-[292px] shrink-0 flex-col border-l border-rule bg-card">
      <div className="min-h-0 flex-1 overflow-y-auto px-4 py-3">
        {bench.trouble !== undefined && (
          <p className="mb-3 text-stop" role="alert">
            {bench.trouble}
          </p>
        )}
        <Section title="Used length">
          <p data-testid="used-length">
            <Figure large value={used.value} unit={used.unit} />
          </p>
          <Row label="No layout can beat">
            <Figure value={number(figures?.boundMm ?? 0, 1)} unit="mm" />
          </Row>
          <Row label="Above that bound">
            <Figure value={number(Math.max(0, over) * 100, 1)} unit="%" />
          </Row>
          <Row label="Utilisation">
            <Figure value={number((figures?.utilisation ?? 0) * 100, 1)} unit={`% of ${number(run.mediaWidthMm)} mm`} />
          </Row>
          <Clashes bench={bench} />
        </Section>
        {selected.size > 0 && <ChosenPieces run={run} bench={bench} selected={selected} />}
        <MediaFigures run={run} lengthMm={lengthMm} pieceAreaMm2={figures?.pieceAreaMm2 ?? 0} />
        {time && lengthMm > 0 && (
          <Section title="Time" aside={<span className="text-lg font-semibold">{durationText(time.totalMs)}</span>}>
            <TimeParts time={time} span={run.span} />
          </Section>
        )}
        <InkEstimate run={run} />
        <StepPanel run={run} bench={bench} selected={selected} />
        {bench.editable && printer && <SegmentsPanel run={run} bench={bench} printer={printer} onLeft={onLeft} />}
        <MarksPanel bench={bench} />
        <LayoutFields bench={bench} run={run} />
      </div>
      <RunActions run={run} bench={bench} printerName={printer?.name ?? ''} onLeft={onLeft} />
    </aside>
  );
}

interface MediaFiguresProps {
  readonly run: RunDetail;
  readonly lengthMm: number;
  readonly pieceAreaMm2: number;
}

/** What this run takes from the spool, after the runs that go before it on the same one. */
function MediaFigures({ run, lengthMm, pieceAreaMm2 }: MediaFiguresProps) {
  const { data: printers } = usePrinters();
  const { data: spools } = useSpools();
  const { data: runs } = useRuns();
  const printer = printers?.find((each) => each.id === run.printerId);
  const spool = spools?.find((each) => each.id === run.spoolId);
  const trailerMm = printer?.config.machine.trailerMm ?? 0;
  const use = mediaUse(lengthMm, trailerMm, run.mediaWidthMm, pieceAreaMm2);
  const counted = ['draft', 'queued'].includes(run.state);
  const ahead = (runs ?? []).filter((each) => goesBefore(each, run));
  const aheadMm = ahead.reduce((sum, each) => sum + each.lengthMm + trailerMm - (each.progress?.fedMm ?? 0), 0);
  const afterMm = (spool?.leftMm ?? 0) - aheadMm - use.fedMm;
  return (
    <Section title="Media">
      {!counted ? null : spool ? (
        <div className="flex items-center gap-3">
          <SpoolSign
            {...spool}
            afterMm={Math.max(0, afterMm)}
            size={76}
            label={`${spool.label} before and after this run`}
          />
          <div>
            <p className="text-soft">
              {spool.label} {spool.stockName}
            </p>
            <p className={afterMm < 0 ? 'text-stop' : ''}>
              <Figure large value={number(afterMm / 1000, 2)} unit="m" />
            </p>
            <p className="text-soft">left of {number(spool.leftMm / 1000, 2)} m</p>
          </div>
        </div>
      ) : (
        <p className="text-stop">This stock is not loaded on {printer?.name}. Load it on the Floor.</p>
      )}
      <div className="mt-2">
        {counted && ahead.length > 0 && (
          <Row label={`${ahead.length} ${ahead.length === 1 ? 'run' : 'runs'} before it`}>
            <Figure value={number(aheadMm)} unit="mm" />
          </Row>
        )}
        <Row label="Fed, with trailer">
          <Figure value={number(use.fedMm)} unit="mm" />
        </Row>
        <Row label="Waste">
          <Figure value={number(Math.max(0, use.wasteM2), 2)} unit="m²" />
        </Row>
      </div>
    </Section>
  );
}

function goesBefore(other: RunItem, run: RunDetail): boolean {
  if (other.id === run.id || other.spoolId !== run.spoolId) return false;
  if (['sent', 'printing', 'paused'].includes(other.state)) return true;
  return other.state === 'queued' && (run.state === 'draft' || other.position < run.position);
}

function Clashes({ bench }: { readonly bench: Bench }) {
  const pairs = bench.figures?.clashes.filter((clash) => clash.kind === 'pair').length ?? 0;
  const outside = (bench.figures?.clashes.length ?? 0) - pairs;
  const tight = bench.figures?.tight.length ?? 0;
  return (
    <div aria-live="polite">
      {pairs > 0 && (
        <p className="text-stop">
          {pairs} {pairs === 1 ? 'pair overlaps' : 'pairs overlap'}
        </p>
      )}
      {outside > 0 && (
        <p className="text-stop">
          {outside} {outside === 1 ? 'piece lies' : 'pieces lie'} outside the usable width
        </p>
      )}
      {tight > 0 && (
        <p className="text-wait">
          {tight} {tight === 1 ? 'pair is' : 'pairs are'} closer than the gap
        </p>
      )}
    </div>
  );
}

function InkEstimate({ run }: { readonly run: RunDetail }) {
  const { data: printers } = usePrinters();
  const channels = printers?.find((each) => each.id === run.printerId)?.config.channels ?? [];
  const used = channels.filter((channel) => (run.inkMl[channel.id] ?? 0) > 0.005);
  if (used.length === 0) return null;
  return (
    <Section title="Ink" aside={<span className="text-soft">estimate</span>}>
      {used.map((channel) => (
        <Row key={channel.id} label={channel.name}>
          <Figure value={number(run.inkMl[channel.id] ?? 0, 2)} unit="ml" />
        </Row>
      ))}
    </Section>
  );
}

function LayoutFields({ bench, run }: { readonly bench: Bench; readonly run: RunDetail }) {
  const { settings } = bench.layout;
  const disabled = !bench.editable;
  return (
    <Section title="Gap and margins">
      <div className="flex flex-col gap-1">
        <LengthField
          label="Gap"
          valueMm={settings.gapMm}
          mostMm={500}
          disabled={disabled}
          onChange={(gapMm) => {
            bench.changeSettings({ gapMm });
          }}
        />
        <LengthField
          label="Lead margin"
          valueMm={settings.leadMm}
          mostMm={5000}
          disabled={disabled}
          onChange={(leadMm) => {
            bench.changeSettings({ leadMm });
          }}
        />
        <LengthField
          label="Trail margin"
          valueMm={settings.trailMm}
          mostMm={5000}
          disabled={disabled}
          onChange={(trailMm) => {
            bench.changeSettings({ trailMm });
          }}
        />
        <LengthField
          label="Left margin"
          valueMm={settings.leftMm}
          mostMm={run.mediaWidthMm / 2 - 1}
          disabled={disabled}
          onChange={(leftMm) => {
            bench.changeSettings({ leftMm });
          }}
        />
        <LengthField
          label="Right margin"
          valueMm={settings.rightMm}
          mostMm={run.mediaWidthMm / 2 - 1}
          disabled={disabled}
          onChange={(rightMm) => {
            bench.changeSettings({ rightMm });
          }}
        />
        <label className="flex items-center justify-between pt-1">
          <span className="text-soft">Quarter turns where jobs allow</span>
          <input
            type="checkbox"
            checked={settings.quarterTurns}
            disabled={disabled}
            onChange={(event) => {
              bench.changeSettings({ quarterTurns: event.target.checked });
            }}
            className="size-4 accent-[var(--tide)]"
          />
        </label>
        <p className="text-right text-soft">
          usable {number(bench.usable.widthMm, 1)} of {number(run.mediaWidthMm)} mm
        </p>
      </div>
    </Section>
  );
}

function RunActions({
  run,
  bench,
  printerName,
  onLeft,
}: {
  readonly run: RunDetail;
  readonly bench: Bench;
  readonly printerName: string;
  readonly onLeft: () => void;
}) {
  const { tell } = useNotice();
  const [busy, setBusy] = useState(false);
  const act = (step: string) => (): void => {
    setBusy(true);
    bench
      .save()
      .then(() => sendJson('POST', `/api/runs/${run.id}/${step}`))
      .then(onLeft)
      .catch(tell)
      .finally(() => {
        setBusy(false);
      });
  };
  const clashes = bench.figures?.clashes.length ?? 0;
  return (
    <div className="flex flex-col gap-2 border-t border-rule px-4 py-3">
      {bench.editable && (
        <Button
          kind="main"
          className="h-10"
          disabled={
            busy ||
            bench.nest.running ||
            clashes > 0 ||
            bench.marks.onArt > 0 ||
            bench.figures === undefined ||
            run.spoolId === null
          }
          onClick={act('queue')}
        >
          Queue {number((bench.figures?.lengthMm ?? 0) / 1000, 2)} m on {printerName}
        </Button>
      )}
      <div className="flex gap-2">
        <a
          href={`/api/runs/${run.id}/pdf`}
          className="inline-flex h-8 flex-1 items-center justify-center gap-1.5 rounded-md border border-rule font-medium hover:border-soft"
        >
          <Download size={15} aria-hidden="true" /> PDF
        </a>
        <a
          href={`/api/runs/${run.id}/sheet`}
          className="inline-flex h-8 flex-1 items-center justify-center rounded-md border border-rule font-medium hover:border-soft"
        >
          Job sheet
        </a>
        {bench.editable && (
          <Button className="flex-1" disabled={busy} onClick={act('take-apart')}>
            Take apart
          </Button>
        )}
        {run.state === 'queued' && (
          <Button className="flex-1" disabled={busy} onClick={act('take-back')}>
            Take back
          </Button>
        )}
      </div>
    </div>
  );
}
