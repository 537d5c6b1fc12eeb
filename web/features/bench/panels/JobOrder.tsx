import { number } from '../../../ui/text/number.ts';
import {
  type Announcements,
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  type UniqueIdentifier,
  PointerSensor,
  closestCenter,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import {
  SortableContext,
  arrayMove,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { GripVertical } from 'lucide-react';
import { inJobOrder } from '../../../../core/layout/runNest.ts';
import type { RunDetail } from '../../../api/data.ts';
import type { Bench } from '../state/useBench.ts';

interface Job {
  readonly id: string;
  readonly name: string;
  readonly pieces: number;
}

function jobsOf(pieces: RunDetail['pieces'], jobOrder: readonly string[]): Job[] {
  const jobs = new Map<string, Job>();
  for (const { jobId, sourceName } of inJobOrder(pieces, jobOrder)) {
    const known = jobs.get(jobId);
    jobs.set(jobId, { id: jobId, name: sourceName, pieces: (known?.pieces ?? 0) + 1 });
  }
  return [...jobs.values()];
}

/** The jobs of a run in the order in which rows and places are filled: dragged, or moved by keys. */
export function JobOrder({ run, bench }: { readonly run: RunDetail; readonly bench: Bench }) {
  const jobs = jobsOf(run.pieces, bench.layout.settings.jobOrder ?? []);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  if (jobs.length < 2) return null;
  const ids = jobs.map((job) => job.id);
  const nameOf = (id: UniqueIdentifier): string => jobs.find((job) => job.id === id)?.name ?? '';
  const placeOf = (id: UniqueIdentifier): string => String(ids.indexOf(String(id)) + 1);
  const announcements: Announcements = {
    onDragStart: ({ active }) => `${nameOf(active.id)} is held, number ${placeOf(active.id)}.`,
    onDragOver: ({ active, over }) =>
      over ? `${nameOf(active.id)} would be number ${placeOf(over.id)} of ${String(ids.length)}.` : undefined,
    onDragEnd: ({ active, over }) => (over ? `${nameOf(active.id)} is number ${placeOf(over.id)}.` : undefined),
    onDragCancel: ({ active }) => `${nameOf(active.id)} stays where it was.`,
  };
  const onDragEnd = ({ active, over }: DragEndEvent): void => {
    if (!over || active.id === over.id) return;
    const moved = arrayMove(ids, ids.indexOf(String(active.id)), ids.indexOf(String(over.id)));
    bench.changeSettings({ jobOrder: moved });
  };
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      accessibility={{ announcements }}
      onDragEnd={onDragEnd}
    >
      <SortableContext items={ids} strategy={verticalListSortingStrategy} disabled={!bench.editable}>
        <ol aria-label="Order of the jobs" className="max-h-56 overflow-y-auto rounded border border-rule">
          {jobs.map((job, i) => (
            <JobLine key={job.id} job={job} no={i + 1} />
          ))}
        </ol>
      </SortableContext>
    </DndContext>
  );
}

/** One job in the order in which places are filled; moved by its grip, by pointer or by keys. */
function JobLine({ job, no }: { readonly job: Job; readonly no: number }) {
  const { attributes, listeners, setNodeRef, transform, transition, isDragging } = useSortable({ id: job.id });
  return (
    <li
      ref={setNodeRef}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      className={`flex items-center gap-1.5 border-b border-rule px-1 py-1 last:border-b-0 ${isDragging ? 'bg-rule/60' : 'bg-card'}`}
    >
      <button
        type="button"
        aria-label={`Move ${job.name}`}
        title="Drag, or press space and move with the arrows"
        className="cursor-grab touch-none rounded p-0.5 text-soft hover:text-ink"
        {...attributes}
        {...listeners}
      >
        <GripVertical size={14} aria-hidden="true" />
      </button>
      <span className="w-4 text-right text-soft">{no}</span>
      <span className="min-w-0 flex-1 truncate" title={job.name}>
        {job.name}
      </span>
      <span className="dense text-soft">{number(job.pieces)}</span>
    </li>
  );
}
