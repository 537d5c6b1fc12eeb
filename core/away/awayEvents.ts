import { ruledCare } from '../care/careRule.ts';
import { durationText } from '../units/durationText.ts';
import type { HandReason, Line, LineEvent, PlanRun, Shortage } from '../schedule/plan.ts';
import { wholeRunId } from './awayChange.ts';
import type { AwayPrinter, AwayWorld, PlannedAway } from './awayWorld.ts';

/** How something ends in a time away: it is done, it is skipped, something is missing, or a person is. */
export type AwayOutcome = 'done' | 'skipped' | 'impossible' | 'hand';

/** What is missing where something can't be done, or is there only if somebody brings it. */
export const AWAY_LACKS = ['media', 'ink', 'basket'] as const;
export type AwayLack = (typeof AWAY_LACKS)[number];

/** A run or care in a time away, and how it ends. */
export interface AwayEvent {
  readonly id: string;
  readonly printerId: string;
  readonly kind: 'run' | 'purge' | 'check' | 'clean' | 'stir' | 'feed' | 'release';
  readonly what: string;
  /** When it begins, or when its turn would come. */
  readonly atMs: number;
  readonly toMs: number;
  readonly outcome: AwayOutcome;
  /** Why it is not simply done; empty where it is. */
  readonly why: string;
  /** The supply that is missing; null: none is. */
  readonly lacks: AwayLack | null;
  readonly pieces: number;
  /** What of a run is printed by the end of the time away (0 … 1). */
  readonly share: number;
  /** Beyond the earliest of its dates. */
  readonly lateMs: number;
}

const HOUR = 3_600_000;

/** Everything that a time away holds, in the order of time, each with its end. */
export function awayEvents(world: AwayWorld, { floor, plan }: PlannedAway): AwayEvent[] {
  const events = floor.printers.flatMap(({ printer, runs }) => {
    const line = plan.lines.get(printer.id);
    const about = world.printers[printer.id];
    return line && about ? lineEvents(world, about, { printer, runs }, line) : [];
  });
  return [...events, ...holidayEvents(world)].sort((a, b) => a.atMs - b.atMs || (a.id < b.id ? -1 : 1));
}

function holidayEvents({ holidays, period }: AwayWorld): AwayEvent[] {
  return holidays
    .filter(({ atMs }) => atMs >= period.fromMs && atMs < period.toMs)
    .map(({ id, printerId, what: kind, title, atMs }) => ({
      ...{ id, printerId, kind, what: title, atMs, toMs: atMs },
      ...{ outcome: 'skipped', why: 'holiday', lacks: null, pieces: 0, share: 0, lateMs: 0 },
    }));
}

type Lined = PlannedAway['floor']['printers'][number];

function lineEvents(world: AwayWorld, about: AwayPrinter, lined: Lined, line: Line): AwayEvent[] {
  const { period } = world;
  const runs = new Map(lined.runs.map((run) => [run.id, run]));
  return line.events.flatMap((event): AwayEvent[] => {
    if (event.kind === 'run') {
      const run = runs.get(event.id);
      const isOver = run?.endedMs !== null || event.toMs <= period.fromMs;
      return isOver ? [] : [runEvent(world, about, lined, line, event, run)];
    }
    if (event.kind !== 'care') return [];
    // What is skipped or can't be done takes no time: it counts where it begins.
    const isWithin = event.fromMs < period.toMs && (event.toMs > period.fromMs || event.fromMs === period.fromMs);
    return isWithin ? [careEvent(world, about, lined, event)] : [];
  });
}

type CareLineEvent = Extract<LineEvent, { kind: 'care' }>;
type RunLineEvent = Extract<LineEvent, { kind: 'run' }>;

