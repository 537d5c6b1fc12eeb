import { COORDINATOR } from '../../core/events/actor.ts';
import { tz } from '@date-fns/tz';
import { eq, inArray } from 'drizzle-orm';
import { addDays, format, startOfDay } from 'date-fns';
import { type Random, seededRandom } from '../../core/random.ts';
import { jobs, pieces, settings } from '../db/tables/schema.ts';
import { LiveBus } from '../http/liveBus.ts';
import type { Shop } from '../shop.ts';
import { changeJob } from '../usecases/ticket/changeJobs.ts';
import { applyKeepRules, openAsNew } from '../usecases/shelf/shelf.ts';
import { PastClock } from './pastClock.ts';
import { PastHeads } from './pastHeads.ts';
import { pastSpells } from './pastSpells.ts';
import { PastPrinting } from './pastPrinting.ts';
import { type PastWork, pastWork } from './pastWork.ts';
import { levelLedgers } from './pastSupplies.ts';

const KEY = 'demo-history';
const WEEKS = 6;
const HOUR = 3_600_000;
const DAY = 24 * HOUR;
/** Nothing that comes in here goes by itself. */
export const QUIET_QUEUE = 'bittern-photo';
const MIN = 60_000;
/** When the shop opens, and for how long orders come in. */
const OPENS_H = 7.5;
const ORDERS_H = 6.5;

interface Master {
  readonly work: PastWork;
  readonly jobId: string;
}

type BringIn = (past: Shop, queueId: string, name: string, bytes: Uint8Array) => Promise<string | undefined>;

/**
 * The six weeks before the demo opens, day after day as they would have been: jobs arrive, are laid out, queued and printed
 * by the same steps as any other, with each printer's own deviation, faults and pauses. Each day is one transaction, so that a
 * start that was broken off goes on with the next day.
 */
export async function seedHistory(shop: Shop, bringIn: BringIn): Promise<void> {
  const { db } = shop;
  const openMs = shop.clock.now();
  const days = workDays(openMs, shop.clock.zone);
  const [firstMs] = days;
  if (firstMs === undefined) return;
  const done = (): number =>
    (db.select().from(settings).where(eq(settings.key, KEY)).get()?.value as number | undefined) ?? 0;
  if (done() >= days.length) return;
  const clock = new PastClock(db, firstMs - HOUR);
  const past: Shop = { ...shop, clock, bus: new LiveBus(), wakeDispatcher: () => undefined };
  const heads = new PastHeads(past, clock, days);
  const masters = await masterJobs(past, bringIn);
  for (let day = done(); day < days.length; day += 1) {
    const dayMs = days[day] ?? openMs;
    const random = seededRandom(4000 + day);
    db.transaction(() => {
      clock.atMs = dayMs;
      applyKeepRules(past);
      heads.morning(dayMs, random);
      const printing = new PastPrinting(past, clock, random, openMs - MIN);
      for (const { work, jobId } of masters) {
        if (dayMs > openMs - (work.restsDays ?? 0) * DAY) continue;
        for (let n = ordersOn(work, random); n > 0; n -= 1) {
          const atMs = dayMs + random() * ORDERS_H * HOUR;
          if (atMs < openMs - 5 * MIN)
            printing.at(atMs, () => {
              order(past, printing, { work, jobId }, random);
            });
        }
      }
      printing.run();
      pastSpells(db, dayMs, openMs - MIN, random);
      if (day === days.length - 1) {
        levelLedgers(past, openMs);
        heads.purges(openMs);
        const ids = masters.map(({ jobId }) => jobId);
        db.update(jobs).set({ state: 'dropped' }).where(inArray(jobs.id, ids)).run();
      }
      db.insert(settings)
        .values({ key: KEY, value: day + 1 })
        .onConflictDoUpdate({ target: settings.key, set: { value: day + 1 } })
        .run();
    });
    // Whoever looks already gets an answer between two days.
    await new Promise((next) => setImmediate(next));
  }
}

/** Openings of the working days of six weeks, the present one included (Monday to Saturday). */
function workDays(openMs: number, zone: string): number[] {
  const inZone = { in: tz(zone) };
  return Array.from({ length: WEEKS * 7 + 1 }, (_, i) => addDays(startOfDay(openMs, inZone), i - WEEKS * 7, inZone))
    .filter((day) => day.getDay() !== 0)
    .map((day) => day.getTime() + OPENS_H * HOUR);
}

/** How many orders of it come in on one day, so that a week has about as many as it says. */
function ordersOn({ perWeek }: PastWork, random: Random): number {
  const mean = perWeek / 6;
  return Math.floor(mean) + (random() < mean - Math.floor(mean) ? 1 : 0);
}

/** Each kind of work once, as a file that came in and is kept; what follows is opened anew from it. */
async function masterJobs(past: Shop, bringIn: BringIn): Promise<Master[]> {
  const { db } = past;
  const found: Master[] = [];
  for (const work of await pastWork()) {
    const name = `${work.name}.pdf`;
    const there = db.select({ id: jobs.id }).from(jobs).where(eq(jobs.sourceName, name)).get()?.id;
    const jobId = there ?? (await bringIn(past, QUIET_QUEUE, name, await work.file()));
    const job = jobId === undefined ? undefined : db.select().from(jobs).where(eq(jobs.id, jobId)).get();
    if (!job) throw new Error(`${name} of the demo was refused`);
    found.push({ work, jobId: job.id });
    if (job.state === 'shelved') continue;
    changeJob(past, job.id, { ...work.ticket, queueId: work.queueId }, COORDINATOR);
    // Nothing of it is owed by itself.
    db.transaction((tx) => {
      tx.delete(pieces).where(eq(pieces.jobId, job.id)).run();
      tx.update(jobs).set({ state: 'shelved' }).where(eq(jobs.id, job.id)).run();
    });
  }
  return found;
}

/** One more order of a work that the shop prints again and again: copies, date and customer as chance has it. */
function order(past: Shop, printing: PastPrinting, { work, jobId: masterId }: Master, random: Random): void {
  const { clock, db } = past;
  const [least, most] = work.copies;
  const copies = Math.round(least + random() ** 1.6 * (most - least));
  const jobId = openAsNew(past, masterId, COORDINATOR);
  const day = format(clock.now(), 'd MMM', { in: tz(clock.zone) });
  db.update(jobs)
    .set({ sourceName: `${work.name} ${day}.pdf` })
    .where(eq(jobs.id, jobId))
    .run();
  const dueMs = Math.round(clock.now() + (3 + random() * 26) * HOUR);
  changeJob(past, jobId, { copies, dueMs }, COORDINATOR);
  printing.layOut(jobId, clock.now() + (5 + random() * 40) * MIN);
}
