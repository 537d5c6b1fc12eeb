import { useEffect, useMemo, useState } from 'react';
import useSWR from 'swr';
import type { AwayChangeView, AwayDrivers, AwaySimulation } from '../../../contract/api/away.ts';
import type { TaskView } from '../../../contract/api/task.ts';
import { getJson, sendJson } from '../../api/client.ts';
import { usePrinters, useRuns, useSpools } from '../../api/data.ts';
import { useSettled } from '../../ui/useSettled.ts';

export interface Period {
  readonly fromMs: number;
  readonly toMs: number;
}

/** What a person has ticked: it counts as done. */
export interface Ticked {
  readonly key: string;
  readonly text: string;
  readonly change: AwayChangeView;
}

export interface Simulated {
  readonly simulation: AwaySimulation | undefined;
  readonly error: Error | undefined;
  /** What is shown is of before; the new one is being worked out. */
  readonly working: boolean;
  readonly again: () => void;
}

/** What changes plans: who stands, what is loaded, what waits. Not how far a run is. */
function useFloorWord(): string {
  const { data: printers } = usePrinters();
  const { data: runs } = useRuns();
  const { data: spools } = useSpools();
  return useMemo(() => {
    const lines = (runs ?? []).map(
      ({ id, state, position, printerId }) => `${id} ${state} ${String(position)} ${printerId}`,
    );
    const stands = (printers ?? []).map(({ id, state, care }) => `${id} ${state} ${String(care.length)}`);
    const loaded = (spools ?? []).map(({ id, printerId, sourceId, receivedMm }) =>
      [id, printerId, sourceId, receivedMm].join(' '),
    );
    return [...lines, ...stands, ...loaded].join('\n');
  }, [printers, runs, spools]);
}

/** Changes of the floor come in bunches: one simulation follows them (ms). */
const SETTLE_MS = 1500;

/** The plan of a time away with its odds, as if what is ticked were done; worked out anew whenever the floor changes. */
export function useSimulation(period: Period | undefined, changes: readonly AwayChangeView[]): Simulated {
  const word = useSettled(useFloorWord(), SETTLE_MS);
  const ask = period && { ...period, changes };
  const { data, error, isLoading, isValidating, mutate } = useSWR<AwaySimulation, Error>(
    ask ? ['away', JSON.stringify(ask), word] : null,
    () => sendJson<AwaySimulation>('POST', '/api/away/simulate', ask),
    { keepPreviousData: true, revalidateOnFocus: false, refreshInterval: 60_000 },
  );
  return {
    simulation: data,
    error: data && isLoading ? undefined : error,
    working: isLoading || isValidating,
    again: () => void mutate(),
  };
}

/** What would raise the odds most, once the server has found out; null: it is still at it. */
export function useDrivers(taskId: string | null | undefined): AwayDrivers | null | undefined {
  const [found, setFound] = useState<{ readonly taskId: string; readonly drivers: AwayDrivers } | null>(null);
  useEffect(() => {
    if (taskId == null) return undefined;
    let ended = false;
    let timer = 0;
    const look = async (): Promise<void> => {
      const task = await getJson<TaskView>(`/api/tasks/${taskId}`).catch(() => undefined);
      if (ended || !task || task.state === 'failed' || task.state === 'cancelled') return;
      if (task.state === 'done') setFound({ taskId, drivers: (task.result ?? []) as AwayDrivers });
      else timer = window.setTimeout(() => void look(), 700);
    };
    void look();
    return () => {
      ended = true;
      window.clearTimeout(timer);
    };
  }, [taskId]);
  if (taskId == null) return undefined;
  return found?.taskId === taskId ? found.drivers : null;
}
