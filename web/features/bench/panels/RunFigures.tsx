import { FromWhat } from '../../../ui/FromWhat.tsx';
import { Figure } from '../../../ui/Figure.tsx';
import { alongText, alongFigure, acrossFigure } from '../../../ui/text/lengths.ts';
import { number } from '../../../ui/text/number.ts';
import { counted } from '../../../ui/text/counted.ts';
import { useMemo } from 'react';
import { Link } from 'react-router';
import { NOTHING_LEARNED, inkAsItGoes, learnedTime } from '../../../../core/estimate/learnedPrinter.ts';
import { likelyRatio } from '../../../../core/estimate/learnedRatio.ts';
import { runTime } from '../../../../core/estimate/runTime.ts';
import { cutPathOf, sheetsOf } from '../../../../core/estimate/cutPath.ts';
import { mediaUse } from '../../../../core/estimate/media.ts';
import { type Printer, type RunDetail, type RunItem, usePrinters, useRuns, useSpools } from '../../../api/data.ts';
import { durationText } from '../../../../core/units/durationText.ts';
import { RunCostView } from '../../../draw/CostViews.tsx';
import { SpoolSign } from '../../../draw/SpoolSign.tsx';
import { Row, Section } from '../../../ui/Sheet.tsx';
import { OffcutHint } from './OffcutHint.tsx';
import { TimeParts } from './TimeParts.tsx';
import { extentOf } from '../../../../core/layout/checkLayout.ts';
import { laidPieces } from '../state/layoutState.ts';
import type { Bench } from '../state/useBench.ts';

/** What the run takes: media, time, ink. */
export function RunFigures({ run, bench }: { readonly run: RunDetail; readonly bench: Bench }) {
  const { data: printers } = usePrinters();
  const printer = printers?.find((each) => each.id === run.printerId);
  const { figures, layout } = bench;
  const lengthMm = figures?.lengthMm ?? 0;
  const { pieces, contours, mediaWidthMm, mode, span, dryOut, dryMin, cutOff } = run;
  const { sheetMm } = bench.layout.settings;
  const contourOf = useMemo(() => new Map(pieces.map((piece) => [piece.pieceId, piece.contour])), [pieces]);
  const time = useMemo(() => {
    if (!printer) return undefined;
    const laid = laidPieces({ pieces, contours }, layout.places);
    const cut = laid.map((piece) => ({ ...piece, cut: contours[contourOf.get(piece.key) ?? '']?.cut ?? [] }));
    const { config } = printer;
    return runTime(
      {
        lengthMm,
        mediaWidthMm,
        mode,
        span,
        dryOut,
        dryMin,
        cutOff,
        pieces: laid.map(extentOf),
        sheets: sheetsOf(config.sources, sheetMm),
        contours: config.finishing.contourCut ? cutPathOf(cut) : undefined,
      },
      config.machine,
    );
  }, [
    printer,
    lengthMm,
    pieces,
    contours,
    contourOf,
    mediaWidthMm,
    mode,
    span,
    dryOut,
    dryMin,
    cutOff,
    sheetMm,
    layout.places,
  ]);
  return (
    <>
      <MediaFigures run={run} lengthMm={lengthMm} pieceAreaMm2={figures?.pieceAreaMm2 ?? 0} />
      {time && lengthMm > 0 && (
        <Section title="Time" aside={<span className="text-lg font-semibold">{durationText(time.totalMs)}</span>}>
          <TimeParts time={time} span={run.span} />
          {printer && <AsItGoes printer={printer} run={run} estimateMs={time.totalMs} />}
        </Section>
      )}
      <InkOfRun run={run} />
      <RunCostView runId={run.id} version={`${String(run.version)} ${run.state}`} />
      {run.state !== 'draft' && (
        <p className="flex gap-4">
          <Link to={`/story/run/${run.id}`} className="text-tide underline">
            Story of {run.name}
          </Link>
          <Link
            to={`/pace/what-if?run=${run.id}&of=${run.state === 'queued' ? 'what+waits' : '90+days'}`}
            className="text-tide underline"
          >
            What if …
          </Link>
        </p>
      )}
    </>
  );
}

