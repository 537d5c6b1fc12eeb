import { useCallback, useEffect, useMemo, useState } from 'react';
import { preferences, setPreferences, usePreferences } from '../../../ui/preferences.ts';
import { DEFAULT_COLUMNS, type ColumnId, isColumn } from './columns.tsx';
import { NO_FILTER, type JobFilter, SHOWS } from './filter.ts';
import { GROUPS, SORTS, type GroupBy, type Sort } from './rows.ts';

/** How a person looks at Intake. */
export interface IntakeView {
  readonly filter: JobFilter;
  readonly sort: Sort;
  readonly group: GroupBy;
  readonly columns: readonly ColumnId[];
}

export const PLAIN_VIEW: IntakeView = {
  filter: NO_FILTER,
  sort: { by: 'arrived', down: true },
  group: 'none',
  columns: DEFAULT_COLUMNS,
};

export interface SavedView {
  readonly name: string;
  readonly view: IntakeView;
}

/** Takes what an earlier version may have kept for what it still is. */
function mended(raw: Partial<IntakeView> | null): IntakeView {
  const columns = (raw?.columns ?? DEFAULT_COLUMNS).filter(isColumn);
  return {
    filter: {
      ...NO_FILTER,
      ...raw?.filter,
      show: SHOWS.find((show) => show === raw?.filter?.show) ?? NO_FILTER.show,
    },
    sort: raw?.sort && SORTS.includes(raw.sort.by) ? raw.sort : PLAIN_VIEW.sort,
    group: GROUPS.find((group) => group === raw?.group) ?? 'none',
    columns: columns.length > 0 ? columns : DEFAULT_COLUMNS,
  };
}

export interface Views {
  readonly view: IntakeView;
  /** Changes a part of the view; always the same function. */
  readonly show: (change: Partial<IntakeView>) => void;
  readonly saved: readonly SavedView[];
  readonly save: (name: string) => void;
  readonly remove: (name: string) => void;
}

/** The present view outlives the page, but for the words that were typed; named views are kept beside it. */
export function useViews(): Views {
  const [view, setView] = useState(() => mended(preferences().intakeView as Partial<IntakeView> | null));
  const saved = usePreferences().intakeViews as readonly SavedView[];
  const show = useCallback((change: Partial<IntakeView>) => {
    setView((old) => ({ ...old, ...change }));
  }, []);
  useEffect(() => {
    const next = { ...view, filter: { ...view.filter, text: '' } };
    if (JSON.stringify(next) !== JSON.stringify(preferences().intakeView ?? PLAIN_VIEW))
      setPreferences({ intakeView: next });
  }, [view]);
  return {
    view,
    show,
    saved: useMemo(() => saved.map(({ name, view: kept }) => ({ name, view: mended(kept) })), [saved]),
    save: (name) => {
      setPreferences({ intakeViews: [...saved.filter((each) => each.name !== name), { name, view }] });
    },
    remove: (name) => {
      setPreferences({ intakeViews: saved.filter((each) => each.name !== name) });
    },
  };
}
