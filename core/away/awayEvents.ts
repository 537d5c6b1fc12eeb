import { durationText } from '../units/durationText.ts';
import { metresText } from '../units/lengthText.ts';
import type { HandReason, Line, LineEvent, PlanRun, Shortage } from '../schedule/plan.ts';
import { wholeRunId } from './awayChange.ts';
import type { AwayPrinter, AwayWorld, PlannedAway } from './awayWorld.ts';

/** How something ends in a time away: it is done, it is skipped, something is missing, or a person is. */
export type AwayOutcome = 'done' | 'skipped' | 'impossible' | 'hand';

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
  readonly pieces: number;
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
    .map(({ id, printerId, title, atMs }) => ({
      ...{ id, printerId, kind: 'purge', what: title, atMs, toMs: atMs },
      ...{ outcome: 'skipped', why: 'holiday', pieces: 0, lateMs: 0 },
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
    const isWithin = event.fromMs < period.toMs && (event.toMs > period.fromMs || event.fromMs >= period.fromMs);
    return isWithin ? [careEvent(world, about, lined, event)] : [];
  });
}

type CareLineEvent = Extract<LineEvent, { kind: 'care' }>;
type RunLineEvent = Extract<LineEvent, { kind: 'run' }>;

function careEvent(world: AwayWorld, about: AwayPrinter, { printer }: Lined, event: CareLineEvent): AwayEvent {
  const { title: what = 'care', what: kind = 'clean' } = about.care[event.id] ?? {};
  const planned = printer.care.find(({ id }) => id === event.id);
  const base = {
    ...{ id: event.id, printerId: about.id, kind, what, atMs: event.fromMs, toMs: event.toMs },
    ...{ pieces: 0, lateMs: 0 },
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
  const base = { id: event.id, printerId: about.id, kind: 'run' as const, what: name, pieces, lateMs: event.lateMs };
  const held = line.heldOut.find(({ runId }) => runId === event.id);
  const dry = line.shortages.find(
    (each) =>
      each.runId === event.id && each.what.kind === 'ink' && each.atMs < period.toMs && event.toMs > period.toMs,
  );
  if (dry) {
    const why = dryText(about, dry, event.fromMs, run?.estimateMs ?? HOUR);
    return { ...base, atMs: event.fromMs, toMs: dry.atMs, outcome: 'impossible', why };
  }
  if (event.toMs <= period.toMs) {
    return { ...base, atMs: event.fromMs, toMs: event.toMs, outcome: 'done', why: '' };
  }
  if (held && event.fromMs >= period.toMs) {
    const why = handText(held.why, world.stocks[run?.stockId ?? ''] ?? 'its media');
    return { ...base, atMs: Math.max(period.fromMs, held.atMs), toMs: held.atMs, outcome: 'hand', why };
  }
  if (event.fromMs < period.toMs) {
    return { ...base, atMs: event.fromMs, toMs: event.toMs, outcome: 'impossible', why: over(event.toMs, world) };
  }
  const stands = printer.stopped === null ? standing(about, line, event, period.toMs) : null;
  const why =
    printer.stopped === 'off'
      ? `${about.name} is off`
      : printer.stopped === 'fault'
        ? `${about.name} has a fault`
        : (stands ?? `no time left: it would begin ${durationText(event.fromMs - period.toMs)} after the time away`);
  const outcome = printer.stopped === null ? 'impossible' : 'hand';
  return { ...base, atMs: period.toMs, toMs: period.toMs, outcome, why };
}

function dryText({ channels, name }: AwayPrinter, { what, atMs }: Shortage, fromMs: number, forMs: number): string {
  const channel = what.kind === 'ink' ? channels.find(({ id }) => id === what.channelId) : undefined;
  const share = Math.round(Math.min(1, Math.max(0, (atMs - fromMs) / forMs)) * 100);
  return `${channel?.name ?? 'an ink'} of ${name} runs out after ${String(share)} % of it`;
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
  let metres = 0;
  let worthMinor = 0;
  const seen = new Set<string>();
  for (const { id } of done) {
    const whole = wholeRunId(id);
    metres += (runs.get(id)?.outMm ?? 0) / 1000;
    const about = world.runs[whole];
    // Of a run that was split each half is worth its half.
    const share = whole === id ? 1 : 0.5;
    if (about) worthMinor += share * (about.valueMinor - about.costMinor);
    seen.add(whole);
  }
  for (const [printerId, line] of planned.plan.lines) {
    const rate = world.printers[printerId]?.ratePerHourMinor ?? 0;
    worthMinor -= line.lateMinor + (line.changeOverMin / 60) * rate;
  }
  return {
    runs: seen.size,
    pieces: done.reduce((sum, { pieces, id }) => sum + (wholeRunId(id) === id ? pieces : pieces / 2), 0),
    metres,
    worthMinor,
    lateRuns: events.filter(({ kind, lateMs }) => kind === 'run' && lateMs > 60_000).length,
    careDone: care.filter(({ outcome }) => outcome === 'done').length,
    careLost: care.filter(({ outcome }) => outcome === 'impossible').length,
  };
}

/** `18.40 m`, for what runs short. */
export function leftText(mm: number): string {
  return metresText(Math.max(0, mm));
}
