import type { ReactNode } from 'react';
import { Link } from 'react-router';
import type { WhatIfView } from '../../../../contract/api/pace/whatIf.ts';
import { durationText } from '../../../../core/units/durationText.ts';
import { moneyText } from '../../../draw/money.ts';
import { type Column, DataTable } from '../../../ui/DataTable.tsx';
import { FromWhat } from '../../../ui/FromWhat.tsx';
import { counted } from '../../../ui/text/counted.ts';
import { number } from '../../../ui/text/number.ts';
import { type LookedAt, perMonth } from '../../../pace/whatIfAsk.ts';
import { LineShares } from './LineShares.tsx';
import { FigureLine, FigureTable, signed } from './FigureTable.tsx';

/** What would be, beside what was. */
export function WhatIfFigures({
  answer,
  looked,
  children,
}: {
  readonly answer: WhatIfView;
  readonly looked: LookedAt;
  /** What can be done about it. */
  readonly children: ReactNode;
}) {
  const { was, would, runs, changed, leftOut, nowhere, pending, currency, groups, most } = answer;
  if (runs === 0 && nowhere.length === 0)
    return <p className="text-soft">There is no run of what was chosen in this time.</p>;
  // Before all is added up only the difference is known.
  const cost = (minor: number): string => (pending > 0 ? '–' : moneyText(minor, currency));
  const ink = (ml: number): string => (pending > 0 ? '–' : inkMl(ml));
  const longest = Math.max(was.runMs, would.runMs, 1);
  const isPlan = looked === 'what waits';
  return (
    <>
      <p className="mb-3 text-soft">
        {number(changed)} of {counted(runs, 'run')} would change
        {leftOut > 0 && `; ${counted(leftOut, 'earlier run')} not looked at`}. Figures are of all runs of their printers{' '}
        {isPlan ? 'that wait' : 'in this time'}.
      </p>
      {nowhere.length > 0 && (
        <p className="mb-3 text-wait">
          No other printer takes {listed(nowhere)}: neither side counts {nowhere.length === 1 ? 'it' : 'them'}.
        </p>
      )}
      <div className="mb-4 grid grid-cols-[auto_1fr_auto] items-center gap-x-3 gap-y-1">
        {[
          { name: isPlan ? 'as planned' : 'as it was', ms: was.runMs, fill: 'bg-soft/60' },
          { name: 'otherwise', ms: would.runMs, fill: 'bg-spool' },
        ].map(({ name, ms, fill }) => (
          <div key={name} className="contents">
            <span className="text-soft">{name}</span>
            <span
              className={`h-5 rounded-[3px] border border-soft ${fill}`}
              style={{ width: `${String((100 * ms) / longest)}%` }}
            />
            <span className="text-right font-medium">{durationText(ms)}</span>
          </div>
        ))}
      </div>
      {pending > 0 && (
        <p className="mb-2 text-wait">
          {number(pending)} things that happened are still being added up: what it all cost is not known yet.
        </p>
      )}
      <div className="mb-4 flex flex-wrap items-start gap-x-8 gap-y-3">
        <FigureTable label="What would be, beside what was" was={isPlan ? 'as planned' : 'as it was'}>
          <FigureLine name="On the printers" was={durationText(was.runMs)} would={durationText(would.runMs)}>
            <Saved answer={answer} looked={looked} />
          </FigureLine>
          <FigureLine name="Media" was={m2(was.fedM2)} would={m2(would.fedM2)}>
            {signed(was.fedM2 - would.fedM2, (value) => m2(value), 0.005)}
          </FigureLine>
          <FigureLine name="Ink" was={ink(was.inkMl)} would={ink(would.inkMl)}>
            {signed(was.inkMl - would.inkMl, inkMl, 0.05)}
          </FigureLine>
          <FigureLine name="Money" was={cost(was.costMinor)} would={cost(would.costMinor)}>
            <Money savedMinor={was.costMinor - would.costMinor} currency={currency} looked={looked} />
          </FigureLine>
          <FigureLine name="Late jobs" was={number(was.lateJobs)} would={number(would.lateJobs)}>
            {signed(was.lateJobs - would.lateJobs, (value) => number(value), 0.5)}
          </FigureLine>
          <FigureLine name="Late, together" was={durationText(was.lateMs)} would={durationText(would.lateMs)}>
            {signed(was.lateMs - would.lateMs, durationText, 30_000)}
          </FigureLine>
        </FigureTable>
        <div className="max-w-xs flex-1">{children}</div>
      </div>
      {most.some(({ toName }) => toName !== null) && (
        <LineShares lines={answer.lines} was={isPlan ? 'as planned' : 'as it was'} />
      )}
      <h2 className="mb-1 font-semibold">By printer and stock</h2>
      <DataTable
        label="By printer and stock"
        columns={groupColumns(currency)}
        rows={groups}
        rowId={({ printerId, stockId }) => `${printerId}/${stockId}`}
        empty="Nothing would change on any stock."
      />
      <h2 className="mt-4 mb-1 font-semibold">Runs that change most</h2>
      <DataTable
        label="Runs that change most"
        columns={runColumns(currency)}
        rows={most}
        rowId={({ runId }) => runId}
        empty="No run would take another time or cost anything else."
      />
    </>
  );
}

