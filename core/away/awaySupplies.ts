import type { Line, LineEvent, PlanCare, PlanPrinter, PlanRun } from '../schedule/plan.ts';
import type { AwayChannel, AwayPrinter, AwayWorld, PlannedAway } from './awayWorld.ts';

/** A supply running down (or a basket filling up) over a time away. Lengths mm, ink ml. */
export interface SupplyTrack {
  readonly kind: 'spool' | 'ink' | 'basket';
  readonly printerId: string;
  /** A source, a channel, or `basket`. */
  readonly id: string;
  readonly name: string;
  /** The spool in the source; null: it is none. */
  readonly spoolId: string | null;
  readonly colour: string;
  readonly unit: 'mm' | 'ml';
  /** As it was new; of a basket: what it holds. */
  readonly full: number;
  /** What is there at each instant, in order; straight lines between them. */
  readonly points: readonly { readonly atMs: number; readonly amount: number }[];
  /** When it ends or is full; null: not in this time. */
  readonly endsMs: number | null;
}

/** Every supply that a time away takes from, printer by printer: spools, inks, baskets. */
export function awaySupplies(world: AwayWorld, planned: PlannedAway): SupplyTrack[] {
  return planned.floor.printers.flatMap(({ printer, runs }) => {
    const about = world.printers[printer.id];
    const line = planned.plan.lines.get(printer.id);
    if (!about || !line) return [];
    const byId = new Map(runs.map((run) => [run.id, run]));
    const takes = line.events.filter(
      (event): event is Taking =>
        (event.kind === 'run' || event.kind === 'care') && event.fromMs < world.period.toMs && isToCome(event, byId),
    );
    const care = new Map(printer.care.map((each) => [each.id, each]));
    const inkOf = (event: Taking): Readonly<Record<string, number>> =>
      event.kind === 'run'
        ? (byId.get(event.id)?.inkMl ?? {})
        : event.lacks === null && care.get(event.id)?.skipped !== true
          ? (care.get(event.id)?.inkMl ?? {})
          : {};
    const dry = new Map(
      line.shortages.flatMap(({ what, atMs }) =>
        what.kind === 'ink' && atMs < world.period.toMs ? [[what.channelId, atMs] as const] : [],
      ),
    );
    const { nowMs } = planned.floor;
    const changes = line.events.filter(
      (event): event is Extract<LineEvent, { kind: 'change-over' }> =>
        event.kind === 'change-over' && event.what !== 'mode',
    );
    return [
      ...spoolTracks(world, about, planned.floor, printer, takes, changes, shortFrom(line, byId, care)),
      ...about.channels.flatMap((channel) => {
        const left = printer.inkLeftMl[channel.id];
        return left === undefined
          ? []
          : inkTrack(world, about, channel, left, takes, inkOf, dry.get(channel.id) ?? null, nowMs);
      }),
      ...basketTrack(
        world,
        about,
        printer,
        takes,
        byId,
        nowMs,
        line.heldOut.find(({ why }) => why === 'empty')?.atMs ?? null,
      ),
    ];
  });
}

type Taking = Extract<LineEvent, { kind: 'run' | 'care' }>;

function isToCome(event: Taking, runs: ReadonlyMap<string, PlanRun>): boolean {
  return event.kind === 'care' || runs.get(event.id)?.endedMs === null;
}

/** Within the time away, and in its order. */
function points(
  { period }: AwayWorld,
  steps: readonly { readonly fromMs: number; readonly toMs: number; readonly before: number; readonly after: number }[],
  start: number,
  nowMs: number,
): SupplyTrack['points'] {
  const from = Math.max(nowMs, Math.min(period.fromMs, nowMs));
  const list: { atMs: number; amount: number }[] = [{ atMs: from, amount: start }];
  for (const { fromMs, toMs, before, after } of steps) {
    list.push({ atMs: Math.max(from, fromMs), amount: before }, { atMs: Math.max(from, toMs), amount: after });
  }
  const last = list.at(-1);
  if (last && last.atMs < period.toMs) list.push({ atMs: period.toMs, amount: last.amount });
  return list;
}

/** From when on what is left of a stock is too short for what would be printed on it. */
function shortFrom(
  { heldOut, events }: Line,
  runs: ReadonlyMap<string, PlanRun>,
  care: ReadonlyMap<string, PlanCare>,
): ReadonlyMap<string | undefined, Short> {
  const from = new Map<string | undefined, Short>();
  const note = (stockId: string | null | undefined, short: Short): void => {
    if (stockId != null && short.atMs < (from.get(stockId)?.atMs ?? Infinity)) from.set(stockId, short);
  };
  for (const { runId, atMs, why } of heldOut) {
    const run = runs.get(runId);
    if (why === 'load' && run) note(run.stockId, { atMs, needMm: run.needMm });
  }
  for (const event of events) {
    const own = event.kind === 'care' && event.lacks === 'media' ? care.get(event.id) : undefined;
    if (own) note(own.stockId, { atMs: event.fromMs, needMm: own.fedMm });
  }
  return from;
}

/** What a stock is too short for, and when that is wanted. */
interface Short {
  readonly atMs: number;
  readonly needMm: number;
}

