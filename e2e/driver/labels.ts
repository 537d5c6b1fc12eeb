import type { Page } from '@playwright/test';
import { buildSync } from 'esbuild';
import type { TestShop } from './shop.ts';

/** A place of the application: where it is, and what has to be pressed there. `{printer}` and the like stand for any of them. */
export interface Place {
  readonly path: string;
  readonly open: readonly string[];
}

/** Every view, sheet, tab and menu of which a person can read labels. */
export const PLACES: readonly Place[] = [
  { path: '/floor', open: [] },
  { path: '/floor?printer={printer}', open: [] },
  { path: '/floor', open: ['Propose an order'] },
  { path: '/floor', open: ['What happened'] },
  { path: '/intake', open: [] },
  { path: '/intake', open: ['Columns'] },
  { path: '/intake?job={job}', open: [] },
  { path: '/bench/{run}', open: ['Figures'] },
  { path: '/bench/{run}', open: ['Lay out'] },
  { path: '/bench/{run}', open: ['Marks'] },
  { path: '/bench/{run}', open: ['Sides'] },
  { path: '/bench/{run}', open: ['Take as'] },
  { path: '/bench/batches', open: [] },
  { path: '/rota', open: [] },
  { path: '/rota/away', open: [] },
  { path: '/rota?timer=new', open: [] },
  { path: '/rota?design=new', open: [] },
  { path: '/rota?propose=', open: [] },
  { path: '/rota?rule=new', open: [] },
  { path: '/heads', open: [] },
  { path: '/heads?printer={printer}', open: [] },
  { path: '/heads?printer={printer}&read=loose', open: [] },
  { path: '/media', open: [] },
  { path: '/media', open: ['Receive media'] },
  { path: '/media', open: ['Count'] },
  { path: '/media/spools', open: [] },
  { path: '/pace', open: [] },
  { path: '/pace/what-if', open: [] },
  { path: '/pace/quote', open: [] },
  { path: '/media?stock={stock}', open: [] },
  { path: '/media?spool={spool}', open: [] },
  { path: '/media?printer={printer}', open: ['Load another spool'] },
  { path: '/shelf', open: [] },
  { path: '/shelf?job={shelved}', open: [] },
  { path: '/setup?printer={printer}', open: [] },
  { path: '/setup?queue={queue}', open: [] },
  { path: '/setup?stock={stock}', open: [] },
  { path: '/setup?preset={preset}', open: [] },
  { path: '/setup?sizes=', open: [] },
  { path: '/setup?profiles=', open: [] },
  { path: '/setup?rules=', open: [] },
  { path: '/setup?hours=', open: [] },
  { path: '/setup?new-printer=', open: [] },
  { path: '/setup?many-stocks=', open: [] },
  { path: '/setup?people=', open: [] },
  { path: '/setup?person={person}', open: [] },
  { path: '/setup?messages=', open: [] },
  { path: '/me', open: [] },
];

interface Named {
  readonly id: string;
  readonly name?: string;
  readonly label?: string;
  readonly sourceName?: string;
  readonly customer?: string | null;
  readonly orderNo?: string | null;
  readonly state?: string;
}

/** Runs, a draft first: where there is none, one job is laid out. */
async function draftsOf(shop: TestShop, jobs: readonly Named[]): Promise<Named[]> {
  const runs = await shop.get<Named[]>('/api/runs');
  if (runs.some(({ state }) => state === 'draft')) return runs.sort((a) => (a.state === 'draft' ? -1 : 1));
  const ready = jobs.find(({ state }) => state === 'ready');
  if (!ready) return [];
  return [await shop.send<Named>('POST', '/api/runs', { jobIds: [ready.id] }), ...runs];
}

/** What the shop at hand calls its things, and one of each kind to look at. */
export class ShopNames {
  private constructor(
    private readonly firsts: Readonly<Record<string, string | undefined>>,
    private readonly names: readonly RegExp[],
  ) {}

