import { TriangleAlert } from 'lucide-react';
import { useStorage } from '../api/data.ts';

/** Stands over every view while the disk is short of room or the database can't be written. */
export function StorageBanner() {
  const { data } = useStorage();
  if (!data || data.state === 'fine' || data.text === null) return null;
  const stopped = data.state !== 'low';
  return (
    <div
      role={stopped ? 'alert' : 'status'}
      className={`flex items-center gap-3 border-b px-4 py-2 ${stopped ? 'border-stop bg-stop/15' : 'border-wait bg-wait/15'}`}
    >
      <TriangleAlert size={18} aria-hidden="true" className={`shrink-0 ${stopped ? 'text-stop' : 'text-wait'}`} />
      <p>
        <strong className="font-semibold">{data.text}</strong> {data.remedy}
      </p>
    </div>
  );
}
