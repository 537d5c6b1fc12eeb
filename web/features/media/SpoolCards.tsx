import { TimerSign } from '../../draw/TimerSign.tsx';
import { useDraggable, useDroppable } from '@dnd-kit/core';
import type { Printer, SpoolView } from '../../api/data.ts';
import { SpoolSign } from '../../draw/SpoolSign.tsx';
import { leftFigure } from '../../media/spoolText.ts';
import { type SpoolDrag, sourceKey } from './useSpoolDrag.ts';
import { useMay } from '../../people/May.tsx';

/** All rolls of the rack are drawn to one scale: px for each mm of radius. */
const PX_PER_MM = 0.36;

/** A spool on the rack, drawn to the scale of all of them; it can be carried to a source. */
export function OnRack({
  spool,
  printer,
  on,
  onClick,
}: {
  readonly spool: SpoolView;
  readonly printer: Printer | undefined;
  readonly on: boolean;
  readonly onClick: () => void;
}) {
  const mayCarry = useMay('operate');
  const { attributes, listeners, setNodeRef, isDragging } = useDraggable({ id: spool.id, disabled: !mayCarry });
  const left = leftFigure(spool);
  const size =
    spool.sheetMm === null
      ? Math.max(
          34,
          2 * PX_PER_MM * Math.sqrt((spool.coreMm / 2) ** 2 + (spool.receivedMm * spool.thicknessMm) / Math.PI),
        )
      : 52;
  return (
    <button
      ref={setNodeRef}
      type="button"
      {...attributes}
      {...listeners}
      aria-roledescription={mayCarry ? 'spool, can be carried' : 'spool'}
      aria-pressed={on}
      onClick={onClick}
      className={`flex touch-none flex-col items-center rounded-md border border-transparent px-1.5 py-1 hover:bg-rule/40 aria-pressed:border-ink aria-pressed:bg-spool/10 ${isDragging ? 'opacity-40' : ''}`}
    >
      <SpoolSign {...spool} size={size} label={`${spool.label}, ${left.value} ${left.unit} left`} />
      <span className="font-medium">{spool.label}</span>
      <span className="dense">
        {left.value} <span className="text-soft">{left.unit}</span>
      </span>
      <span className="dense text-soft">
        {printer ? printer.name : spool.kind === 'offcut' ? 'offcut' : spool.place}
      </span>
    </button>
  );
}

/** What stands in the sources of a printer; a spool may be put down on each. */
export function InPrinter({
  printer,
  drag,
  on,
  onClick,
}: {
  readonly printer: Printer;
  readonly drag: SpoolDrag;
  readonly on: boolean;
  readonly onClick: () => void;
}) {
  return (
    <div className={`rounded-md border bg-card hover:border-soft ${on ? 'border-ink bg-spool/10' : 'border-rule'}`}>
      <button
        type="button"
        aria-pressed={on}
        onClick={onClick}
        className="block w-full px-2.5 pt-1.5 text-left font-medium"
      >
        {printer.name}
        <TimerSign printer={printer} />
      </button>
      <ul className="dense px-1 pb-1">
        {printer.config.sources.map((source) => (
          <SourcePlace key={source.id} printer={printer} source={source} drag={drag} onClick={onClick} />
        ))}
      </ul>
    </div>
  );
}

function SourcePlace({
  printer,
  source,
  drag,
  onClick,
}: {
  readonly printer: Printer;
  readonly source: Printer['config']['sources'][number];
  readonly drag: SpoolDrag;
  readonly onClick: () => void;
}) {
  const key = sourceKey(printer.id, source.id);
  const spool = printer.spools.find((each) => each.sourceId === source.id);
  const { dragged } = drag;
  const fits = dragged !== null && dragged.printerId === null && drag.wrong(dragged, printer, source.id) === null;
  const { setNodeRef } = useDroppable({ id: key, disabled: dragged !== null && !fits });
  return (
    <li
      ref={setNodeRef}
      className={`flex justify-between gap-2 rounded border px-1.5 py-0.5 ${
        fits
          ? drag.over === key
            ? 'border-ink bg-spool text-on-spool'
            : 'border-dashed border-ink'
          : 'border-transparent'
      }`}
    >
      <span className={`truncate ${drag.over === key ? '' : 'text-soft'}`}>{source.name}</span>
      {spool ? (
        <LoadedSpool spool={spool} name={`${spool.label} in ${printer.name} ${source.name}`} onClick={onClick} />
      ) : (
        <span className="shrink-0">empty</span>
      )}
    </li>
  );
}

function LoadedSpool({
  spool,
  name,
  onClick,
}: {
  readonly spool: SpoolView;
  readonly name: string;
  readonly onClick: () => void;
}) {
  const mayCarry = useMay('operate');
  const { attributes, listeners, setNodeRef, isDragging } = useDraggable({ id: `in:${spool.id}`, disabled: !mayCarry });
  const left = leftFigure(spool);
  return (
    <button
      ref={setNodeRef}
      type="button"
      {...attributes}
      {...listeners}
      aria-roledescription={mayCarry ? 'spool, can be carried' : 'spool'}
      aria-label={`${name}, ${left.value} ${left.unit}`}
      onClick={onClick}
      className={`shrink-0 touch-none rounded hover:underline ${isDragging ? 'opacity-40' : ''}`}
    >
      {spool.label} {left.value} {left.unit}
    </button>
  );
}
