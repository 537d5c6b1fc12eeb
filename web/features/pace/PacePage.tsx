import { Download, FileText, Shuffle, Tag } from 'lucide-react';
import { useContext, useState } from 'react';
import { Link } from 'react-router';
import { errorText } from '../../api/client.ts';
import { usePrinters } from '../../api/data.ts';
import { ShopTimeContext, dateText, shopNow, useShopNow, useZone } from '../../app/shopTime.ts';
import { setPreferences, usePreferences } from '../../ui/preferences.ts';
import { useAddress } from '../../ui/useAddress.ts';
import { SavedViews } from '../../ui/SavedViews.tsx';
import { PageError } from '../../ui/PageError.tsx';
import { Select } from '../../ui/fields/Select.tsx';
import { ChoiceBar, StepButton } from '../../ui/time/ChoiceBar.tsx';
import { number } from '../../ui/text/number.ts';
import { BestChanges } from './whatif/BestChanges.tsx';
import { Changes } from './Changes.tsx';
import { InkTable } from './InkTable.tsx';
import { PaceChart } from './PaceChart.tsx';
import { PaceTable } from './PaceTable.tsx';
import { PaceTiles } from './PaceTiles.tsx';
import { RunsSheet } from './RunsSheet.tsx';
import { WasteBar } from './WasteBar.tsx';
import { PERIODS, type Period, STEPS, comparedWith, periodOf } from './periods.ts';
import { type PaceFilter, paceQuery, usePace } from './usePace.ts';

const THINGS = ['printer', 'stock', 'customer', 'queue', 'mode'] as const;
type Thing = (typeof THINGS)[number];
const FILTER_OF: Record<Thing, keyof PaceFilter> = {
  printer: 'printerId',
  stock: 'stockId',
  customer: 'customer',
  queue: 'queueId',
  mode: 'modeId',
};

/** How well it goes, beside the time before, and what it is made of. */
export function PacePage() {
  const time = useContext(ShopTimeContext);
  return time ? <PaceAt now={() => shopNow(time)} /> : null;
}

