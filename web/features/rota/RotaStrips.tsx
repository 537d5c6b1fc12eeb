import { usePrinters } from '../../api/data.ts';
import { TimerSign } from '../../draw/TimerSign.tsx';
import { DndContext, type DragMoveEvent, PointerSensor, useSensor, useSensors } from '@dnd-kit/core';
import { useRef } from 'react';
import type { RotaItem, RotaView } from '../../../contract/api/care.ts';
import { useRoving } from '../../ui/useRoving.ts';
import { RotaStrip } from './RotaStrip.tsx';
import type { RotaSpan } from './rotaTime.ts';
import type { Moves } from './useMoves.ts';

/** The time of every printer, one below another. What is movable is drawn along its strip, or moved by keys. */
export function RotaStrips({
  rota,
  span,
  nowMs,
  zone,
  chosenId,
  moves,
  onChoose,
}: {
  readonly rota: RotaView | undefined;
  readonly span: RotaSpan;
  readonly nowMs: number;
  readonly zone: string;
  readonly chosenId: string | null;
  readonly moves: Moves;
  readonly onChoose: (item: RotaItem) => void;
}) {
  const list = useRef<HTMLDivElement>(null);
  const onKeyDown = useRoving(list);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 5 } }));
  const draw = ({ active, delta, activatorEvent }: DragMoveEvent): void => {
    const item = active.data.current?.['item'] as RotaItem | undefined;
    const strip = activatorEvent.target instanceof Element ? activatorEvent.target.closest('[data-time-strip]') : null;
    if (item && strip) moves.draw(item, (delta.x / strip.clientWidth) * (span.toMs - span.fromMs));
  };
  return (
    <DndContext
      sensors={sensors}
      autoScroll={false}
      accessibility={{ screenReaderInstructions: { draggable: '' } }}
      onDragMove={draw}
      onDragEnd={moves.keep}
      onDragCancel={moves.leave}
    >
      <div ref={list} onKeyDown={onKeyDown} role="group" aria-label="Printers">
        {!rota && <p className="px-5 py-3 text-soft">Reading …</p>}
        {rota?.printers.map((printer) => (
          <div key={printer.printerId} className="flex border-b border-rule">
            <h2 className="w-28 shrink-0 px-5 py-2 font-semibold max-phone:w-20 max-phone:px-2">
              {printer.name}
              <TimerSignOf printerId={printer.printerId} />
            </h2>
            <RotaStrip
              printer={printer}
              span={span}
              attended={rota.attended}
              nowMs={nowMs}
              zone={zone}
              chosenId={chosenId}
              moves={moves}
              onChoose={onChoose}
            />
          </div>
        ))}
      </div>
    </DndContext>
  );
}

function TimerSignOf({ printerId }: { readonly printerId: string }) {
  const { data: printers } = usePrinters();
  const printer = printers?.find(({ id }) => id === printerId);
  return printer ? <TimerSign printer={printer} /> : null;
}
