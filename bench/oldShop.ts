/*
 * A shop with three years behind it beside the same shop on its first day, in one run: when each is ready, what memory it
 * takes, how long every request that a page makes at its start needs, when views show content, how fast files come in and
 * runs are printed. Usage: npm run build && npm run bench:oldShop
 */
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Browser } from '@playwright/test';
import { pdfFile } from '../e2e/driver/files.ts';
import { TestShop } from '../e2e/driver/shop.ts';
import { NEW_SHOP, type OldShop, THREE_YEARS, makeOldShop } from '../server/testing/oldShop.ts';
import { openBrowser } from './browser.ts';

const FILES = 60;
const STARTS = 3;
const RUNS = 15;
const ROUNDS = 5;
const VIEWS = [
  ['Floor', '/floor', '[aria-roledescription="run, can be moved"], button[aria-label*="Run"]'],
  ['Intake', '/intake', '[role="grid"][aria-label="Jobs"] [role="gridcell"]'],
  ['Media', '/media', 'main svg'],
  ['Pace', '/pace', 'ul[aria-label="Figures"] li'],
  ['Shelf', '/shelf', 'main li button, main section p'],
] as const;

interface Figures {
  readonly readyMs: number;
  readonly restCpu: number;
  readonly rssMb: number;
  readonly slowest: { readonly path: string; readonly ms: number };
  readonly views: Readonly<Record<string, number>>;
  readonly filesPerS: number;
  readonly printedPerMin: number;
}

const dirs: string[] = [];
async function made(size: OldShop): Promise<string> {
  const dir = await mkdtemp(join(tmpdir(), 'yellow-spool-old-'));
  dirs.push(dir);
  const start = performance.now();
  await makeOldShop(dir, size);
  process.stdout.write(`${String(size.jobs)} jobs made in ${((performance.now() - start) / 1000).toFixed(0)} s\n`);
  return dir;
}

/** Seconds of processor time that a process has used. */
async function cpuOf(pid: number): Promise<number> {
  const fields = (await readFile(`/proc/${String(pid)}/stat`, 'utf8')).replace(/^.*\) /, '').split(' ');
  return (Number(fields[11]) + Number(fields[12])) / 100;
}

async function rssOf(pid: number): Promise<number> {
  return Number(/VmRSS:\s+(\d+)/.exec(await readFile(`/proc/${String(pid)}/status`, 'utf8'))?.[1] ?? 0) / 1024;
}

