import { number } from '../../ui/text/number.ts';
import { counted } from '../../ui/text/counted.ts';
import type { JobItem } from '../../api/data.ts';
import { Button } from '../../ui/Button.tsx';
import { durationText } from '../../../core/units/durationText.ts';
import { WorksheetButton } from './sheet/WorksheetButton.tsx';
import { totalsOf, type Shop } from './table/rows.ts';
import { May } from '../../people/May.tsx';

interface SelectionBarProps {
  readonly jobs: readonly JobItem[];
  readonly shop: Shop;
  readonly onLayOut: () => void;
  readonly onEdit: () => void;
  readonly onClear: () => void;
}

/** What is done with all jobs that are chosen, with their sums. */
export function SelectionBar({ jobs, shop, onLayOut, onEdit, onClear }: SelectionBarProps) {
  const pieces = jobs.reduce((sum, job) => sum + job.pieces.owed, 0);
  const { areaM2, hours } = totalsOf(jobs, shop);
  // Queues that feed one printer may share a run.
  const names = [...new Set(jobs.map((job) => shop.words.printerOf(job.queueId)))];
  return (
    <div
      className="flex flex-wrap items-center gap-x-4 gap-y-2 border-t border-ink bg-card px-5 py-2.5"
      role="region"
      aria-label="Chosen jobs"
    >
      <span>
        <span className="font-semibold">{counted(jobs.length, 'job')}</span>
        <span className="text-soft">
          , {counted(pieces, 'piece')} owed, {number(areaM2, 2)} m²
          {hours > 0 ? `, about ${durationText(hours * 3_600_000)}` : ''}
        </span>
        {names.length > 1 && <span className="text-wait"> in {names.join(' and ')}: a run takes one printer</span>}
      </span>
      <span className="flex-1" />
      <Button kind="quiet" onClick={onClear}>
        Choose none
      </Button>
      <WorksheetButton jobs={jobs} />
      <May right="coordinate">
        <Button onClick={onEdit}>
          {jobs.length === 1 ? 'Change its ticket' : `Change ${number(jobs.length)} tickets`}
        </Button>
        <Button kind="main" onClick={onLayOut} disabled={pieces === 0 || names.length > 1}>
          {pieces === 0 ? 'Nothing is owed' : `Lay out ${counted(pieces, 'piece')}`}
          {pieces > 0 && names.length === 1 ? ` for ${names[0] ?? ''}` : ''}
        </Button>
      </May>
    </div>
  );
}
