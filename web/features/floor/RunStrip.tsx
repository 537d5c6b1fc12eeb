import { useNavigate } from 'react-router';
import { useRun, type RunItem } from '../../api/data.ts';
import { clockText, durationText, useZone } from '../../app/shopTime.ts';
import { StateShape, shapeOf } from '../../draw/StateShape.tsx';
import { number } from '../../ui/Figure.tsx';
import { NestThumb } from './NestThumb.tsx';
import { ticksOf } from './TimeRuler.tsx';
import { at, widthOf, type TimeScale } from './timeScale.ts';

export interface StripRun {
  readonly run: RunItem;
  readonly fromMs: number;
  readonly toMs: number;
}

interface RunStripProps {
  readonly runs: readonly StripRun[];
  readonly scale: TimeScale;
  readonly nowMs: number;
  readonly printerName: string;
}

export function RunStrip({ runs, scale, nowMs, printerName }: RunStripProps) {
  const zone = useZone();
  return (
    <div className="relative min-w-0 flex-1 overflow-hidden">
      {ticksOf(scale, zone).map((ms) => (
        <span key={ms} className="absolute inset-y-0 border-l border-rule/70" style={{ left: at(scale, ms) }} />
      ))}
      <span
        className="absolute inset-y-0 border-l-2 border-ink"
        style={{ left: at(scale, nowMs) }}
        aria-hidden="true"
      />
      {runs.map((each) => (
        <RunBar key={each.run.id} {...each} scale={scale} nowMs={nowMs} />
      ))}
      {!runs.some((each) => each.toMs > nowMs) && (
        <span
          className="absolute top-1/2 -translate-y-1/2 pl-3 whitespace-nowrap text-soft"
          style={{ left: at(scale, nowMs) }}
        >
          Nothing queued on {printerName}
        </span>
      )}
    </div>
  );
}

function RunBar({ run, fromMs, toMs, scale, nowMs }: StripRun & { readonly scale: TimeScale; readonly nowMs: number }) {
  const navigate = useNavigate();
  const zone = useZone();
  const { data: detail } = useRun(run.id);
  const printed = run.reachedMm ?? 0;
  const done = run.state === 'printed' ? 1 : run.lengthMm > 0 ? Math.min(1, printed / run.lengthMm) : 0;
  const past = run.endedMs !== null;
  const late = run.dueMs !== null && toMs > run.dueMs;
  const words =
    run.state === 'printing' || run.state === 'paused'
      ? `${number(printed / 1000, 2)} of ${number(run.lengthMm / 1000, 2)} m, ${durationText(Math.max(0, toMs - nowMs))} left`
      : past
        ? `${run.state} ${run.state === 'printed' ? '' : `at ${number(printed / 1000, 2)} m`}`
        : `${number(run.lengthMm / 1000, 2)} m, from ${clockText(fromMs, nowMs, zone)}`;
  const name = `${run.name}, ${run.state}, ${words}${late ? ', late' : ''}`;
  return (
    <button
      type="button"
      title={name}
      aria-label={name}
      onClick={() => void navigate(`/bench/${run.id}`)}
      className={`@container absolute top-3 bottom-3 overflow-hidden rounded-[3px] border bg-card text-left ${past ? 'border-rule opacity-80' : 'border-ink'} ${run.state === 'paused' ? 'border-wait' : ''} ${run.state === 'failed' ? 'border-stop' : ''}`}
      style={{ left: at(scale, fromMs), width: widthOf(scale, fromMs, toMs), minWidth: 6 }}
    >
      <span className="absolute inset-x-0 top-0 bottom-[38px] bg-paper">{detail && <NestThumb run={detail} />}</span>
      <span
        className={`absolute top-0 bottom-[38px] left-0 border-r-2 ${run.state === 'failed' ? 'border-stop bg-stop/25' : 'border-go bg-go/25'}`}
        style={{ width: `${String(done * 100)}%`, display: done > 0 ? undefined : 'none' }}
      />
      <span className="absolute inset-x-0 bottom-0 h-[38px] border-t border-rule px-1.5 py-0.5">
        <span className="flex items-center gap-1.5 truncate font-medium">
          <StateShape shape={shapeOf(run.state)} size={12} />
          <span className="@max-[56px]:hidden">{run.name}</span>
        </span>
        <span className={`dense block truncate @max-[90px]:hidden ${late ? 'text-stop' : 'text-soft'}`}>
          {late ? 'late: ' : ''}
          {words}
        </span>
      </span>
    </button>
  );
}
