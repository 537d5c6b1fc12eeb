import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/react';
import { useEffect, useEffectEvent, useMemo, useState } from 'react';
import { Dialog } from '../../ui/Dialog.tsx';
import { useNavigate } from 'react-router';
import useSWR from 'swr';
import type { JobList } from '../../../contract/api/job.ts';
import { getJson } from '../../api/client.ts';
import { isTooShort } from '../../../core/ticket/jobQuery.ts';
import { pastJobsPath } from '../../api/pastJobs.ts';
import { useSettled } from '../../ui/useSettled.ts';
import {
  type JobItem,
  type RunItem,
  useJobs,
  usePeople,
  usePresets,
  usePrinters,
  useQueues,
  useRuns,
  useSpools,
  useStocks,
} from '../../api/data.ts';
import { useMay } from '../../people/May.tsx';
import { useTheme } from '../theme.ts';
import { fieldState } from './useGoToField.ts';
import { fields } from './fields.ts';
import { topics } from './topics.ts';
import { VIEWS } from '../views.ts';

interface Found {
  /** What it does at once, where it leads nowhere. */
  readonly act?: () => void;
  readonly key: string;
  readonly kind: string;
  readonly name: string;
  readonly more: string;
  readonly path: string;
  /** The very field to go to there, and what has to be opened before. */
  readonly field?: string;
  readonly open?: readonly string[];
}

const SHOWN = 30;
const PAST_SHOWN = 15;

/** `/`: jobs, runs, printers and views by any part of their name, customer or order. */
export function Finder({ open, onClose }: { readonly open: boolean; readonly onClose: () => void }) {
  return (
    <Dialog label="Find" open={open} onClose={onClose} atTop className="w-[640px]">
      <FinderBox onClose={onClose} />
    </Dialog>
  );
}

/**
 * The box itself. What the page has in memory is found while typing; what is over is asked from the server after a pause, and
 * comes behind it.
 */
function FinderBox({ onClose }: { readonly onClose: () => void }) {
  const [query, setQuery] = useState('');
  const [wanted, setWanted] = useState(false);
  const navigate = useNavigate();
  const { all, loading: listsLoading } = useFindable();
  const isStory = STORY.test(query);
  const words = query.replace(STORY, '');
  const here = useMemo(() => search(all, words), [all, words]);
  const { found: past, loading: pastLoading } = useFoundInPast(words);
  const found = useMemo(() => {
    const known = new Set(here.map(({ key }) => key));
    const both = [...here, ...past.filter(({ key }) => !known.has(key))];
    return (isStory ? both.flatMap(storyOf) : both).slice(0, SHOWN);
  }, [here, past, isStory]);
  // What is at hand is opened at once; the past is waited for only where nothing else is called that.
  const loading = listsLoading || (here.length === 0 && pastLoading);
  const go = (item: Found | null | undefined): void => {
    if (!item) return;
    onClose();
    if (item.act) item.act();
    else void navigate(item.path, { state: item.field === undefined ? null : fieldState(item.field, item.open) });
  };
  // A scanner types its code and Enter within milliseconds: faster than the lists load, or the options are drawn.
  const takeFirst = useEffectEvent(() => {
    go(found[0]);
  });
  useEffect(() => {
    if (wanted && !loading) takeFirst();
  }, [wanted, loading]);
  return (
    <Combobox<Found> onChange={go} immediate>
      {({ activeOption }) => (
        <>
          <ComboboxInput
            autoFocus
            aria-label="Find"
            placeholder="Find a job, run, printer, queue, preset or view"
            className="h-12 w-full bg-card px-4 text-base outline-none placeholder:text-soft"
            onChange={(event) => {
              setQuery(event.target.value);
              setWanted(false);
            }}
            onKeyDown={(event) => {
              if (event.key !== 'Enter' || (activeOption && !loading)) return;
              event.preventDefault();
              setWanted(query.trim() !== '');
            }}
          />
          <ComboboxOptions static className="max-h-[50vh] overflow-auto border-t border-rule p-1">
            {found.map((item) => (
              <ComboboxOption
                key={item.key}
                value={item}
                className="flex cursor-pointer items-baseline gap-3 rounded px-3 py-1.5 data-focus:bg-spool data-focus:text-on-spool"
              >
                <span className="w-16 shrink-0 text-xs opacity-75">{item.kind}</span>
                <span className="min-w-0 truncate font-medium">{item.name}</span>
                <span className="min-w-0 flex-1 truncate text-right text-xs opacity-75">{item.more}</span>
              </ComboboxOption>
            ))}
            {found.length === 0 && (
              <p className="px-3 py-4 text-soft">
                {loading || pastLoading ? 'Still looking …' : 'Nothing is called that.'}
              </p>
            )}
          </ComboboxOptions>
        </>
      )}
    </Combobox>
  );
}

