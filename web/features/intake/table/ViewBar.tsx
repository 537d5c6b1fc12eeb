import { Columns3, Combine, Download } from 'lucide-react';
import { Link } from 'react-router';
import { COLUMNS, type ColumnId } from './columns.tsx';
import { isOfPast } from './filter.ts';
import { GROUPS } from './rows.ts';
import { PLAIN_VIEW, type Views } from './savedViews.ts';
import { FlyOut } from '../../../ui/FlyOut.tsx';
import { Checkbox } from '../../../ui/fields/Checkbox.tsx';
import { Select } from '../../../ui/fields/Select.tsx';
import { SavedViews } from '../../../ui/SavedViews.tsx';

const PANEL = 'max-h-[60vh] w-64 overflow-auto p-3';
const ICON = 'inline-flex h-8 items-center gap-1.5 rounded-md px-2 text-tide hover:bg-rule/50';

/** How the table is looked at: groups, columns, views kept by name, and the way out as CSV. */
export function ViewBar({ views, onCsv }: { readonly views: Views; readonly onCsv: () => void }) {
  const { view, show } = views;
  return (
    <span className="flex items-center gap-1">
      <label className="flex items-center gap-1.5">
        <span className="text-soft">group</span>
        <Select
          label="Group by"
          disabled={isOfPast(view.filter.show)}
          title={isOfPast(view.filter.show) ? 'What is printed is listed by arrival' : undefined}
          value={isOfPast(view.filter.show) ? 'none' : view.group}
          choices={GROUPS.map((group) => ({ value: group, text: group === 'none' ? 'none' : `by ${group}` }))}
          className="h-8"
          onChange={(group) => {
            show({ ...view, group });
          }}
        />
      </label>
      <FlyOut
        label="Columns"
        title="Columns"
        button={<Columns3 size={17} aria-hidden="true" />}
        buttonClass={ICON}
        panelClass={PANEL}
      >
        {() => (
          <ColumnChoice
            chosen={view.columns}
            onChoose={(columns) => {
              show({ ...view, columns });
            }}
          />
        )}
      </FlyOut>
      <SavedViews
        names={views.saved.map(({ name }) => name)}
        onShow={(name) => {
          show(views.saved.find((each) => each.name === name)?.view ?? PLAIN_VIEW);
        }}
        onKeep={views.save}
        onForget={views.remove}
      />
      <Link to="/bench/batches" className={ICON} title="What could run together" aria-label="What could run together">
        <Combine size={17} aria-hidden="true" />
      </Link>
      <button type="button" className={ICON} title="What is shown, as CSV" aria-label="CSV" onClick={onCsv}>
        <Download size={17} aria-hidden="true" />
      </button>
    </span>
  );
}

function ColumnChoice({
  chosen,
  onChoose,
}: {
  readonly chosen: readonly ColumnId[];
  readonly onChoose: (columns: readonly ColumnId[]) => void;
}) {
  return (
    <fieldset>
      <legend className="mb-1 font-semibold">Columns</legend>
      {COLUMNS.map(({ id, title }) => (
        <Checkbox
          key={id}
          text={title === '' ? 'Picture' : title}
          value={chosen.includes(id)}
          // A table without names is no table.
          disabled={id === 'name'}
          className="flex! py-0.5"
          onChange={(on) => {
            onChoose(on ? [...chosen, id] : chosen.filter((each) => each !== id));
          }}
        />
      ))}
    </fieldset>
  );
}