/** The estimate corrected by what such runs of the printer really took: what plans reckon with. */
function AsItGoes({
  printer,
  run,
  estimateMs,
}: {
  readonly printer: Printer;
  readonly run: RunDetail;
  readonly estimateMs: number;
}) {
  const learned = learnedTime(printer.learned, run.mode.id, run.stockId);
  const { factor, low, high } = likelyRatio(learned);
  const off = Math.round((factor - 1) * 100);
  const range = `${durationText(estimateMs * low)} to ${durationText(estimateMs * high)}`;
  const from = learned.runs === 0 ? 'no run of it has been seen yet' : `learned from ${counted(learned.runs, 'run')}`;
  return (
    <>
      {off !== 0 && (
        <Row label={`As it goes, ${String(Math.abs(off))} % ${off > 0 ? 'slower' : 'faster'}`}>
          <FromWhat
            text={`The estimate of ${durationText(estimateMs)}, times what runs of ${printer.name} in this mode on this stock took against theirs (${number(factor, 3)}, ${from}). Few runs lean on those of the mode and of the printer.`}
          >
            {durationText(estimateMs * factor)}
          </FromWhat>
        </Row>
      )}
      <Row label="Likely">
        <FromWhat
          text={`Eight of ten such runs take ${range} (${from}). The fewer were seen, and the less alike, the wider it is.`}
        >
          {range}
        </FromWhat>
      </Row>
    </>
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
  const isPlanned = ['draft', 'queued'].includes(run.state);
  const ahead = (runs ?? []).filter((each) => goesBefore(each, run) && each.pair?.side !== 'back');
  const aheadMm = ahead.reduce((sum, each) => sum + Math.max(0, each.needMm - (each.progress?.fedMm ?? 0)), 0);
  const afterMm = (spool?.leftMm ?? 0) - aheadMm - use.fedMm;
  if (run.pair?.side === 'back') {
    return (
      <Section title="Media">
        <p className="text-soft">No new media: it is printed on what its front has fed.</p>
      </Section>
    );
  }
  return (
    <Section title="Media">
      {!isPlanned ? null : spool ? (
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
              <Figure large {...alongFigure(afterMm)} />
            </p>
            <p className="text-soft">left of {alongText(spool.leftMm)}</p>
          </div>
        </div>
      ) : (
        <p className="text-wait">
          This stock is not loaded on {printer?.name}. It may be queued; the Floor says when to load it.
        </p>
      )}
      {isPlanned && printer && <OffcutHint run={run} printer={printer} needMm={use.fedMm} />}
      <div className="mt-2">
        {isPlanned && ahead.length > 0 && (
          <Row label={`${ahead.length} ${ahead.length === 1 ? 'run' : 'runs'} before it`}>
            <Figure {...acrossFigure(aheadMm)} />
          </Row>
        )}
        <Row label="Fed, with trailer">
          <Figure {...acrossFigure(use.fedMm)} />
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

/** Ink by channel, as the printer's runs in this mode go. Channels that the run does not use are left out. */
function InkOfRun({ run }: { readonly run: RunDetail }) {
  const { data: printers } = usePrinters();
  const printer = printers?.find((each) => each.id === run.printerId);
  const inkMl = inkAsItGoes(run, printer?.learned ?? NOTHING_LEARNED);
  const used = (printer?.config.channels ?? []).filter((channel) => (inkMl[channel.id] ?? 0) > 0.005);
  if (used.length === 0) return null;
  return (
    <Section
      title="Ink"
      aside={
        <span className="text-soft">
          {run.inkSampled ? 'estimate, by its pixels' : run.inkCounted ? 'counted, dot by dot' : 'estimate'}
        </span>
      }
    >
      {used.map((channel) => (
        <Row key={channel.id} label={channel.name}>
          <Figure value={number(inkMl[channel.id] ?? 0, 2)} unit="ml" />
        </Row>
      ))}
      <Link to={`/bench/${run.id}/channels`} className="text-tide underline">
        Channels, dot by dot
      </Link>
    </Section>
  );
}