function careEvent(world: AwayWorld, about: AwayPrinter, { printer }: Lined, event: CareLineEvent): AwayEvent {
  const planned = printer.care.find(({ id }) => id === event.id);
  const { title: what = 'care', what: kind = 'clean' } =
    about.care[event.id] ?? ruledCare(about.rules, event.id)?.rule ?? {};
  const base = {
    ...{ id: event.id, printerId: about.id, kind, what, atMs: event.fromMs, toMs: event.toMs },
    ...{ lacks: event.lacks, pieces: 0, share: 0, lateMs: 0 },
  };
  if (planned?.skipped === true) return { ...base, outcome: 'skipped', why: 'exercised by work' };
  if (event.lacks !== null) {
    const stock = planned?.stockId == null ? 'media' : (world.stocks[planned.stockId] ?? 'media');
    return { ...base, outcome: 'impossible', why: event.lacks === 'media' ? `no ${stock} left` : 'the basket is full' };
  }
  if (event.toMs > world.period.toMs) return { ...base, outcome: 'impossible', why: over(event.toMs, world) };
  return { ...base, outcome: 'done', why: '' };
}

function over(toMs: number, { period }: AwayWorld): string {
  return `it would end ${durationText(toMs - period.toMs)} after the time away`;
}

/** What a run that is held out needs, in words. */
export function handText(why: HandReason, stock: string): string {
  const texts: Record<HandReason, string> = {
    clean: 'its heads are cleaned first',
    turn: 'its media is turned first',
    pieces: 'each piece is loaded by hand',
    watch: 'somebody has to be there',
    load: `${stock} has to be loaded`,
    empty: 'the basket has to be emptied',
    cut: 'it is too long to hang free',
  };
  return texts[why];
}

function runEvent(
  world: AwayWorld,
  about: AwayPrinter,
  { printer }: Lined,
  line: Line,
  event: RunLineEvent,
  run: PlanRun | undefined,
): AwayEvent {
  const { period } = world;
  const { name = 'a run', pieces = 0 } = world.runs[wholeRunId(event.id)] ?? {};
  const base = {
    id: event.id,
    printerId: about.id,
    kind: 'run' as const,
    what: name,
    lacks: null,
    pieces,
    share: 0,
    lateMs: event.lateMs,
  };
  const held = line.heldOut.find(({ runId }) => runId === event.id);
  const dry = line.shortages.find(
    (each) =>
      each.runId === event.id && each.what.kind === 'ink' && each.atMs < period.toMs && event.toMs > period.toMs,
  );
  if (dry) {
    const share = Math.min(1, Math.max(0, (dry.atMs - event.fromMs) / Math.max(1, run?.estimateMs ?? HOUR)));
    return {
      ...base,
      atMs: event.fromMs,
      toMs: dry.atMs,
      share,
      outcome: 'impossible',
      why: dryText(about, dry, share),
      lacks: 'ink',
    };
  }
  // The plan goes on as if somebody brought a roll; whoever is there has none that is long enough.
  const isShort =
    run !== undefined &&
    run.needMm > 0 &&
    event.fed !== null &&
    (event.fed.spoolId === null || event.fed.leftMm < -1e-6);
  if (isShort && run.state === 'queued') {
    const why = `no spool of ${world.stocks[run.stockId] ?? 'its media'} is long enough`;
    const atMs = Math.min(period.toMs, held?.atMs ?? event.fromMs);
    return { ...base, atMs, toMs: atMs, outcome: 'hand', why, lacks: 'media' };
  }
  if (event.toMs <= period.toMs) {
    return { ...base, atMs: event.fromMs, toMs: event.toMs, share: 1, outcome: 'done', why: '' };
  }
  if (held && event.fromMs >= period.toMs) {
    const why = handText(held.why, world.stocks[run?.stockId ?? ''] ?? 'its media');
    const lacks = held.why === 'load' ? 'media' : held.why === 'empty' ? 'basket' : null;
    return { ...base, atMs: Math.max(period.fromMs, held.atMs), toMs: held.atMs, outcome: 'hand', why, lacks };
  }
  if (event.fromMs < period.toMs) {
    const share = (period.toMs - event.fromMs) / Math.max(1, event.toMs - event.fromMs);
    return {
      ...base,
      atMs: event.fromMs,
      toMs: event.toMs,
      share,
      outcome: 'impossible',
      why: over(event.toMs, world),
    };
  }
  const stands = printer.stopped === null ? standing(about, line, event, period.toMs) : null;
  const why =
    printer.stopped === 'off'
      ? `${about.name} is off`
      : printer.stopped === 'fault'
        ? `${about.name} has a fault`
        : (stands ?? `no time left: it would begin ${durationText(event.fromMs - period.toMs)} after the time away`);
  const outcome = printer.stopped === null ? 'impossible' : 'hand';
  return { ...base, atMs: period.toMs, toMs: period.toMs, outcome, why, lacks: stands === null ? null : 'ink' };
}