function PaceAt({ now }: { readonly now: () => number }) {
  const nowMs = useShopNow(60_000) ?? now();
  const zone = useZone();
  const [params, set, replace] = useAddress();
  const [opened, setOpened] = useState<{ readonly id: string; readonly name: string }>();
  const { data: printers = [] } = usePrinters();
  const { paceViews } = usePreferences();
  const name = PERIODS.find((each) => each === params.get('period')) ?? 'week';
  const offset = Number(params.get('back') ?? 0) || 0;
  const measureId = params.get('measure') ?? 'use';
  const of = THINGS.find((each) => each === params.get('of')) ?? 'printer';
  const isOfInks = params.get('of') === 'ink';
  const printerId = params.get('printer') ?? '';
  const filter: PaceFilter = printerId === '' ? {} : { printerId };
  const period = periodOf(name, nowMs, -offset, zone);
  const compared = comparedWith(name, nowMs, -offset, zone);
  const step = STEPS[name];
  const { data: course, error } = usePace(period, step, filter);
  const { data: courseBefore } = usePace(compared, step, filter);
  const { data: things } = usePace(period, isOfInks ? null : of, filter);
  if (error && !course) return <PageError>{errorText(error)}</PageError>;
  const measure = course?.measures.find(({ id }) => id === measureId) ?? course?.measures[0];
  return (
    <div className="flex h-full min-h-0">
      <section className="min-w-0 flex-1 overflow-y-auto px-5 py-3">
        <header className="mb-3 flex flex-wrap items-center gap-x-3 gap-y-2">
          <h1 className="mr-2 text-lg font-semibold">Pace</h1>
          <ChoiceBar
            label="Time shown"
            choices={PERIODS}
            chosen={name}
            onChoose={(next) => {
              set({ period: next === 'week' ? '' : next, back: '' });
            }}
          />
          <div className="flex items-center gap-1">
            <StepButton
              label="Earlier"
              onClick={() => {
                set({ back: String(offset + 1) });
              }}
            />
            <StepButton
              label="Later"
              disabled={offset <= 0}
              onClick={() => {
                set({ back: offset <= 1 ? '' : String(offset - 1) });
              }}
            />
            <span className="dense ml-1 text-soft">
              {periodText(period, zone)}, beside {periodText(compared, zone)}
            </span>
          </div>
          <span className="flex-1" />
          <Select
            label="Printer"
            value={printerId}
            choices={[
              { value: '', text: 'all printers' },
              ...printers.map(({ id, name: text }) => ({ value: id, text })),
            ]}
            className="w-36"
            onChange={(id) => {
              set({ printer: id });
            }}
          />
          <SavedViews
            names={paceViews.map((view) => view.name)}
            onShow={(wanted) => {
              const search = paceViews.find((view) => view.name === wanted)?.search ?? '';
              replace(search);
            }}
            onKeep={(kept) => {
              const others = paceViews.filter((view) => view.name !== kept);
              setPreferences({ paceViews: [...others, { name: kept, search: params.toString() }] });
            }}
            onForget={(gone) => {
              setPreferences({ paceViews: paceViews.filter((view) => view.name !== gone) });
            }}
          />
          <Link
            to={printerId === '' ? '/pace/what-if' : `/pace/what-if?printer=${printerId}`}
            className="inline-flex items-center gap-1 whitespace-nowrap text-tide underline"
          >
            <Shuffle size={14} aria-hidden="true" /> What if
          </Link>
          <Link to="/pace/quote" className="inline-flex items-center gap-1 whitespace-nowrap text-tide underline">
            <Tag size={14} aria-hidden="true" /> Quote
          </Link>
          {name === 'week' && (
            <a
              href={`/api/pace/week.pdf?atMs=${String(period.fromMs)}`}
              className="inline-flex items-center gap-1 whitespace-nowrap text-tide underline"
            >
              <FileText size={14} aria-hidden="true" /> PDF
            </a>
          )}
          <a
            href={
              isOfInks
                ? `/api/pace/ink.csv?${paceQuery(period, '', filter)}`
                : `/api/pace/table.csv?${paceQuery(period, `${step},${of}`, filter)}`
            }
            className="inline-flex items-center gap-1 whitespace-nowrap text-tide underline"
          >
            <Download size={14} aria-hidden="true" /> CSV
          </a>
        </header>
        {course === undefined || measure === undefined ? (
          <p className="text-soft">Reading …</p>
        ) : (
          <>
            {course.pending > 0 && (
              <p className="mb-2 text-wait">
                {number(course.pending)} things that happened are still being added up: figures are not complete yet.
              </p>
            )}
            <PaceTiles
              now={course}
              before={courseBefore}
              chosen={measure.id}
              onChoose={(id) => {
                set({ measure: id === 'use' ? '' : id });
              }}
            />
            <div className="mt-4 grid gap-x-8 gap-y-4 min-[1100px]:grid-cols-[1fr_300px]">
              <div className="min-w-0">
                <PaceChart measure={measure} now={course.rows} before={courseBefore?.rows} currency={course.currency}>
                  <MeasureChoice
                    chosen={measure.id}
                    measures={course.measures}
                    onChoose={(id) => {
                      set({ measure: id === 'use' ? '' : id });
                    }}
                  />
                </PaceChart>
              </div>
              <div>
                <WasteBar answer={course} />
                <Changes />
              </div>
            </div>
            <div className="mt-4 flex items-center gap-3">
              <h2 className="font-semibold">Side by side</h2>
              <ChoiceBar
                label="Side by side"
                choices={[...THINGS.map((each) => `${each}s` as const), 'inks']}
                chosen={isOfInks ? 'inks' : `${of}s`}
                onChoose={(words) => {
                  const next = words === 'inks' ? 'ink' : (THINGS.find((each) => words === `${each}s`) ?? 'printer');
                  set({ of: next === 'printer' ? '' : next });
                }}
              />
            </div>
            {/* What was asked for before is shown under its own name or not at all. */}
            {isOfInks ? (
              <InkTable period={period} filter={filter} />
            ) : (
              things?.rows.every(({ keys }) => keys[0]?.by === of) && (
                <PaceTable
                  answer={things}
                  of={of}
                  chosen={measure.id}
                  onOpen={(id, text) => {
                    setOpened({ id, name: text });
                  }}
                />
              )
            )}
            <div className="mt-5">
              <BestChanges nowMs={nowMs} />
            </div>
          </>
        )}
      </section>
      {opened && (
        <RunsSheet
          title={opened.name}
          period={period}
          filter={{ ...filter, [FILTER_OF[of]]: opened.id }}
          onClose={() => {
            setOpened(undefined);
          }}
        />
      )}
    </div>
  );
}

function MeasureChoice({
  chosen,
  measures,
  onChoose,
}: {
  readonly chosen: string;
  readonly measures: readonly { readonly id: string; readonly name: string }[];
  readonly onChoose: (id: string) => void;
}) {
  return (
    <Select
      label="Figure that is drawn"
      value={chosen}
      choices={measures.map(({ id, name }) => ({ value: id, text: name }))}
      onChange={onChoose}
    />
  );
}

function periodText({ fromMs, toMs }: Period, zone: string): string {
  const [from, to] = [dateText(fromMs, zone), dateText(toMs - 1, zone)];
  return from === to ? from : `${from} to ${to}`;
}
