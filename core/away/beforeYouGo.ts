import type { HeldOut, PlanPrinter, PlanRun, RackSpool } from '../schedule/plan.ts';
import { NARROWER_MM } from '../flow/startCheck.ts';
import { assignSpool } from '../stock/assignSpools.ts';
import { type AwayChange, changedFloor } from './awayChange.ts';
import { type AwayEvent, type AwayFigures, awayEvents, awayFigures } from './awayEvents.ts';
import { type AwayPrinter, type AwayWorld, type PlannedAway, planAway } from './awayWorld.ts';

/** Something to do before leaving, or another way to plan, and what it brings. */
export interface AwayAction {
  readonly key: string;
  /** To be done by hand before leaving; another plan needs no hands. */
  readonly kind: 'hand' | 'plan';
  readonly text: string;
  /** What it would change; null: it can't be had here, so that there is nothing to simulate. */
  readonly change: AwayChange | null;
  /** Minutes of hands. */
  readonly minutes: number;
  /** Against the plan without it. */
  readonly gain: { readonly pieces: number; readonly care: number; readonly worthMinor: number };
}

/** Minutes that a hand takes where no change-over says it. */
const HAND_MIN = { fill: 3, empty: 2, add: 2, clean: 6 } as const;
/** A purge may be thinned to this share of its ink. */
const THIN_SHARE = 0.5;
/** More ideas than this are not worked out. */
const MOST_IDEAS = 24;

type Idea = Omit<AwayAction, 'gain'>;

/**
 * What could be done before leaving, what brings most first: what each problem of the plan calls for, then other ways to plan. What
 * would bring nothing is left out, but for what can't be had.
 */
export function beforeYouGo(world: AwayWorld, planned: PlannedAway, events: readonly AwayEvent[]): AwayAction[] {
  const without = awayFigures(world, planned, events);
  const ideas = uniqueIdeas(
    planned.floor.printers.flatMap(({ printer, runs }) => {
      const about = world.printers[printer.id];
      const line = planned.plan.lines.get(printer.id);
      if (!about || !line) return [];
      const own = events.filter(({ printerId }) => printerId === printer.id);
      const held = line.heldOut.filter(({ runId }) =>
        own.some(({ id, outcome }) => id === runId && outcome === 'hand'),
      );
      return [
        ...held.flatMap((each) => handIdeas(world, planned, { about, printer, runs }, each)),
        ...inkIdeas(world, about, line.shortages),
        ...careIdeas(world, planned, { about, printer }, own),
        ...planIdeas(world, { about, printer, runs }, own),
      ];
    }),
  ).slice(0, MOST_IDEAS);
  const actions = ideas.map((idea) => ({ ...idea, gain: gainOf(world, without, idea.change) }));
  return actions
    .filter(({ change, gain }) => change === null || gain.pieces > 0 || gain.care > 0 || gain.worthMinor >= 1)
    .sort((a, b) => b.gain.worthMinor - a.gain.worthMinor || b.gain.care - a.gain.care || a.minutes - b.minutes);
}

function uniqueIdeas(ideas: readonly Idea[]): Idea[] {
  const seen = new Set<string>();
  return ideas.filter(({ key }) => !seen.has(key) && seen.add(key));
}

function gainOf(world: AwayWorld, without: AwayFigures, change: AwayChange | null): AwayAction['gain'] {
  if (change === null) return { pieces: 0, care: 0, worthMinor: 0 };
  const with_ = figuresWith(world, [change]);
  return {
    pieces: with_.pieces - without.pieces,
    care: with_.careDone - without.careDone,
    worthMinor: with_.worthMinor - without.worthMinor,
  };
}

/** The figures of a world as it would be with changes. @throws ChangeRefused where one names what is not there */
export function figuresWith(world: AwayWorld, changes: readonly AwayChange[]): AwayFigures {
  const changed = { ...world, floor: changedFloor(world.floor, changes) };
  const planned = planAway(changed);
  return awayFigures(changed, planned, awayEvents(changed, planned));
}

interface Lined {
  readonly about: AwayPrinter;
  readonly printer: PlanPrinter;
  readonly runs: readonly PlanRun[];
}