function dryText({ channels, name }: AwayPrinter, { what }: Shortage, share: number): string {
  const channel = what.kind === 'ink' ? channels.find(({ id }) => id === what.channelId) : undefined;
  return `${channel?.name ?? 'an ink'} of ${name} runs out after ${String(Math.round(share * 100))} % of it`;
}

/** Why the printer stands before a run: an ink that ran out in the run before it. */
function standing(about: AwayPrinter, line: Line, event: RunLineEvent, toMs: number): string | null {
  const dry = line.shortages.find(({ what, atMs }) => what.kind === 'ink' && atMs < toMs && atMs < event.fromMs);
  if (dry?.what.kind !== 'ink') return null;
  const { channelId } = dry.what;
  const channel = about.channels.find(({ id }) => id === channelId)?.name ?? channelId;
  return `${about.name} stands: ${channel} ran out`;
}

/** What a plan brings by the end of the time away. Money in minor units. */
export interface AwayFigures {
  readonly runs: number;
  readonly pieces: number;
  readonly metres: number;
  /** Value of what is printed, less its costs, lateness and change-overs. */
  readonly worthMinor: number;
  /** Jobs' dates that are missed, by runs. */
  readonly lateRuns: number;
  readonly careDone: number;
  readonly careLost: number;
}

/** What a plan comes to, by the plan without chance. (The night's proposal, “Worth”.) */
export function awayFigures(world: AwayWorld, planned: PlannedAway, events: readonly AwayEvent[]): AwayFigures {
  const done = events.filter(({ kind, outcome }) => kind === 'run' && outcome === 'done');
  const care = events.filter(({ kind }) => kind !== 'run');
  const runs = new Map(planned.floor.printers.flatMap((each) => each.runs.map((run) => [run.id, run])));
  let [metres, worthMinor, pieces] = [0, 0, 0];
  for (const event of events) {
    if (event.kind !== 'run' || event.share <= 0) continue;
    const whole = wholeRunId(event.id);
    const about = world.runs[whole];
    // Of a run that was split each half is worth its half.
    const part = whole === event.id ? 1 : 0.5;
    metres += ((runs.get(event.id)?.outMm ?? 0) / 1000) * event.share;
    if (!about) continue;
    // Whole pieces that were printed stay.
    const kept = Math.floor(event.share * about.pieces * part + 1e-9);
    pieces += kept;
    worthMinor += (about.valueMinor * kept) / Math.max(1, about.pieces) - part * about.costMinor * event.share;
  }
  for (const [printerId, line] of planned.plan.lines) {
    const rate = world.printers[printerId]?.ratePerHourMinor ?? 0;
    worthMinor -= line.lateMinor + (line.changeOverMin / 60) * rate;
  }
  return {
    runs: new Set(done.map(({ id }) => wholeRunId(id))).size,
    pieces,
    metres,
    worthMinor,
    lateRuns: events.filter(({ kind, lateMs }) => kind === 'run' && lateMs > 60_000).length,
    careDone: care.filter(({ outcome }) => outcome === 'done').length,
    careLost: care.filter(({ outcome }) => outcome === 'impossible').length,
  };
}
