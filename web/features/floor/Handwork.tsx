import type { Printer, RunItem } from '../../api/data.ts';
import { number } from '../../ui/Figure.tsx';
import { StateShape } from '../../draw/StateShape.tsx';

interface Task {
  readonly key: string;
  readonly printerId: string;
  readonly text: string;
}

/** What a person has to do now so that printing goes on. */
function tasksOf(printers: readonly Printer[], runs: readonly RunItem[]): Task[] {
  return printers.flatMap((printer): Task[] => {
    const own = runs.filter((run) => run.printerId === printer.id);
    const stuck = own.find((run) => run.state === 'paused');
    if (printer.state === 'off')
      return [{ key: printer.id, printerId: printer.id, text: `${printer.name} does not answer` }];
    if (printer.state === 'faulted')
      return [{ key: printer.id, printerId: printer.id, text: `${printer.name}: ${printer.reason ?? 'fault'}` }];
    if (stuck)
      return [
        {
          key: printer.id,
          printerId: printer.id,
          text: `${printer.name} waits: ${stuck.reason ?? printer.reason ?? 'paused'}`,
        },
      ];
    const next = own.find((run) => run.state === 'queued');
    const spool = printer.spools.find((each) => each.id === next?.spoolId);
    if (next?.pair?.side === 'back' && next.pair.frontPrinted && !next.pair.confirmed)
      return [
        {
          key: printer.id,
          printerId: printer.id,
          text: `Turn the media on ${printer.name} ${next.pair.turn} for the back, and confirm it`,
        },
      ];
    if (next && !spool)
      return [
        {
          key: printer.id,
          printerId: printer.id,
          text: `Load media for ${next.name} on ${printer.name}`,
        },
      ];
    if (
      next &&
      next.pair?.side !== 'back' &&
      spool &&
      spool.leftMm < next.lengthMm + printer.config.machine.trailerMm
    ) {
      const left = `${number(spool.leftMm / 1000, 2)} m of ${number(next.lengthMm / 1000, 2)} m`;
      return [
        { key: printer.id, printerId: printer.id, text: `${spool.label} is too short for ${next.name}: ${left}` },
      ];
    }
    return [];
  });
}

export function Handwork({
  printers,
  runs,
  onPrinter,
}: {
  readonly printers: readonly Printer[];
  readonly runs: readonly RunItem[];
  readonly onPrinter: (id: string) => void;
}) {
  const tasks = tasksOf(printers, runs);
  const printing = printers.filter((printer) => printer.state === 'printing').length;
  if (tasks.length === 0) {
    return (
      <p className="flex items-center gap-2 text-soft">
        <StateShape shape={printing > 0 ? 'printing' : 'idle'} />
        {printing > 0
          ? `${String(printing)} of ${String(printers.length)} printing; no hand is needed`
          : 'Nothing is printing; no hand is needed'}
      </p>
    );
  }
  return (
    <ul className="flex flex-wrap gap-2" aria-label="Next hands">
      {tasks.map((task) => (
        <li key={task.key}>
          <button
            type="button"
            onClick={() => {
              onPrinter(task.printerId);
            }}
            className="flex items-center gap-2 rounded-md border border-wait bg-card px-2.5 py-1 font-medium hover:bg-rule/40"
          >
            <StateShape shape="waiting" /> {task.text}
          </button>
        </li>
      ))}
    </ul>
  );
}
