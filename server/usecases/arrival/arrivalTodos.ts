import { eq, inArray, sql } from 'drizzle-orm';
import { type ArrivalTodo, jobs } from '../../db/schema.ts';
import { Refused, type Shop } from '../../shop.ts';
import { autoSubmitArrived } from '../run/autoSubmit.ts';
import { routeArrived } from './routeJobs.ts';

/** Claims whose jobs are being followed up; nobody else does it a second time. */
const following = new WeakMap<Shop['db'], Set<string>>();

function inHand(shop: Shop): Set<string> {
  const known = following.get(shop.db) ?? new Set<string>();
  following.set(shop.db, known);
  return known;
}

/**
 * What follows by itself when jobs have arrived: they go where the routing of their queue says, then, by the arrival rule *go*,
 * into a run. Each step is written down as done with what it did, so that it happens once whatever comes between.
 */
export async function continueArrival(shop: Shop, jobIds: readonly string[]): Promise<void> {
  const hands = inHand(shop);
  const own = jobIds.filter((id) => !hands.has(id));
  if (own.length === 0) return;
  for (const id of own) hands.add(id);
  try {
    const todo = todoOf(shop, own);
    if (!todo) return;
    const { rule } = todo;
    if (todo.step === 'route') {
      await attempt(shop, own, 'routed; they stay in their queue', () => routeArrived(shop, own));
      setTodo(shop, own, { step: 'go', rule });
    }
    await attempt(shop, own, 'sent on by themselves; they wait', () => autoSubmitArrived(shop, own, rule));
    setTodo(shop, own, null);
  } finally {
    for (const id of own) hands.delete(id);
  }
}

/** Goes on where a server was killed, or could not write, between the arrival of jobs and what follows it. */
export async function resumeArrivals(shop: Shop): Promise<void> {
  const rows = shop.db
    .select({ id: jobs.id, claimId: jobs.claimId })
    .from(jobs)
    // A comparison, so that the index is used: of years of jobs hardly any has something left to be done.
    .where(sql`${jobs.arrivalTodo} > ''`)
    .limit(500)
    .all();
  const byClaim = new Map<string, string[]>();
  for (const { id, claimId } of rows) {
    const claim = claimId ?? id;
    byClaim.set(claim, [...(byClaim.get(claim) ?? []), id]);
  }
  for (const ids of byClaim.values()) await continueArrival(shop, ids);
}

function todoOf(shop: Shop, jobIds: readonly string[]): ArrivalTodo | undefined {
  const row = shop.db
    .select({ todo: jobs.arrivalTodo })
    .from(jobs)
    .where(eq(jobs.id, jobIds[0] ?? ''))
    .get();
  return row?.todo ?? undefined;
}

function setTodo(shop: Shop, jobIds: readonly string[], todo: ArrivalTodo | null): void {
  shop.db
    .update(jobs)
    .set({ arrivalTodo: todo })
    .where(inArray(jobs.id, [...jobIds]))
    .run();
}

/** A step that fails for a reason of its own is logged and left to people; one that could not be written is tried again. */
async function attempt(shop: Shop, jobIds: readonly string[], what: string, act: () => Promise<void>): Promise<void> {
  try {
    await act();
  } catch (error) {
    if (shop.storage.noticed(error)) throw error;
    if (!(error instanceof Refused)) shop.log.error({ err: error, jobIds }, `jobs that arrived could not be ${what}`);
  }
}