/** Spools that are in the sources when the time away begins, or that something is printed from in it. */
function spoolTracks(
  world: AwayWorld,
  about: AwayPrinter,
  floor: PlannedAway['floor'],
  { sources }: PlanPrinter,
  takes: readonly Taking[],
  changes: readonly { readonly sourceId: string | null; readonly spoolId: string | null; readonly toMs: number }[],
  tooShort: ReadonlyMap<string | undefined, Short>,
): SupplyTrack[] {
  const { fromMs } = world.period;
  const stockOf = (spoolId: string): string | undefined =>
    sources.find((source) => source.spoolId === spoolId)?.stockId ??
    floor.rack.find(({ id }) => id === spoolId)?.stockId;
  return sources.flatMap((source): SupplyTrack[] => {
    const loads = changes.filter(({ sourceId, toMs }) => sourceId === source.id && toMs <= fromMs);
    const at = loads.length > 0 ? (loads.at(-1)?.spoolId ?? null) : source.spoolId;
    const used = takes.flatMap(({ fed, toMs }) =>
      fed?.sourceId === source.id && fed.spoolId !== null && toMs > fromMs ? [fed.spoolId] : [],
    );
    const ids = [...new Set([...(at === null ? [] : [at]), ...used])];
    return ids.map((spoolId) => {
      const { label = 'media', colour = '' } = world.spools[spoolId] ?? {};
      const start =
        source.spoolId === spoolId ? source.leftMm : (floor.rack.find(({ id }) => id === spoolId)?.leftMm ?? 0);
      let amount = start;
      const steps = takes.flatMap((event) => {
        if (event.fed?.spoolId !== spoolId) return [];
        const before = amount;
        // What is too short is not printed on.
        amount = event.fed.leftMm < 0 ? before : Math.min(before, event.fed.leftMm);
        return [{ fromMs: event.fromMs, toMs: event.toMs, before, after: amount }];
      });
      const short = tooShort.get(stockOf(spoolId));
      const leftMm = steps.findLast((step) => step.toMs <= (short?.atMs ?? 0))?.after ?? start;
      const isShort = spoolId === at && short !== undefined && leftMm < short.needMm - 1e-6;
      const endsMs = amount <= 1e-6 ? (steps.at(-1)?.toMs ?? null) : isShort ? short.atMs : null;
      return {
        ...{ kind: 'spool', printerId: about.id, id: source.id, name: label, spoolId, colour, unit: 'mm', full: start },
        points: points(world, steps, start, floor.nowMs),
        endsMs,
      };
    });
  });
}

function inkTrack(
  world: AwayWorld,
  about: AwayPrinter,
  channel: AwayChannel,
  left: number,
  takes: readonly Taking[],
  inkOf: (event: Taking) => Readonly<Record<string, number>>,
  endsMs: number | null,
  nowMs: number,
): SupplyTrack[] {
  let amount = left;
  const steps = takes.flatMap((event) => {
    const ml = inkOf(event)[channel.id] ?? 0;
    if (ml <= 0) return [];
    const before = amount;
    amount = Math.max(0, amount - ml);
    return [{ fromMs: event.fromMs, toMs: event.toMs, before, after: amount }];
  });
  const { id, name, colour, tankMl: full } = channel;
  return [
    {
      ...{ kind: 'ink', printerId: about.id, id, name, spoolId: null, colour, unit: 'ml', full },
      points: points(world, steps, left, nowMs),
      endsMs,
    },
  ];
}

function basketTrack(
  world: AwayWorld,
  about: AwayPrinter,
  printer: PlannedAway['floor']['printers'][number]['printer'],
  takes: readonly Taking[],
  runs: ReadonlyMap<string, PlanRun>,
  nowMs: number,
  heldMs: number | null,
): SupplyTrack[] {
  const { collectsMm, collectedMm, sources } = printer;
  if (collectsMm === null) return [];
  const woundUp = new Set(
    sources.filter(({ takeUp }) => takeUp !== null && printer.takeUp).map(({ spoolId }) => spoolId),
  );
  const care = new Map(printer.care.map((each) => [each.id, each]));
  let amount = collectedMm;
  let fullMs = heldMs;
  const steps = takes.flatMap((event) => {
    if (event.kind === 'care' && event.lacks === 'basket') fullMs ??= event.fromMs;
    if (event.fed && woundUp.has(event.fed.spoolId)) return [];
    const mm =
      event.kind === 'run'
        ? (runs.get(event.id)?.outMm ?? 0)
        : event.lacks === null && event.fed
          ? (care.get(event.id)?.fedMm ?? 0)
          : 0;
    if (mm <= 0) return [];
    const before = amount;
    // Who empties it in between lets it begin anew.
    amount = before + mm > collectsMm + 1e-6 ? mm : before + mm;
    const step = { fromMs: event.fromMs, toMs: event.toMs, before: amount < before + mm ? 0 : before, after: amount };
    const emptied = { fromMs: event.fromMs, toMs: event.fromMs, before, after: 0 };
    return step.before < before ? [emptied, step] : [step];
  });
  return [
    {
      ...{ kind: 'basket', printerId: about.id, id: 'basket', name: 'basket', spoolId: null, colour: '', unit: 'mm' },
      ...{ full: collectsMm, points: points(world, steps, collectedMm, nowMs), endsMs: fullMs },
    },
  ];
}
