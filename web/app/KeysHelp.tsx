import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { useLocation } from 'react-router';
import { VIEWS } from './views.ts';

const EVERYWHERE: [string, string][] = [
  ['/', 'Find a job, run, printer or view'],
  ...VIEWS.map((view): [string, string] => [`g ${view.key}`, `Go to ${view.name}`]),
  ['?', 'These keys'],
];

const HERE: Record<string, [string, string][]> = {
  '/floor': [
    ['+  −', 'See less or more time'],
    ['Tab, Enter', 'Open a printer or a run'],
  ],
  '/intake': [
    ['↑ ↓', 'Move through the jobs'],
    ['Space', 'Choose the job'],
    ['Shift ↑ ↓', 'Choose a range'],
    ['Enter', 'Open its ticket'],
    ['l', 'Lay out the chosen jobs'],
    ['Ctrl A', 'Choose all that are shown'],
    ['Esc', 'Choose none, close the ticket'],
  ],
  '/bench': [
    ['Click, Shift click', 'Choose pieces'],
    ['Arrows', 'Move 1 mm (Shift 10 mm, Alt 0.1 mm)'],
    ['r', 'Quarter turn'],
    ['k', 'Lock or let go: what is locked stays when the rest is nested'],
    ['Ctrl A', 'Choose all pieces'],
    ['Alt drag', 'Without snapping to gaps and edges'],
    ['n', 'Nest again'],
    ['Ctrl Z, Ctrl Shift Z', 'Undo, redo'],
    ['+  −  0', 'Zoom, fit'],
    ['Esc', 'Choose none'],
  ],
};

export function KeysHelp({ open, onClose }: { readonly open: boolean; readonly onClose: () => void }) {
  const view = `/${useLocation().pathname.split('/')[1] ?? ''}`;
  return (
    <Dialog open={open} onClose={onClose} className="relative z-40">
      <div className="fixed inset-0 bg-black/30" aria-hidden="true" />
      <div className="fixed inset-0 flex items-center justify-center p-4">
        <DialogPanel className="w-[440px] rounded-lg border border-rule bg-card p-5">
          <DialogTitle className="mb-3 text-lg font-semibold">Keys that work here</DialogTitle>
          <KeyList rows={HERE[view] ?? []} />
          <p className="mt-4 mb-1 text-soft">Everywhere</p>
          <KeyList rows={EVERYWHERE} />
        </DialogPanel>
      </div>
    </Dialog>
  );
}

function KeyList({ rows }: { readonly rows: readonly (readonly [string, string])[] }) {
  return (
    <dl className="grid grid-cols-[150px_1fr] gap-y-1">
      {rows.map(([key, what]) => (
        <div key={key} className="contents">
          <dt className="font-semibold">{key}</dt>
          <dd>{what}</dd>
        </div>
      ))}
    </dl>
  );
}
