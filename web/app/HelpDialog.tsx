import { Button } from '../ui/Button.tsx';
import { Dialog } from '../ui/Dialog.tsx';
import { Select } from '../ui/fields/Select.tsx';
import { setPreferences, UNITS, type Units, usePreferences } from '../ui/preferences.ts';
import { useLocation } from 'react-router';
import { VIEW_HELP } from './helpTexts.ts';
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
};

/** Languages whose way of writing numbers and dates can be chosen; the words of the application stay English. */
const LOCALES = [
  { value: 'en-GB', text: '1,234.5, 18 Nov, 14:20' },
  { value: 'en-US', text: '1,234.5, Nov 18, 02:20 PM' },
  { value: 'de-DE', text: '1.234,5, 18. Nov, 14:20' },
  { value: 'fr-FR', text: '1 234,5, 18 nov., 14:20' },
  { value: 'de-CH', text: '1’234.5, 18. Nov, 14:20' },
  { value: 'sv-SE', text: '1 234,5, 18 nov. 14:20' },
] as const;

const UNIT_TEXTS: Readonly<Record<Units, string>> = {
  metric: 'millimetres, metres along the media',
  mm: 'millimetres',
  cm: 'centimetres',
  m: 'metres',
  in: 'inches',
  ft: 'feet',
};

/** How this browser shows lengths, numbers and dates; fields take any unit all the same. */
function Reading() {
  const { units, locale } = usePreferences();
  return (
    <div className="mt-1 grid grid-cols-[150px_1fr] items-center gap-y-1.5">
      <span>Lengths in</span>
      <Select
        label="Lengths in"
        className="w-full"
        value={units}
        choices={UNITS.map((value) => ({ value, text: UNIT_TEXTS[value] }))}
        onChange={(value) => {
          setPreferences({ units: value });
        }}
      />
      <span>Numbers and dates as</span>
      <Select
        label="Numbers and dates as"
        className="w-full"
        value={locale}
        choices={LOCALES}
        onChange={(value) => {
          setPreferences({ locale: value });
        }}
      />
    </div>
  );
}

/** `?`: what this view is for, the keys of it and those that work everywhere, and how figures are read. */
export function HelpDialog({ open, onClose }: { readonly open: boolean; readonly onClose: () => void }) {
  const view = `/${useLocation().pathname.split('/')[1] ?? ''}`;
  const name = VIEWS.find(({ path }) => path === view)?.name ?? 'Yellow Spool';
  return (
    <Dialog title={`${name}: help`} open={open} onClose={onClose} className="w-[560px] p-5">
      {(VIEW_HELP[view] ?? []).map((text) => (
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
      <KeyList rows={HERE[view] ?? NO_KEYS} />
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
