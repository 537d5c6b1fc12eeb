import type { AwayEventView, AwaySimulation } from '../../../contract/api/away.ts';
import { usePrinterName } from '../../api/data.ts';
import { clockText, useZone } from '../../app/shopTime.ts';
import { CARE_SIGNS } from '../../draw/careSigns.tsx';
import { durationText } from '../../../core/units/durationText.ts';
import { type Column, DataTable } from '../../ui/DataTable.tsx';
import { counted } from '../../ui/text/counted.ts';
import { number } from '../../ui/text/number.ts';
import { End } from './outcomes.tsx';

/** Everything that the time away holds, in the order of time, with its end and why. */
export function EventList({ simulation, nowMs }: { readonly simulation: AwaySimulation; readonly nowMs: number }) {
  const zone = useZone();
  const name = usePrinterName();
  const { byRun } = simulation.odds;
  const columns: readonly Column<AwayEventView>[] = [
    {
      id: 'when',
      title: 'When',
      className: 'whitespace-nowrap',
      sortBy: ({ atMs }) => atMs,
      cell: ({ atMs, outcome, toMs, kind }) => (
        <>
          {clockText(atMs, nowMs, zone)}
          {kind === 'run' && outcome === 'done' && <span className="text-soft"> {durationText(toMs - atMs)}</span>}
        </>
      ),
    },
    {
      id: 'printer',
      title: 'Printer',
      className: 'max-phone:hidden',
      sortBy: ({ printerId }) => name(printerId),
      cell: ({ printerId }) => name(printerId),
    },
    {
      id: 'what',
      title: 'What',
      cell: ({ what, kind, pieces, printerId }) => (
        <>
          <span className="hidden text-soft max-phone:block">{name(printerId)}</span>
          {what}
          <span className="text-soft"> {kind === 'run' ? counted(pieces, 'piece') : CARE_SIGNS[kind].word}</span>
        </>
      ),
    },
    {
      id: 'end',
      title: 'Ends',
      sortBy: ({ outcome }) => outcome,
      cell: ({ outcome, why, lateMs }) => (
        <>
          <End outcome={outcome} />
          {why !== '' && <span className="ml-1.5">{why}</span>}
          {lateMs > 60_000 && <span className="ml-1.5 text-stop">{durationText(lateMs)} late</span>}
        </>
      ),
    },
    {
      id: 'odds',
      title: 'Chance',
      right: true,
      cell: ({ id }) => {
        const odds = byRun[id];
        return odds ? `${number(odds.chance * 100)} %` : '';
      },
    },
  ];
  return (
    <section className="mt-5">
      <h2 className="mb-1 font-semibold">What happens, in its order</h2>
      <DataTable
        label="Events of the time away"
        columns={columns}
        rows={simulation.events}
        rowId={({ id, atMs }) => `${id} ${String(atMs)}`}
        empty={<span className="text-soft">Nothing is queued and no timer falls due.</span>}
      />
    </section>
  );
}
