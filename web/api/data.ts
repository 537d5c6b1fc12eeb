import useSWR, { type SWRResponse } from 'swr';
import type { LogEvent } from '../../contract/api/common.ts';
import type { PurgeDesignView } from '../../contract/api/care.ts';
import type { ProfileView } from '../../contract/api/colour/profile.ts';
import type { CrewView } from '../../contract/api/hand.ts';
import type { PrinterView, RunItem, SpoolView } from '../../contract/api/floor.ts';
import type { JobDetail, JobItem, JobList, RefusalView } from '../../contract/api/job.ts';
import type { Me, PersonView } from '../../contract/api/people.ts';
import type { RunDetail } from '../../contract/api/run.ts';
import type { RuleList, ShopSetup } from '../../contract/api/shop.ts';
import type { StorageView } from '../../contract/api/storage.ts';
import type { PresetView, QueueView, ShopSizes, StockView } from '../../contract/api/ticket.ts';
import { getJson } from './client.ts';

export type Printer = PrinterView;
export type Queue = QueueView;
export type Preset = PresetView;
export type Stock = StockView;
export type { JobDetail, JobItem, LogEvent, RefusalView, RunDetail, RunItem, SpoolView };

const PAGE = 1000;
const ME_AGAIN_MS = 1500;

/** Jobs that are still to be worked on, a page after another; kept up to date by live events afterwards. */
export async function liveJobs(): Promise<JobItem[]> {
  const items: JobItem[] = [];
  let cursor: string | null = null;
  do {
    const page: JobList = await getJson(
      `/api/jobs?which=live&limit=${String(PAGE)}${cursor === null ? '' : `&cursor=${cursor}`}`,
    );
    items.push(...page.items);
    cursor = page.nextCursor;
  } while (cursor !== null);
  return items;
}

export const KEYS = {
  away: '/api/away',
  jobs: 'jobs',
  printers: '/api/printers',
  queues: '/api/queues',
  presets: '/api/presets',
  stocks: '/api/stocks',
  profiles: '/api/profiles',
  sizes: '/api/sizes',
  designs: '/api/purges',
  runs: '/api/runs',
  spools: '/api/spools',
  shop: '/api/shop',
  rules: '/api/rules',
  refusals: '/api/refusals',
  log: '/api/log?limit=60',
  storage: '/api/storage',
  crew: '/api/crew',
  me: '/api/me',
  people: '/api/people',
} as const;

/** Jobs at work. What is printed, kept or cancelled is of the past: see pastJobs.ts. */
export const useJobs = (): SWRResponse<JobItem[], Error> => useSWR(KEYS.jobs, liveJobs);
export const usePrinters = (): SWRResponse<Printer[], Error> => useSWR(KEYS.printers);
/** What a printer is called; its id as long as that is not known. */
export function usePrinterName(): (id: string) => string {
  const { data: printers } = usePrinters();
  return (id) => printers?.find((printer) => printer.id === id)?.name ?? id;
}
export const useQueues = (): SWRResponse<Queue[], Error> => useSWR(KEYS.queues);
export const usePresets = (): SWRResponse<Preset[], Error> => useSWR(KEYS.presets);
export const useStocks = (): SWRResponse<Stock[], Error> => useSWR(KEYS.stocks);
export const useProfiles = (): SWRResponse<ProfileView[], Error> => useSWR(KEYS.profiles);
export const useSizes = (): SWRResponse<ShopSizes, Error> => useSWR(KEYS.sizes);
export const useDesigns = (): SWRResponse<PurgeDesignView[], Error> => useSWR(KEYS.designs);
export const useRuns = (): SWRResponse<RunItem[], Error> => useSWR(KEYS.runs);
export const useSpools = (): SWRResponse<SpoolView[], Error> => useSWR(KEYS.spools);
export const useShopSetup = (): SWRResponse<ShopSetup, Error> => useSWR(KEYS.shop);
export const useCrew = (): SWRResponse<CrewView, Error> => useSWR(KEYS.crew);
export const useRules = (): SWRResponse<RuleList, Error> => useSWR(KEYS.rules);
export const useRefusals = (): SWRResponse<RefusalView[], Error> => useSWR(KEYS.refusals);
export const useLog = (): SWRResponse<LogEvent[], Error> => useSWR(KEYS.log);
export const useStorage = (): SWRResponse<StorageView, Error> => useSWR(KEYS.storage);
/** Nothing is shown before it is known who is there: it is asked for again and again, without growing pauses. */
export const useMe = (): SWRResponse<Me, Error> =>
  useSWR<Me, Error>(KEYS.me, {
    onErrorRetry: (_error, _key, _config, revalidate, options) => {
      window.setTimeout(() => void revalidate(options), ME_AGAIN_MS);
    },
  });
/** @param may only owners are told */
export const usePeople = (may: boolean): SWRResponse<PersonView[], Error> => useSWR(may ? KEYS.people : null);
export const useJob = (id: string | null): SWRResponse<JobDetail, Error> =>
  useSWR(id === null ? null : `/api/jobs/${id}`);
export const useRun = (id: string | null): SWRResponse<RunDetail, Error> =>
  useSWR(id === null ? null : `/api/runs/${id}`);

/** @param look changes the address whenever the ticket changes how the page looks */
export function pictureUrl(jobId: string, page: number, size: 'thumb' | 'view', look: string): string {
  return `/api/jobs/${jobId}/pages/${String(page)}/picture?size=${size}${look === '' ? '' : `&look=${look}`}`;
}