/**
 * Everything in the lists of the page, with the words by which people call it. It waits for the lists that are not there yet, so
 * that a scanner, which is faster than they are, still finds what it typed.
 */
function useFindable(): { readonly all: readonly Found[]; readonly loading: boolean } {
  const owner = useMay('set up');
  const { data: jobs } = useJobs();
  const { data: printers } = usePrinters();
  const { data: runs } = useRuns();
  const { data: queues } = useQueues();
  const { data: presets } = usePresets();
  const { data: spools } = useSpools();
  const { data: people } = usePeople(owner);
  const { data: stocks } = useStocks();
  const { data: kept } = useSWR<JobList, Error>(
    pastJobsPath({ which: 'kept', text: '', queueId: null }, 1, null),
    getJson<JobList>,
  );
  const [theme, turnTheme] = useTheme();
  const loading = [jobs, printers, runs, queues, presets].includes(undefined);
  const all = useMemo(
    () => [
      ...VIEWS.map((view) => ({ key: view.path, kind: 'view', name: view.name, more: view.question, path: view.path })),
      ...(printers ?? []).map((printer) => ({
        key: printer.id,
        kind: 'printer',
        name: printer.name,
        more: `${printer.config.form}, ${printer.state}`,
        path: `/floor?printer=${printer.id}`,
      })),
      ...(printers ?? []).map((printer) => ({
        key: `setup-${printer.id}`,
        kind: 'setting',
        name: `${printer.name}, described`,
        more: 'widths, margins, speeds, modes, profiles, inks, finishing, take-up, cost',
        path: `/setup?printer=${printer.id}`,
      })),
      ...(printers ?? []).flatMap((printer) =>
        printer.config.channels.map((channel) => ({
          key: `${printer.id}-${channel.id}`,
          kind: 'head',
          name: `${channel.name} of ${printer.name}`,
          more: 'nozzles, checks, idle hours',
          path: `/heads?printer=${printer.id}`,
        })),
      ),
      ...(spools ?? []).map((spool) => ({
        key: spool.id,
        kind: 'spool',
        name: spool.label,
        more: `${spool.stockName}, lot ${spool.lot}`,
        path: `/media?spool=${spool.id}`,
      })),
      ...(stocks ?? []).map((stock) => ({
        key: `stock-${stock.id}`,
        kind: 'stock',
        name: stock.name,
        more: 'width, price, run settings on each printer',
        path: `/setup?stock=${stock.id}`,
      })),
      {
        key: 'hours',
        kind: 'setting',
        name: 'Shop hours',
        more: 'opening hours, holidays, unattended hours, host names, least room on the disk',
        path: '/setup?hours=',
      },
      ...(owner
        ? [
            {
              key: 'people',
              kind: 'setting',
              name: 'People',
              more: 'roles, who may do what, sign-in, users, accounts, permissions, provider',
              path: '/setup?people=',
            },
          ]
        : []),
      {
        key: 'me',
        kind: 'setting',
        name: 'You',
        more: 'your settings, password, sign out, units, language of numbers and dates, sound, notifications, tokens, one-time codes',
        path: '/me',
      },
      {
        key: 'rules',
        kind: 'setting',
        name: 'Routing rules',
        more: 'which printer takes which jobs, dry run',
        path: '/setup?rules=',
      },
      ...(queues ?? []).map((queue) => ({
        key: queue.id,
        kind: 'queue',
        name: queue.name,
        more: `${queue.arrivalRule}, hot folders, checks, settings`,
        path: `/setup?queue=${queue.id}`,
      })),
      ...(presets ?? []).map((preset) => ({
        key: preset.id,
        kind: 'preset',
        name: preset.name,
        more: Object.keys(preset.settings).join(', '),
        path: `/setup?preset=${preset.id}`,
      })),
      {
        key: 'batches',
        kind: 'view',
        name: 'Batches proposed',
        more: 'what could run together, and what that saves',
        path: '/bench/batches',
      },
      {
        key: 'sizes',
        kind: 'setting',
        name: 'Named sizes',
        more: 'ISO, ANSI and the shop’s own sizes',
        path: '/setup?sizes=',
      },
      ...topics({
        printerId: printers?.[0]?.id,
        queueId: queues?.[0]?.id,
        stockId: stocks?.[0]?.id,
        spoolId: spools?.[0]?.id,
        keptId: kept?.items[0]?.id,
      }).map(({ name, words, path, field }) => ({
        key: `topic ${name}`,
        kind: 'topic',
        name,
        more: words,
        path,
        field,
      })),
      {
        key: 'dark',
        kind: 'action',
        name: theme === 'light' ? 'Dark colours' : 'Light colours',
        more: 'dark, light, theme, night, contrast',
        path: '',
        act: turnTheme,
      },
      {
        key: 'undo',
        kind: 'help',
        name: 'Undo',
        more: 'take back, the wire at the foot says what happened and takes it back; Ctrl Z on the Bench',
        path: '/bench',
      },
      {
        key: 'units',
        kind: 'help',
        name: 'Units',
        more: 'mm, cm, inch, feet, fractions: every length field takes any unit, and sums',
        path: '/bench',
      },
      ...(runs ?? []).map(foundRun),
      ...(jobs ?? []).map(foundJob),
      ...fields({
        printer: printers?.[0]?.id,
        queue: queues?.[0]?.id,
        stock: stocks?.[0]?.id,
        preset: presets?.[0]?.id,
        spool: spools?.[0]?.id,
        run: (runs?.find(({ state }) => state === 'draft') ?? runs?.[0])?.id,
        // What still arrives has no ticket yet.
        job: jobs?.find(({ pages }) => pages !== null)?.id,
        shelved: kept?.items[0]?.id,
        person: people?.[0]?.id,
      }).map(({ label, under, path, open }) => ({
        key: `field ${label}`,
        kind: 'field',
        name: label,
        more: under,
        path,
        field: label,
        open,
      })),
    ],
    [jobs, printers, runs, queues, presets, spools, stocks, kept, people, theme, turnTheme, owner],
  );
  return { all, loading };
}

