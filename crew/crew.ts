import type { ClockView } from '../contract/api/common.ts';
import type { PrinterView, RunItem } from '../contract/api/floor.ts';
import type { CrewView, HandView } from '../contract/api/hand.ts';
import type { HeadsView } from '../contract/api/heads.ts';
import type { JobList } from '../contract/api/job.ts';
import type { ShopSetup } from '../contract/api/shop.ts';
import { isAtWork, takesMs } from './times.ts';

/** What somebody sees of the lines of one channel. */
export interface SeenNozzles {
  readonly missing: readonly number[];
  readonly weak: readonly number[];
  readonly crooked: readonly number[];
}

/** The shop as people reach it: its API, and the printers where they stand. */
export interface Reach {
  readonly get: <T>(path: string) => Promise<T>;
  /** @returns the status: 409 is an answer, not an error */
  readonly send: (method: 'POST' | 'PUT', path: string, body: unknown) => Promise<number>;
  /** Fills the tanks of a printer (ml by channel). */
  readonly fill: (printerId: string, inkMl: Readonly<Record<string, number>>) => Promise<void>;
  /** Somebody from outside cleans the heads of a printer thoroughly. */
  readonly service: (printerId: string) => Promise<void>;
  /** What the check plot shows that a printer has printed last, by channel; null: none lies there. */
  readonly plotOf: (printerId: string) => Promise<Record<string, SeenNozzles> | null>;
  /** Lays a new piece of work into one of the hot folders. */
  readonly bringWork: (no: number) => Promise<void>;
}

/** A hand that a person of the shop has opened is theirs for so long (s). */
const LEFT_ALONE_S = 300;
/** Two people do one thing each at a time. */
const PEOPLE = 2;
/** Between two pieces of new work, least and most (shop ms). */
const WORK_MS = [20 * 60_000, 75 * 60_000] as const;
/** No more is brought while so many jobs wait. */
const ENOUGH_WAITING = 60;
const DELIVERY_MM = 30_000;

/**
 * Stands in for the people of a demo shop: does what next hands says, after as long as people take and while they are there. It
 * knows nothing but the API: whatever it can do a person can do as well.
 */
export class Crew {
  /** When each hand will be done, by its key (shop ms). */
  private readonly begun = new Map<string, number>();
  private nextWorkMs: number | undefined;
  private brought = 0;
  /** Runs that a roll was delivered for: where that doesn't help it was not a roll that was missing. */
  private readonly delivered = new Set<string>();

  constructor(
    private readonly reach: Reach,
    private readonly random: () => number,
  ) {}

  /** One look around the shop. */
  async look(): Promise<void> {
    const { there, on } = await this.reach.get<CrewView>('/api/crew');
    if (!there || !on) {
      this.begun.clear();
      return;
    }
    const { shopMs } = await this.reach.get<ClockView>('/api/clock');
    const hours = await this.reach.get<ShopSetup>('/api/shop');
    if (!isAtWork(hours, shopMs)) {
      this.begun.clear();
      return;
    }
    const hands = await this.reach.get<HandView[]>('/api/next-hands');
    await this.workOn(hands, shopMs);
    await this.newWork(shopMs);
  }

  private async workOn(hands: readonly HandView[], nowMs: number): Promise<void> {
    const wanted = hands.filter((hand) => this.canDo(hand) && (hand.openedS === null || hand.openedS > LEFT_ALONE_S));
    const keys = new Set(wanted.map(({ key }) => key));
    for (const key of this.begun.keys()) if (!keys.has(key)) this.begun.delete(key);
    for (const hand of wanted) {
      const doneMs = this.begun.get(hand.key);
      if (doneMs === undefined) {
        const takes = this.begun.size < PEOPLE ? takesMs(hand.kind, this.random) : undefined;
        if (takes !== undefined) this.begun.set(hand.key, nowMs + takes);
      } else if (nowMs >= doneMs) {
        // Done, or refused since it has changed meanwhile: either way it is looked at anew.
        this.begun.delete(hand.key);
        await this.do(hand);
      }
    }
  }