/** Time that is saved, with the range that it is known in. */
function Saved({ answer, looked }: { readonly answer: WhatIfView; readonly looked: LookedAt }) {
  const { savedMs, savedLowMs, savedHighMs } = answer;
  if (Math.abs(savedMs) < 500) return <>0</>;
  const low = signed(savedLowMs, durationText, 500);
  const high = signed(savedHighMs, durationText, 500);
  const month = perMonth(looked, savedMs);
  return (
    <FromWhat
      text={`Eight of ten times between ${low} and ${high}: runs that are printed again have luck of their own.${month === undefined ? '' : ` In thirty days ${signed(month, durationText, 500)}.`}`}
    >
      {signed(savedMs, durationText, 500)}
    </FromWhat>
  );
}

function Money({
  savedMinor,
  currency,
  looked,
}: {
  readonly savedMinor: number;
  readonly currency: string;
  readonly looked: LookedAt;
}) {
  const text = signed(savedMinor, (minor) => moneyText(minor, currency), 0.5);
  const month = perMonth(looked, savedMinor);
  return (
    <>
      <span className={savedMinor > 0 ? 'font-medium text-go' : savedMinor < 0 ? 'font-medium text-stop' : ''}>
        {text}
      </span>
      {month !== undefined && savedMinor !== 0 && (
        <span className="dense block text-soft">
          {signed(month, (minor) => moneyText(minor, currency), 0.5)} in thirty days
        </span>
      )}
    </>
  );
}

/** So many are named. */
const NAMED = 6;

function listed(names: readonly string[]): string {
  const more = names.length - NAMED;
  return `${names.slice(0, NAMED).join(', ')}${more > 0 ? ` and ${number(more)} more` : ''}`;
}

const inkMl = (value: number): string => `${number(value, 1)} ml`;
const m2 = (value: number): string => `${number(value, 2)} m²`;

function groupColumns(currency: string): readonly Column<WhatIfView['groups'][number]>[] {
  return [
    {
      id: 'printer',
      title: 'Printer',
      sortBy: ({ printerName }) => printerName,
      cell: ({ printerName }) => printerName,
    },
    { id: 'stock', title: 'Stock', sortBy: ({ stockName }) => stockName, cell: ({ stockName }) => stockName },
    { id: 'runs', title: 'Runs', right: true, sortBy: ({ runs }) => runs, cell: ({ runs }) => number(runs) },
    {
      ...{ id: 'time', title: 'Time saved', right: true, sortBy: ({ savedMs }) => savedMs },
      cell: ({ savedMs }) => signed(savedMs, durationText, 500),
    },
    {
      ...{ id: 'media', title: 'Media saved', right: true, sortBy: ({ savedM2 }) => savedM2 },
      cell: ({ savedM2 }) => signed(savedM2, m2, 0.005),
    },
    {
      ...{ id: 'money', title: 'Money saved', right: true, sortBy: ({ savedMinor }) => savedMinor },
      cell: ({ savedMinor }) => signed(savedMinor, (minor) => moneyText(minor, currency), 0.5),
    },
  ];
}

function runColumns(currency: string): readonly Column<WhatIfView['most'][number]>[] {
  return [
    {
      ...{ id: 'run', title: 'Run', sortBy: ({ name }) => name },
      cell: ({ runId, name }) => (
        <Link to={`/story/run/${runId}`} className="text-tide underline">
          {name}
        </Link>
      ),
    },
    {
      id: 'printer',
      title: 'Printer',
      sortBy: ({ printerName }) => printerName,
      cell: ({ printerName, toName }) => (toName === null ? printerName : `${printerName} → ${toName}`),
    },
    { id: 'was', title: 'was', right: true, sortBy: ({ wasMs }) => wasMs, cell: ({ wasMs }) => durationText(wasMs) },
    {
      ...{ id: 'would', title: 'otherwise', right: true, sortBy: ({ wouldMs }) => wouldMs },
      cell: ({ wouldMs }) => durationText(wouldMs),
    },
    {
      ...{ id: 'money', title: 'Money saved', right: true, sortBy: ({ savedMinor }) => savedMinor },
      cell: ({ savedMinor }) => signed(savedMinor, (minor) => moneyText(minor, currency), 0.5),
    },
  ];
}