function median(values: readonly number[]): number {
  return [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? Number.NaN;
}

async function measured(dataDir: string, browser: Browser): Promise<Figures> {
  const starts: number[] = [];
  let shop: TestShop | undefined;
  for (let i = 0; i < STARTS; i += 1) {
    const from = performance.now();
    if (shop) await shop.start();
    else shop = await TestShop.open({ dataDir });
    starts.push(performance.now() - from);
    if (i < STARTS - 1) await shop.stop();
  }
  if (!shop) throw new Error('no shop');
  await shop.setRate(0);
  await new Promise((done) => setTimeout(done, 3000));
  const pid = shop.pid ?? 0;
  const before = await cpuOf(pid);
  await new Promise((done) => setTimeout(done, 10_000));
  const restCpu = (await cpuOf(pid)) - before;
  const asked = new Map<string, { readonly method: string; readonly path: string; readonly body: string | null }>();
  const views: Record<string, number[]> = {};
  for (let round = 0; round < ROUNDS; round += 1) {
    for (const [name, path, shown] of VIEWS) {
      const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
      page.on('request', (request) => {
        const url = new URL(request.url());
        const isList = url.pathname.startsWith('/api/') && url.pathname !== '/api/events';
        // Pictures are made by other threads and kept; they come after the content.
        if (!isList || url.pathname.endsWith('/picture')) return;
        const address = url.pathname + url.search;
        const body = request.postData();
        asked.set(`${address} ${body ?? ''}`, { method: request.method(), path: address, body });
      });
      await page.goto(shop.url + path, { waitUntil: 'commit' });
      // By the page's own clock, from the start of its navigation to the frame that has the content.
      const shownMs = await page.evaluate<number>(`new Promise((done) => {
        (function look() {
          if (document.querySelector(${JSON.stringify(shown)})) done(performance.now());
          else requestAnimationFrame(look);
        })();
      })`);
      (views[name] ??= []).push(shownMs);
      await page.waitForTimeout(1500);
      await page.close();
    }
  }
  const slowest = await slowestOf(shop, [...asked.values()]);
  const rssMb = await rssOf(pid);
  const filesPerS = await ingest(shop);
  const printedPerMin = await printing(shop);
  await shop.stop();
  return {
    readyMs: median(starts),
    restCpu: restCpu * 10,
    rssMb,
    slowest,
    views: Object.fromEntries(Object.entries(views).map(([name, all]) => [name, median(all)])),
    filesPerS,
    printedPerMin,
  };
}

interface Asked {
  readonly method: string;
  readonly path: string;
  readonly body: string | null;
}

/** The slowest of what pages ask for at their start, each asked alone and five times; the browser's own work is not in it. */
async function slowestOf(shop: TestShop, asked: readonly Asked[]): Promise<Figures['slowest']> {
  let worst = { path: '', ms: 0 };
  for (const { method, path, body } of asked) {
    const times: number[] = [];
    for (let i = 0; i < 5; i += 1) {
      const from = performance.now();
      const headers = body === null ? {} : { 'content-type': 'application/json' };
      await (await fetch(shop.url + path, { method, headers, ...(body === null ? {} : { body }) })).text();
      times.push(performance.now() - from);
    }
    const ms = median(times);
    if (ms > worst.ms) worst = { path, ms };
  }
  return worst;
}

async function ingest(shop: TestShop): Promise<number> {
  const pdf = await pdfFile([{ widthMm: 210, heightMm: 148 }]);
  const from = performance.now();
  await Promise.all(Array.from({ length: FILES }, (_, i) => shop.drop('gannet-plans', `bench-${String(i)}.pdf`, pdf)));
  await shop.until(async () => {
    const found = await shop.get<{ items: unknown[] }>('/api/jobs?which=live&limit=2000&text=bench');
    return found.items.length === FILES;
  }, 300_000);
  return FILES / ((performance.now() - from) / 1000);
}

/** Runs that come out of the printers in a minute of real time, at a speed at which the server has to keep up. */
async function printing(shop: TestShop): Promise<number> {
  const left = async (): Promise<number> => (await shop.runs()).filter(({ endedMs }) => endedMs === null).length;
  await shop.setRate(600);
  const before = await left();
  const from = performance.now();
  await shop.until(async () => (await left()) <= before - RUNS, 180_000);
  return RUNS / ((performance.now() - from) / 60_000);
}

const browser = await openBrowser();
try {
  const fresh = await measured(await made(NEW_SHOP), browser);
  const old = await measured(await made(THREE_YEARS), browser);
  const row = (what: string, a: number, b: number, unit: string): void => {
    process.stdout.write(
      `${what.padEnd(34)} new ${a.toFixed(1).padStart(8)}  old ${b.toFixed(1).padStart(8)} ${unit.padEnd(8)} ${(b / a).toFixed(2)}x\n`,
    );
  };
  row('ready', fresh.readyMs, old.readyMs, 'ms');
  row('resident memory', fresh.rssMb, old.rssMb, 'MB');
  row('processor at rest', fresh.restCpu, old.restCpu, '%');
  for (const [name] of VIEWS) row(`${name} shows content`, fresh.views[name] ?? 0, old.views[name] ?? 0, 'ms');
  row('files brought in', fresh.filesPerS, old.filesPerS, '/s');
  row('runs printed', fresh.printedPerMin, old.printedPerMin, '/min');
  for (const [which, { slowest }] of Object.entries({ new: fresh, old })) {
    process.stdout.write(`slowest request of a page, ${which} shop: ${slowest.ms.toFixed(1)} ms, ${slowest.path}\n`);
  }
} finally {
  await browser.close();
  for (const dir of dirs) await rm(dir, { recursive: true, force: true });
}
