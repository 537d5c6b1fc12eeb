import { Dialog } from '../ui/Dialog.tsx';
import { useLocation } from 'react-router';
import { VIEWS } from './views.ts';

const EVERYWHERE: [string, string][] = [
  ['/', 'Find a job, run, printer or view'],
  ...VIEWS.map((view): [string, string] => [`g ${view.key}`, `Go to ${view.name}`]),
  ['?', 'These keys'],
];

/** Keys of one view; those that work everywhere stand above them. */
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
    [', .', 'Choose the piece before, the next piece'],
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

/** `?`: the keys of this view and those that work everywhere. */
export function KeysHelp({ open, onClose }: { readonly open: boolean; readonly onClose: () => void }) {
  const view = `/${useLocation().pathname.split('/')[1] ?? ''}`;
  return (
    <Dialog title="Keys that work here" open={open} onClose={onClose} className="w-[440px] p-5">
      <div className="mt-3">
        <KeyList rows={HERE[view] ?? []} />
      </div>
      <p className="mt-4 mb-1 text-soft">Everywhere</p>
      <KeyList rows={EVERYWHERE} />
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
