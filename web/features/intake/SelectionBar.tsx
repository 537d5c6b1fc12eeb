import type { JobItem, Queue } from '../../api/data.ts';
import { Button } from '../../ui/Button.tsx';
import { number } from '../../ui/Figure.tsx';

interface SelectionBarProps {
  readonly jobs: readonly JobItem[];
  readonly queues: readonly Queue[];
  readonly onLayOut: () => void;
  readonly onClear: () => void;
}

export function SelectionBar({ jobs, queues, onLayOut, onClear }: SelectionBarProps) {
  const pieces = jobs.reduce((sum, job) => sum + job.pieces.owed, 0);
  const area = jobs.reduce((sum, job) => sum + (job.pieces.owed * (job.widthMm ?? 0) * (job.heightMm ?? 0)) / 1e6, 0);
  const names = [...new Set(jobs.map((job) => job.queueId))].map(
    (id) => queues.find((queue) => queue.id === id)?.name ?? '',
  );
  return (
    <div
      className="flex items-center gap-4 border-t border-ink bg-card px-5 py-2.5"
      role="region"
      aria-label="Chosen jobs"
    >
      <span>
        <span className="font-semibold">
          {number(jobs.length)} {jobs.length === 1 ? 'job' : 'jobs'}
        </span>
        <span className="text-soft">
          , {number(pieces)} pieces owed, {number(area, 2)} m²
        </span>
        {names.length > 1 && <span className="text-wait"> in {names.join(' and ')}: a run takes one queue</span>}
      </span>
      <span className="flex-1" />
      <Button kind="quiet" onClick={onClear}>
        Choose none
      </Button>
      <Button kind="main" onClick={onLayOut} disabled={pieces === 0 || names.length > 1}>
        Lay out {number(pieces)} {pieces === 1 ? 'piece' : 'pieces'}
        {names.length === 1 ? ` for ${names[0] ?? ''}` : ''}
      </Button>
    </div>
  );
}