  static async of(shop: TestShop): Promise<ShopNames> {
    const list = (path: string) => shop.get<Named[]>(path);
    const jobs = (await shop.get<{ items: Named[] }>('/api/jobs?limit=200')).items;
    const kept = (await shop.get<{ items: Named[] }>('/api/jobs?which=kept&limit=50')).items;
    const lists = {
      printer: await list('/api/printers'),
      queue: await list('/api/queues'),
      stock: await list('/api/stocks'),
      preset: await list('/api/presets'),
      spool: await list('/api/spools'),
      person: await list('/api/people'),
      run: await draftsOf(shop, jobs),
      job: jobs.filter(({ state }) => state === 'ready' || state === 'checked' || state === 'blocked'),
      shelved: kept,
    };
    const rules = await list('/api/rules');
    const refused = await list('/api/refusals');
    const firsts = Object.fromEntries(
      Object.entries(lists).map(([kind, all]) => [kind, (kind === 'job' ? all.at(-1) : all[0])?.id]),
    );
    const deep = JSON.stringify([
      lists.printer,
      lists.queue,
      await shop.get('/api/shop'),
      await shop.get('/api/sizes'),
    ]);
    const inside = [...deep.matchAll(/"(?:name|path|reason|label|zone)":"((?:[^"\\]|\\.)+)"/g)].map(
      ([, name = '']) => name,
    );
    const all = [...Object.values(lists).flat(), ...jobs, ...rules, ...refused].flatMap((each) => [
      each.name,
      each.label,
      each.sourceName,
      each.customer,
      each.orderNo,
    ]);
    const names = [...all, ...inside].filter((name): name is string => typeof name === 'string' && name.length > 1);
    const longest = [...new Set(names)].sort((a, b) => b.length - a.length);
    return new ShopNames(firsts, longest.map(wholeWord));
  }

  /** Undefined where the shop has nothing of that kind. */
  pathOf({ path }: Place): string | undefined {
    const filled = path.replace(/\{(\w+)\}/g, (_, kind: string) => {
      const id = this.firsts[kind];
      return id ?? '{}';
    });
    return filled.includes('{}') ? undefined : filled;
  }

  /**
   * A label up to the first thing that this shop has a name of its own for: so it begins in every shop. Undefined where it begins
   * with such a name, or is a figure.
   */
  plain(label: string): string | undefined {
    let text = label;
    for (const name of this.names) text = text.replace(name, '\0');
    const [first = '', ...named] = text.split('\0');
    // Counts, times, sizes and dates are no names.
    if (/\d/.test(first)) return undefined;
    const plain = first
      .replace(/\s+/g, ' ')
      .replace(/^[\s,.:;·…→+×%-]+|[\s,.:;·…→+×%-]+$/g, '')
      .replace(named.length > 0 ? / (of|for|on|in|from|to)$/ : /$^/, '');
    return /[a-z]{2}/i.test(plain) && plain.length <= 48 ? plain : undefined;
  }
}

/** A name where it stands by itself. */
function wholeWord(name: string): RegExp {
  return new RegExp(`(?<![\\w-])${name.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')}(?![\\w-])`, 'g');
}

/** The page is read by the same code by which the application finds its fields. */
const READER = `${
  buildSync({
    entryPoints: ['web/app/find/labels.ts'],
    bundle: true,
    write: false,
    format: 'iife',
    globalName: 'labels',
  }).outputFiles[0]?.text ?? ''
}; labels.namedOnPage(document).map(({ name }) => name)`;

/** The plain labels of a place that can be seen there. */
export async function labelsAt(page: Page, url: string, place: Place, names: ShopNames): Promise<string[]> {
  const path = names.pathOf(place);
  if (path === undefined) return [];
  await page.goto(url + path);
  await page.locator('#view h1, #view h2').first().waitFor();
  await page.waitForTimeout(600);
  for (const name of place.open) {
    const button = page
      .getByRole('button', { name: new RegExp(`^${name}`) })
      .or(page.getByRole('tab', { name: new RegExp(`^${name}`) }))
      .first();
    await button.click();
    await page.waitForTimeout(300);
  }
  const read = await page.evaluate<string[]>(READER);
  return [...new Set(read.flatMap((label) => names.plain(label) ?? []))];
}