/** What a run that is held out calls for. */
function handIdeas(world: AwayWorld, planned: PlannedAway, lined: Lined, { runId, why }: HeldOut): Idea[] {
  const { about, printer, runs } = lined;
  const run = runs.find(({ id }) => id === runId);
  if (!run) return [];
  const stockMin = printer.changeOver.stockMin;
  switch (why) {
    case 'load':
      return loadIdeas(world, planned, lined, run);
    case 'empty':
      return [emptyIdea(about)];
    case 'clean':
      return [
        {
          ...{ key: `clean ${about.id}`, kind: 'hand', text: `Clean the heads of ${about.name} and check them` },
          ...{ change: { kind: 'clean', printerId: about.id }, minutes: HAND_MIN.clean },
        },
      ];
    case 'turn':
      return [
        {
          ...{ key: `turn ${runId}`, kind: 'hand', minutes: stockMin, change: { kind: 'turn', runId } },
          text: `Turn the media on ${about.name} for ${world.runs[runId]?.name ?? 'the back'}, and confirm`,
        },
      ];
    case 'pieces':
    case 'watch':
    case 'cut':
      return [];
  }
}

function emptyIdea({ id, name }: AwayPrinter): Idea {
  return {
    ...{ key: `empty ${id}`, kind: 'hand', text: `Empty the basket of ${name}` },
    ...{ change: { kind: 'empty', printerId: id }, minutes: HAND_MIN.empty },
  };
}

/** The spool to load for a run, where it takes least away: a source whose media no run of the night wants. */
function loadIdeas(world: AwayWorld, { floor }: PlannedAway, { about, printer, runs }: Lined, run: PlanRun): Idea[] {
  const spool = bestSpool(floor.rack, run);
  const stock = world.stocks[run.stockId] ?? 'its media';
  if (!spool) {
    const name = world.runs[run.id]?.name ?? 'a run';
    return [
      {
        ...{ key: `want ${run.stockId}`, kind: 'hand', change: null, minutes: 0 },
        text: `${name} wants ${stock}, and no spool on the rack is long and wide enough`,
      },
    ];
  }
  const wanted = new Set(runs.filter(({ state }) => state !== 'printed').map(({ stockId }) => stockId));
  return printer.sources.map((source) => {
    const keeps = source.stockId !== null && wanted.has(source.stockId) && source.stockId !== run.stockId;
    const label = world.spools[spool.id]?.label ?? spool.id;
    const where = about.sources.find(({ id }) => id === source.id)?.name ?? source.id;
    return {
      ...{ key: `load ${spool.id} ${about.id} ${source.id}`, kind: 'hand' as const },
      text: `Load ${label}, ${stock}, on ${about.name} ${where}${keeps ? ', which other runs want as it is' : ''}`,
      change: { kind: 'load' as const, printerId: about.id, sourceId: source.id, spoolId: spool.id },
      minutes: printer.changeOver.stockMin,
    };
  });
}

/** As the planner takes it from the rack, where it is long enough: the one that the run is meant for before all others. */
function bestSpool(rack: readonly RackSpool[], run: PlanRun): RackSpool | undefined {
  const own = rack.filter(({ stockId }) => stockId === run.stockId);
  const meant = own.filter(({ id }) => id === run.meantSpoolId);
  const best =
    assignSpool(meant, run.leastWidthMm - NARROWER_MM, run.needMm) ??
    assignSpool(own, run.leastWidthMm - NARROWER_MM, run.needMm);
  return best && best.leftMm >= run.needMm ? best : undefined;
}

function inkIdeas(
  { period }: AwayWorld,
  about: AwayPrinter,
  shortages: readonly {
    readonly atMs: number;
    readonly what: { readonly kind: string; readonly channelId?: string };
  }[],
): Idea[] {
  return shortages.flatMap(({ what, atMs }): Idea[] => {
    const channel = about.channels.find(({ id }) => id === what.channelId);
    if (!channel || atMs >= period.toMs) return [];
    return [
      {
        ...{ key: `fill ${about.id} ${channel.id}`, kind: 'hand', text: `Fill ${channel.name} of ${about.name}` },
        change: { kind: 'fill', printerId: about.id, channelId: channel.id, ml: channel.tankMl },
        minutes: HAND_MIN.fill,
      },
    ];
  });
}

