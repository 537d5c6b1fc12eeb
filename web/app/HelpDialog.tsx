import { Button } from '../ui/Button.tsx';
import { Dialog } from '../ui/Dialog.tsx';
import { setPreferences } from '../ui/preferences.ts';
import { Reading } from './Reading.tsx';
import { useLocation } from 'react-router';
import { CHANNELS, VIEW_HELP } from './helpTexts.ts';
import { VIEWS } from './views.ts';

const NO_KEYS: readonly (readonly [string, string])[] = [['Tab, Enter', 'Go through what is there, and press it']];
const EVERYWHERE: [string, string][] = [
  ['/', 'Find a job, run, printer or view'],
  ...VIEWS.map((view): [string, string] => [`g ${view.key}`, `Go to ${view.name}`]),
  ['?', 'This help'],
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
  [CHANNELS]: [
    ['+  −  0, wheel', 'Nearer, farther, all of it'],
    ['Arrows, drag', 'Look beside it'],
    ['1 … 8', 'Show or hide a channel'],
    ['Shift 1 … 8', 'That channel alone, all of them again'],
  ],
};

/** `?`: what this view is for, the keys of it and those that work everywhere, and how figures are read. */
export function HelpDialog({ open, onClose }: { readonly open: boolean; readonly onClose: () => void }) {
  const { pathname } = useLocation();
  const view = `/${pathname.split('/')[1] ?? ''}`;
  // A part of a view may have help of its own, and what is looked at of a thing.
  const [, first = '', second = '', third] = pathname.split('/');
  const parts = [`/${first}/…/${third ?? ''}`, `/${first}/${second}`, view];
  const help = parts.map((part) => VIEW_HELP[part]).find((texts) => texts !== undefined) ?? [];
  const keys = parts.map((part) => HERE[part]).find((rows) => rows !== undefined) ?? NO_KEYS;
  const name = VIEWS.find(({ path }) => path === view)?.name ?? 'Yellow Spool';
  return (
    <Dialog title={`${name}: help`} open={open} onClose={onClose} className="w-[560px] p-5">
      {help.map((text) => (
        <p key={text} className="mt-1.5">
          {text}
        </p>
      ))}
      <div className="mt-3 flex gap-2">
        <Button
          onClick={() => {
            setPreferences({ guideStep: 0 });
            onClose();
          }}
        >
          First steps
        </Button>
        <Button onClick={onClose}>Close</Button>
      </div>
      <h3 className="mt-4 font-semibold">How figures are read</h3>
      <Reading />
      <h3 className="mt-4 mb-1 font-semibold">Keys that work here</h3>
      <KeyList rows={keys} />
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