  private canDo({ when, kind, act }: HandView): boolean {
    if (kind === 'ink') return true;
    if (when !== 'now') return false;
    return act !== null || kind === 'load' || kind === 'heads';
  }

  private async do(hand: HandView): Promise<void> {
    const { kind, act, load, key, printerId } = hand;
    if (kind === 'ink') return this.fillInk(hand);
    if (act !== null) {
      await this.reach.send('POST', '/api/next-hands/done', { key });
      return;
    }
    if (kind === 'heads') return this.lookAfter(printerId);
    if (kind !== 'load') return;
    if (load === null) return this.deliver(hand);
    // Where there is a take-up, who loads sets it as well.
    const takeUp = { winding: 'printed side in', tension: 'medium' };
    await this.reach.send('POST', `/api/spools/${load.spoolId}/load`, { printerId, sourceId: load.sourceId, takeUp });
  }

  private async fillInk({ printerId }: HandView): Promise<void> {
    const printers = await this.reach.get<PrinterView[]>('/api/printers');
    const printer = printers.find(({ id }) => id === printerId);
    if (!printer) return;
    await this.reach.fill(printerId, Object.fromEntries(printer.config.channels.map(({ id, tankMl }) => [id, tankMl])));
  }

  /** A check plot is read as it lies there; heads that can't print what comes next get the first step of what is advised. */
  private async lookAfter(printerId: string): Promise<void> {
    const { checkToRead, checks, advice } = await this.reach.get<HeadsView>(`/api/printers/${printerId}/heads`);
    const check = checks.find(({ id }) => id === checkToRead);
    const seen = check && (await this.reach.plotOf(printerId));
    if (check && seen) {
      const found = Object.fromEntries(
        check.channelIds.flatMap((id) => (seen[id] ? [[id, { ...seen[id], unjudged: [] }]] : [])),
      );
      await this.reach.send('POST', `/api/checks/${check.id}/reading`, { by: 'eye', confidence: null, found });
      return;
    }
    const [rung] = advice?.rungs ?? [];
    if (!advice) return;
    if (!rung) {
      // Service is called, and shows what it has done.
      await this.reach.service(printerId);
      await this.reach.send('POST', '/api/care', { printerId, what: { kind: 'check' } });
      return;
    }
    const { channelIds } = advice;
    await this.reach.send('POST', `/api/printers/${printerId}/heads/care`, {
      action: rung.action,
      channelIds,
      check: true,
    });
  }

  /** Nothing of it is on the rack: a new roll comes in. */
  private async deliver({ runId }: HandView): Promise<void> {
    const runs = await this.reach.get<RunItem[]>('/api/runs');
    const run = runs.find(({ id }) => id === runId);
    if (!run || this.delivered.has(run.id)) return;
    this.delivered.add(run.id);
    const label = `CR-${String(Math.floor(this.random() * 90_000) + 10_000)}`;
    const lengthMm = Math.max(DELIVERY_MM, Math.ceil((run.needMm * 1.5) / 1000) * 1000);
    await this.reach.send('POST', '/api/spools', { stockId: run.stockId, label, lot: 'delivered', lengthMm });
  }

  /** Customers go on sending, as long as the shop keeps up. */
  private async newWork(nowMs: number): Promise<void> {
    const [least, most] = WORK_MS;
    this.nextWorkMs ??= nowMs + least * this.random();
    if (nowMs < this.nextWorkMs) return;
    this.nextWorkMs = nowMs + least + this.random() * (most - least);
    const { items } = await this.reach.get<JobList>(`/api/jobs?which=live&limit=${String(ENOUGH_WAITING)}`);
    if (items.length >= ENOUGH_WAITING) return;
    this.brought += 1;
    await this.reach.bringWork(this.brought);
  }
}