/** What care that can't be printed calls for: sheets or a roll, an empty basket. */
function careIdeas(
  world: AwayWorld,
  { floor }: PlannedAway,
  { about, printer }: Pick<Lined, 'about' | 'printer'>,
  own: readonly AwayEvent[],
): Idea[] {
  const lost = own.filter(({ kind, outcome }) => kind !== 'run' && outcome === 'impossible');
  const care = new Map(printer.care.map((each) => [each.id, each]));
  const byStock = new Map<string | null, number>();
  for (const { id, lacks } of lost) {
    const each = care.get(id);
    if (!each || lacks === 'basket' || each.fedMm === 0) continue;
    byStock.set(each.stockId, (byStock.get(each.stockId) ?? 0) + 1);
  }
  const ideas = lost.some(({ lacks }) => lacks === 'basket') ? [emptyIdea(about)] : [];
  for (const [stockId, count] of byStock) {
    const fedMm = printer.care.find((each) => each.stockId === stockId)?.fedMm ?? 0;
    const source = printer.sources.find((each) => stockId === null || each.stockId === stockId);
    const stock = stockId === null ? 'media' : (world.stocks[stockId] ?? 'media');
    if (source?.spoolId != null && source.sheetMm !== null) {
      const sheets = Math.ceil(fedMm / source.sheetMm - 1e-9) * count;
      ideas.push({
        ...{ key: `add ${source.spoolId}`, kind: 'hand', minutes: HAND_MIN.add },
        text: `Put ${String(sheets)} ${sheets === 1 ? 'sheet' : 'sheets'} of ${stock} in ${sourceText(about, source.id)}`,
        change: { kind: 'add', spoolId: source.spoolId, mm: sheets * source.sheetMm },
      });
      continue;
    }
    const spool = floor.rack
      .filter((each) => (stockId === null || each.stockId === stockId) && each.leftMm >= fedMm * count)
      .sort((a, b) => a.leftMm - b.leftMm)[0];
    const into = source ?? printer.sources.find((each) => each.stockId === null) ?? printer.sources[0];
    if (!spool || !into) continue;
    ideas.push({
      ...{ key: `load ${spool.id} ${about.id} ${into.id}`, kind: 'hand', minutes: printer.changeOver.stockMin },
      text: `Load ${world.spools[spool.id]?.label ?? spool.id}, ${stock}, on ${sourceText(about, into.id)}`,
      change: { kind: 'load', printerId: about.id, sourceId: into.id, spoolId: spool.id },
    });
  }
  return ideas;
}

function sourceText({ name, sources }: AwayPrinter, sourceId: string): string {
  return `${name} ${sources.find(({ id }) => id === sourceId)?.name ?? sourceId}`;
}

/** Other ways to plan: a run that doesn't fit in goes first, is split, or is left for tomorrow; purges are thinner. */
function planIdeas(world: AwayWorld, { about, printer, runs }: Lined, own: readonly AwayEvent[]): Idea[] {
  const queued = runs.filter(({ state }) => state === 'queued').map(({ id }) => id);
  const ideas: Idea[] = [];
  const outside = own.filter(
    ({ kind, outcome, id }) => kind === 'run' && outcome === 'impossible' && queued.includes(id),
  );
  for (const { id, what, toMs } of outside.slice(0, 3)) {
    const order = [id, ...queued.filter((other) => other !== id)];
    if (queued[0] !== id) {
      ideas.push({
        ...{ key: `first ${id}`, kind: 'plan', minutes: 0, text: `Print ${what} first on ${about.name}` },
        change: { kind: 'order', printerId: about.id, runIds: order },
      });
    }
    if (toMs > world.period.toMs && (world.runs[id]?.pieces ?? 0) > 1) {
      ideas.push({
        ...{ key: `split ${id}`, kind: 'plan', minutes: 0, text: `Split ${what} into two runs` },
        change: { kind: 'split', runId: id },
      });
    }
    ideas.push({
      ...{ key: `leave ${id}`, kind: 'plan', minutes: 0, text: `Leave ${what} for tomorrow` },
      change: { kind: 'leave', runId: id },
    });
  }
  for (const move of world.moves ?? []) {
    if (!runs.some(({ id }) => id === move.runId)) continue;
    const name = world.printers[move.printerId]?.name ?? move.printerId;
    ideas.push({
      ...{ key: `move ${move.runId} ${move.printerId}`, kind: 'plan', minutes: 0 },
      ...{ text: `Print ${world.runs[move.runId]?.name ?? 'it'} on ${name}`, change: { kind: 'move', ...move } },
    });
  }
  const timers = new Set(
    printer.care.flatMap(({ id, timerId }) => (timerId !== null && about.care[id]?.what === 'purge' ? [timerId] : [])),
  );
  const isDry = own.some(({ lacks }) => lacks === 'ink');
  for (const timerId of isDry ? timers : []) {
    ideas.push({
      ...{
        key: `thin ${timerId}`,
        kind: 'plan',
        minutes: 0,
        text: `Print the purges of ${about.name} at half density`,
      },
      change: { kind: 'thin', timerId, share: THIN_SHARE },
    });
  }
  return ideas;
}
