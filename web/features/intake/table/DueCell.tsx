import type { JobItem } from '../../../api/data.ts';
import { durationText } from '../../../../core/units/durationText.ts';
import { dayAndTime } from '../../../app/shopTime.ts';
import { isOver } from './filter.ts';
import { useRisk } from './lateness.ts';

/** When it is due; and, as soon as that is so, that it will not make it. */
export function DueCell({
  job,
  seen,
  nowMs,
  zone,
}: {
  readonly job: JobItem;
  readonly seen: boolean;
  readonly nowMs: number | undefined;
  readonly zone: string;
}) {
  const risk = useRisk(job, seen);
  if (job.dueMs === null) return null;
  const [day, time] = dayAndTime(job.dueMs, nowMs ?? job.dueMs, zone);
  const over = isOver(job);
  const isLate = nowMs !== undefined && nowMs > job.dueMs && !over;
  if (isLate) return <TwoLines tone="text-stop" first="late" second={`${day} ${time}`} />;
  if (risk && !over) {
    return (
      <span title={`Will be late by ${durationText(risk.lateMs)}: ${risk.why}`}>
        <TwoLines tone="text-stop" first={`${day} ${time}`} second={`will be ${durationText(risk.lateMs)} late`} />
      </span>
    );
  }
  return <TwoLines tone="" first={day} second={time} />;
}

function TwoLines({ tone, first, second }: { readonly tone: string; readonly first: string; readonly second: string }) {
  return (
    <span className={tone}>
      <span className="block truncate">{first}</span>
      <span className={`dense block truncate ${tone === '' ? 'text-soft' : ''}`}>{second}</span>
    </span>
  );
}