function foundJob(job: JobItem): Found {
  const more = [job.customer, job.orderNo, job.state].filter(Boolean).join(', ');
  return { key: job.id, kind: 'job', name: job.sourceName, more, path: `/intake?job=${job.id}` };
}

function foundRun(run: RunItem): Found {
  const more = `${run.state}, ${String(run.pieceCount)} ${run.pieceCount === 1 ? 'piece' : 'pieces'}`;
  return { key: run.id, kind: 'run', name: run.name, more, path: `/bench/${run.id}` };
}

/** `story run 153`, or `story` and a scanned code: what became of it, rather than the thing itself. */
const STORY = /^story\s+/i;
const WITH_STORY: readonly string[] = ['run', 'job', 'spool', 'head'];

function storyOf({ key, kind, name, more }: Found): Found[] {
  if (!WITH_STORY.includes(kind)) return [];
  return [{ key, kind: 'story', name: `Story of ${name}`, more, path: `/story/${kind}/${key}` }];
}

const RUN_NUMBER = /^(?:run\s*)?(\d+)$/i;
const TRACE_CODE = /^(job|run)-[0-9a-z]+$/;

/** Jobs and runs that are over: the server knows them by words, by number, or by the id that a trace code says. */
function useFoundInPast(query: string): { readonly found: readonly Found[]; readonly loading: boolean } {
  const typed = query.trim();
  const text = useSettled(typed);
  const code = TRACE_CODE.exec(text)?.[1];
  const number = RUN_NUMBER.exec(text)?.[1];
  const words = text !== '' && code === undefined && !isTooShort(text);
  const jobs = useSWR<JobList, Error>(
    words ? pastJobsPath({ which: 'past', text, queueId: null }, PAST_SHOWN, null) : null,
    getJson<JobList>,
  );
  const runs = useSWR<RunItem[], Error>(number === undefined ? null : `/api/runs?number=${number}`, getJson<RunItem[]>);
  const job = useSWR<JobItem, Error>(code === 'job' ? `/api/jobs/${text}` : null, getJson<JobItem>);
  const run = useSWR<RunItem, Error>(code === 'run' ? `/api/runs/${text}` : null, getJson<RunItem>);
  const found = [
    ...(run.data ? [foundRun(run.data)] : []),
    ...(job.data ? [foundJob(job.data)] : []),
    ...(runs.data ?? []).map(foundRun),
    // What was dropped can't be opened any more: it comes last of all.
    ...[...(jobs.data?.items ?? [])]
      .sort((a, b) => Number(a.state === 'dropped') - Number(b.state === 'dropped'))
      .map(foundJob),
  ];
  const loading = typed !== text || [jobs, runs, job, run].some((each) => each.isLoading);
  return { found, loading };
}

/** What has all the words, in its name or in what else it is called; what is called just that first, then what begins with it. */
function search(all: readonly Found[], query: string): Found[] {
  const typed = query.trim().toLowerCase();
  const words = typed.split(/\s+/).filter(Boolean);
  const ranks: Found[][] = [[], [], [], []];
  for (const item of all) {
    const name = item.name.toLowerCase();
    // A scanned trace code says an id.
    const text = `${name} ${item.kind} ${item.more} ${item.key}`.toLowerCase();
    if (!words.every((word) => text.includes(word))) continue;
    // Of labels only the one that was meant: what people look for is mostly a thing or a topic.
    const rank =
      name === typed
        ? 0
        : item.kind === 'field'
          ? 3
          : name.startsWith(typed)
            ? 1
            : words.every((word) => name.includes(word))
              ? 2
              : 3;
    ranks[rank]?.push(item);
  }
  return ranks.flat().slice(0, SHOWN);
}
