/*
 * The demo with its crew for some days of shop time: whether anything is stuck, whether every spool's ledger brings what is left
 * on it, and how much memory the server holds. Usage: npm run build && npm run bench:crew [-- days rate]
 */
import { readFileSync } from 'node:fs';
import type { PrinterView, RunItem, SpoolView } from '../contract/api/floor.ts';
import type { SpoolDetail } from '../contract/api/media/media.ts';
import type { ClockView } from '../contract/api/common.ts';
import type { HandView } from '../contract/api/hand.ts';
import { TestShop } from '../e2e/driver/shop.ts';

const DAYS = Number(process.argv[2] ?? 7);
const RATE = Number(process.argv[3] ?? 600);
const HOUR = 3_600_000;
/** A hand that stands so long in hours when people are there is stuck. */
const STUCK_HOURS = 4;

const shop = await TestShop.open({ demo: true, crew: true });
const since = new Map<string, number>();
const stuck = new Map<string, string>();
let attendedHours = 0;

/** Resident memory of the server (MB), from the kernel. */
function memoryMb(): number {
  const status = readFileSync(`/proc/${String(shop.pid)}/status`, 'utf8');
  return Number(/VmRSS:\s+(\d+)/.exec(status)?.[1] ?? 0) / 1024;
}

async function ledgerFaults(): Promise<string[]> {
  const spools = await shop.get<SpoolView[]>('/api/spools');
  const runs = await shop.get<RunItem[]>('/api/runs');
  // What a run has fed so far is booked when it ends.
  const feeding = new Set(
    runs.filter(({ state }) => ['sent', 'printing', 'paused'].includes(state)).map(({ spoolId }) => spoolId),
  );
  const faults: string[] = [];
  for (const spool of spools) {
    if (feeding.has(spool.id)) continue;
    const { ledger } = await shop.get<SpoolDetail>(`/api/spools/${spool.id}`);
    const sum = ledger.reduce((total, { mm }) => total + mm, 0);
    if (Math.abs(sum - spool.leftMm) > 0.01)
      faults.push(`${spool.label}: ${String(sum)} booked, ${String(spool.leftMm)} left`);
    if (spool.leftMm < -0.01) faults.push(`${spool.label}: ${String(spool.leftMm)} left`);
  }
  return faults;
}

try {
  const { shopMs: startMs } = await shop.get<ClockView>('/api/clock');
  await shop.setRate(RATE);
  let toldDay = -1;
  let before = startMs;
  for (;;) {
    await new Promise((done) => setTimeout(done, 1000));
    const { shopMs } = await shop.get<ClockView>('/api/clock');
    const hour = new Date(shopMs).getHours();
    const weekday = new Date(shopMs).getDay();
    const attended = weekday > 0 && weekday < 6 && hour >= 8 && hour < 17;
    if (attended) attendedHours += (shopMs - before) / HOUR;
    before = shopMs;
    const hands = (await shop.get<HandView[]>('/api/next-hands')).filter(({ when }) => when === 'now');
    for (const key of since.keys()) if (!hands.some((hand) => hand.key === key)) since.delete(key);
    for (const { key, text } of hands) {
      if (!since.has(key)) since.set(key, attendedHours);
      if (attendedHours - (since.get(key) ?? 0) > STUCK_HOURS) stuck.set(key, text);
    }
    const day = Math.floor((shopMs - startMs) / (24 * HOUR));
    if (day > toldDay) {
      toldDay = day;
      const runs = await shop.get<RunItem[]>('/api/runs');
      const printers = await shop.get<PrinterView[]>('/api/printers');
      const states = printers.map(({ name, state }) => `${name} ${state}`).join(', ');
      const printed = runs.filter(({ state, endedMs }) => state === 'printed' && (endedMs ?? 0) > startMs).length;
      const queued = runs.filter(({ state }) => state === 'queued').length;
      console.log(
        `day ${String(day)}: ${String(queued)} queued, ${String(printed)} of the last runs printed since the start, ${memoryMb().toFixed(0)} MB; ${states}`,
      );
    }
    if (shopMs - startMs >= DAYS * 24 * HOUR) break;
  }
  await shop.setRate(0);
  const faults = await ledgerFaults();
  console.log(`ledgers: ${faults.length === 0 ? 'each brings what is left' : faults.join('; ')}`);
  console.log(
    `stuck for more than ${String(STUCK_HOURS)} h: ${stuck.size === 0 ? 'nothing' : [...stuck.values()].join('; ')}`,
  );
} finally {
  await shop.close();
}
