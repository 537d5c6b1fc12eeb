import { Columns3, Combine, Download, Eye, X } from 'lucide-react';
import { Link } from 'react-router';
import { COLUMNS, type ColumnId } from './columns.tsx';
import { isOfPast } from './filter.ts';
import { GROUPS } from './rows.ts';
import { PLAIN_VIEW, type Views } from './savedViews.ts';
import { FlyOut } from '../../../ui/FlyOut.tsx';
import { Checkbox } from '../../../ui/fields/Checkbox.tsx';
import { Select } from '../../../ui/fields/Select.tsx';
import { NewName } from '../../../ui/fields/NewName.tsx';
import { IconButton } from '../../../ui/IconButton.tsx';

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
      <FlyOut
        label="Saved views"
        title="Saved views"
        button={<Eye size={17} aria-hidden="true" />}
        buttonClass={ICON}
        panelClass={PANEL}
      >
        {(close) => <SavedViews views={views} close={close} />}
      </FlyOut>
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

/** Views that this person has kept in this browser, by name. */
function SavedViews({ views, close }: { readonly views: Views; readonly close: () => void }) {
  const show = (view: Views['view']) => () => {
    views.show(view);
    close();
  };
  return (
    <div>
      <p className="mb-1 font-semibold">Views</p>
      <button
        type="button"
        className="block w-full rounded px-1 py-1 text-left hover:bg-rule/50"
        onClick={show(PLAIN_VIEW)}
      >
        As it is at first
      </button>
      {views.saved.map((each) => (
        <span key={each.name} className="flex items-center">
          <button
            type="button"
            className="min-w-0 flex-1 truncate rounded px-1 py-1 text-left hover:bg-rule/50"
            onClick={show(each.view)}
          >
            {each.name}
          </button>
          <IconButton
            label={`Forget ${each.name}`}
            onClick={() => {
              views.remove(each.name);
            }}
          >
            <X size={14} aria-hidden="true" />
          </IconButton>
        </span>
      ))}
      <div className="mt-2">
        <NewName
          // Kept: the next one has another name.
          key={views.saved.length}
          label="Name of the view"
          placeholder="Keep this view as"
          most={60}
          action="Keep"
          main={false}
          focus={false}
          onName={views.save}
        />
      </div>
    </div>
  );
}
