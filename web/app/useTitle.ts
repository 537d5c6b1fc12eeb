import { useEffect } from 'react';
import { useLocation } from 'react-router';
import { usePrinters, useRuns } from '../api/data.ts';
import { useAlerts } from './alerts/useAlerts.ts';
import { VIEWS } from './views.ts';

/** The title of the page names what is open, after the number of printers that stand: a tab in the background tells it, too. */
export function useTitle(): void {
  const { pathname, search } = useLocation();
  const { data: printers } = usePrinters();
  const { data: runs } = useRuns();
  const { alerts } = useAlerts();
  const [, view = '', id] = pathname.split('/');
  const viewName = VIEWS.find(({ path }) => path === `/${view}`)?.name;
  const printerId = new URLSearchParams(search).get('printer');
  const open =
    id === 'batches'
      ? 'Batches'
      : id !== undefined
        ? runs?.find((run) => run.id === id)?.name
        : printers?.find((printer) => printer.id === printerId)?.name;
  const title = [open, viewName, 'Yellow Spool'].filter(Boolean).join(' · ');
  const count = alerts.length;
  useEffect(() => {
    document.title = count > 0 ? `(${String(count)}) ${title}` : title;
  }, [title, count]);
}
