import { goesOnByItself } from '../flow/stopped.ts';
import { TURN_WAY } from '../flow/startCheck.ts';
import type { Line } from './plan.ts';

/** What is done when a person says that a hand is done. */
export type HandAct =
  | { readonly kind: 'load'; readonly spoolId: string; readonly sourceId: string }
  | { readonly kind: 'emptied' }
  | { readonly kind: 'resume'; readonly runId: string }
  | { readonly kind: 'confirm back'; readonly runId: string; readonly spoolId: string };

/** What a person has to do at a printer, and when. */
export interface Hand {
  /** Says what it is: when it was done, or something else is wanted, no hand has this key any more. */
  readonly key: string;
  readonly printerId: string;
  readonly printerName: string;
  /** `now`: printing stands until it is done. */
  readonly when: 'now' | number;
  readonly kind: 'fault' | 'go-on' | 'load' | 'confirm' | 'empty' | 'ink' | 'piece' | 'heads' | 'offer' | 'look';
  readonly text: string;
  readonly way: string;
  readonly runId: string | null;
  /** What is to be loaded where, if that is sure. */
  readonly load: { readonly spoolId: string; readonly sourceId: string } | null;
  /** How it is ticked off; null: what a person does there can't be told from here. */
  readonly act: HandAct | null;
}

/** A printer as it matters for hands: what it does, what waits on it, and its line. */
export interface HandsPrinter {
  readonly id: string;
  readonly name: string;
  readonly state: string;
  readonly reason: string | null;
  readonly sources: readonly { readonly id: string; readonly name: string }[];
  readonly channels: readonly { readonly id: string; readonly name: string }[];
  /** What is in its sources. */
  readonly loaded: readonly { readonly sourceId: string; readonly spoolId: string }[];
  /** A take-up is set by the person who loads: loading is more than a tick there. */
  readonly takesUp: boolean;
  /** The run on the printer, if any. */
  readonly present: {
    readonly id: string;
    readonly name: string;
    readonly state: string;
    readonly reason: string | null;
  } | null;
  /** Why the first queued run can't start now, as the dispatcher judges it; null where it can or nothing waits. */
  readonly held: {
    readonly runId: string;
    readonly code: string;
    readonly text: string;
    readonly way: string;
    readonly hand: boolean;
  } | null;
  readonly line: Line;
  /** Runs that wait on it, and how many of them others could take; null: it does not stand. */
  readonly offered: { readonly runs: number; readonly able: number } | null;
  /** A check plot that nobody has read. */
  readonly checkToRead: string | null;
  /** Channels that have stood longer than they may, in words: `black idle for 6 d 2 h of 5 d`. */
  readonly overdue: readonly { readonly channelId: string; readonly text: string }[];
}

/** What runs and spools are called, for sentences. */
interface Names {
  readonly runs: ReadonlyMap<
    string,
    {
      readonly name: string;
      readonly stockId: string;
      readonly byHand: boolean;
      readonly pieceCount: number;
      readonly inkMl: Readonly<Record<string, number>>;
    }
  >;
  readonly stocks: ReadonlyMap<string, string>;
  readonly spools: ReadonlyMap<string, string>;
}

/** Beyond this nobody has to think of it yet (ms). */
const AHEAD_MS = 36 * 3_600_000;

/**
 * Everything that people have to do, in the order of time: what stands now first, then what the plan of each printer will
 * ask for, so that a roll can be fetched before it is wanted.
 */
export function nextHands(printers: readonly HandsPrinter[], names: Names, nowMs: number): Hand[] {
  const hands = printers.flatMap((printer) => [
    ...nowOf(printer, names),
    ...offerOf(printer),
    ...checkOf(printer),
    ...plannedOf(printer, names, nowMs),
  ]);
  const at = ({ when }: Hand): number => (when === 'now' ? -Infinity : when);
  return hands.sort((a, b) => (at(a) === at(b) ? URGENCY[a.kind] - URGENCY[b.kind] : at(a) - at(b)));
}

/** What it takes to let a run start that is held back; what is not among it has to be looked at. */
const KINDS: Readonly<Record<string, Hand['kind']>> = {
  confirm: 'confirm',
  basket: 'empty',
  heads: 'heads',
  'nothing-loaded': 'load',
  'wrong-stock': 'load',
  narrow: 'load',
  short: 'load',
};

/** Of what is wanted at the same moment, what costs most comes first. */
const URGENCY: Record<Hand['kind'], number> = {
  fault: 0,
  look: 1,
  'go-on': 2,
  confirm: 3,
  load: 4,
  empty: 5,
  piece: 6,
  heads: 7,
  ink: 8,
  offer: 9,
};

/** What a printer needs at this moment; the most urgent alone, since a hand can do only one thing at a printer. */
function nowOf(printer: HandsPrinter, names: Names): Hand[] {
  const { id, name, state, reason, present, held } = printer;
  const hand = (
    kind: Hand['kind'],
    text: string,
    way: string,
    runId: string | null,
    act: HandAct | null = null,
    load: Hand['load'] = null,
  ): Hand[] => [
    {
      key: `${id}-now-${kind}-${runId ?? ''}${load ? `-${load.spoolId}` : ''}`,
      ...{ printerId: id, printerName: name, when: 'now', kind, text, way, runId, act, load },
    },
  ];
  if (state === 'off')
    return hand('look', `${name} does not answer`, 'Check that it is switched on and connected.', null);
  if (state === 'faulted')
    return hand('fault', `${name}: ${reason ?? 'fault'}`, 'Clear the fault at the printer.', null);
  if (present?.state === 'paused' && goesOnByItself(present.reason ?? reason)) return [];
  if (present?.state === 'paused') {
    return hand(
      'go-on',
      `${name} waits: ${present.reason ?? reason ?? 'paused'}`,
      `Then let ${present.name} go on.`,
      present.id,
      { kind: 'resume', runId: present.id },
    );
  }
  // A device that waits by itself; one that waits for its next run says so by what holds that back.
  if (state === 'waiting' && (held === null || held.code === 'fault'))
    return hand('look', `${name}: ${reason ?? 'waits'}`, 'Clear the fault at the printer.', null);
  if (!held?.hand) return [];
  const kind = KINDS[held.code] ?? 'look';
  // What is to be done comes first; why, where there is room for it.
  const { events } = printer.line;
  const load = events.find((event) => event.kind === 'change-over' && event.runId === held.runId);
  const run = events.find((event) => event.kind === 'run' && event.id === held.runId);
  // While another run prints nothing stands: it is wanted by the time that this one is over.
  const when = present ? (load ?? run)?.fromMs : undefined;
  const [text, way] =
    kind === 'load' && load?.kind === 'change-over' && load.spoolId !== null
      ? [loadText(printer, load, names), `${held.text}.`]
      : [held.text, held.way];
  const what = kind === 'load' && load?.kind === 'change-over' ? loadOf(load) : null;
  return hand(kind, text, way, held.runId, actOf(printer, kind, held.runId, what), what).map((each) => ({
    ...each,
    when: when ?? 'now',
  }));
}

/** How what holds a run back is ticked off. */
function actOf(printer: HandsPrinter, kind: Hand['kind'], runId: string, load: Hand['load']): HandAct | null {
  if (kind === 'empty') return { kind: 'emptied' };
  if (kind === 'load') return load && !printer.takesUp ? { kind: 'load', ...load } : null;
  const [only, other] = printer.loaded;
  // Which spool holds the front is sure where there is one.
  if (kind === 'confirm' && only && !other) return { kind: 'confirm back', runId, spoolId: only.spoolId };
  return null;
}

function loadOf({ spoolId, sourceId }: ChangeOver): Hand['load'] {
  return spoolId === null || sourceId === null ? null : { spoolId, sourceId };
}

type ChangeOver = Extract<Line['events'][number], { kind: 'change-over' }>;

function loadText({ name, sources }: HandsPrinter, event: ChangeOver, names: Names): string {
  const stock = names.stocks.get(names.runs.get(event.runId)?.stockId ?? '') ?? 'its stock';
  const source = sources.find((each) => each.id === event.sourceId)?.name ?? '';
  const spool = event.spoolId === null ? undefined : names.spools.get(event.spoolId);
  return spool === undefined
    ? `${name} ${source}: ${stock} is wanted and none is on the rack`
    : `Load ${spool}, ${stock}, on ${name} ${source}`;
}

/** Work needn't wait for a printer that stands. */
function offerOf({ id, name, offered }: HandsPrinter): Hand[] {
  if (!offered || offered.able === 0) return [];
  const { runs, able } = offered;
  const what =
    runs === 1 ? 'its run' : able === runs ? `its ${String(runs)} runs` : `${String(able)} of ${String(runs)} runs`;
  return [
    {
      key: `${id}-offer`,
      printerId: id,
      printerName: name,
      when: 'now',
      kind: 'offer',
      text: `While ${name} stands, others can take ${what}`,
      way: `Open ${name} to see who, and until when.`,
      runId: null,
      act: null,
      load: null,
    },
  ];
}

/** A check plot tells nothing until somebody has looked at it. */
function checkOf({ id, name, checkToRead }: HandsPrinter): Hand[] {
  if (checkToRead === null) return [];
  return [
    {
      key: `${id}-check-${checkToRead}`,
      printerId: id,
      printerName: name,
      when: 'now',
      kind: 'heads',
      text: `Read the check plot of ${name}`,
      way: 'Tap the bad lines under Heads, or take a picture of it.',
      runId: null,
      act: null,
      load: null,
    },
  ];
}

/** What a printer will need, by its line: loading, supplies that run out, work by hand. */
function plannedOf(printer: HandsPrinter, names: Names, nowMs: number): Hand[] {
  const { id, name, line, held } = printer;
  const hands: Hand[] = [];
  for (const event of line.events) {
    if (event.fromMs > nowMs + AHEAD_MS || event.toMs <= nowMs) continue;
    if (event.kind === 'change-over' && event.what !== 'mode') {
      const run = names.runs.get(event.runId);
      // What stands now says it already.
      if (held?.hand === true && held.runId === event.runId) continue;
      hands.push({
        key: `${id}-load-${event.runId}-${event.spoolId ?? ''}`,
        printerId: id,
        printerName: name,
        when: event.fromMs,
        kind: 'load',
        text: loadText(printer, event, names),
        way: `For ${run?.name ?? 'the next run'}.`,
        runId: event.runId,
        act: null,
        load: loadOf(event),
      });
    }
    if (event.kind === 'hand') {
      if (held?.hand === true && held.runId === event.runId) continue;
      const run = names.runs.get(event.runId)?.name ?? 'the next run';
      hands.push({
        key: `${id}-${event.what}-${event.runId}`,
        printerId: id,
        printerName: name,
        when: event.fromMs,
        ...handText(event.what, name, run),
        runId: event.runId,
        act: null,
        load: null,
      });
    }
    if (event.kind === 'run' && event.fromMs > nowMs) {
      const run = names.runs.get(event.id);
      if (run?.byHand !== true) continue;
      hands.push({
        key: `${id}-piece-${event.id}`,
        printerId: id,
        printerName: name,
        when: event.fromMs,
        kind: 'piece',
        text: `${name}: ${String(run.pieceCount)} ${run.pieceCount === 1 ? 'piece' : 'pieces'} of ${run.name} to load by hand`,
        way: 'It stops after each.',
        runId: event.id,
        act: null,
        load: null,
      });
    }
  }
  const first = line.events.find((event) => event.kind === 'run' && event.fromMs >= nowMs);
  if (first?.kind === 'run' && first.fromMs < nowMs + AHEAD_MS) hands.push(...headsOf(printer, first, names));
  for (const { what, atMs, runId } of line.shortages) {
    if (what.kind !== 'ink' || atMs >= nowMs + AHEAD_MS) continue;
    const channel = printer.channels.find((each) => each.id === what.channelId)?.name ?? what.channelId;
    hands.push({
      key: `${id}-ink-${what.channelId}`,
      printerId: id,
      printerName: name,
      when: Math.max(nowMs, atMs),
      kind: 'ink',
      text: `${channel} of ${name} runs out in ${names.runs.get(runId)?.name ?? 'a run'}`,
      way: 'Have a new tank at hand.',
      runId,
      act: null,
      load: null,
    });
  }
  return hands;
}

/** What a person does beside loading, in words. */
function handText(
  what: Extract<Line['events'][number], { kind: 'hand' }>['what'],
  name: string,
  run: string,
): Pick<Hand, 'kind' | 'text' | 'way'> {
  switch (what) {
    case 'empty':
      return {
        kind: 'empty',
        text: `Empty the basket of ${name}`,
        way: `It is full before ${run}. Confirm that it is empty.`,
      };
    case 'turn':
      return { kind: 'confirm', text: `Turn the media on ${name} for the back, ${run}`, way: TURN_WAY };
    case 'clean':
      return { kind: 'heads', text: `Clean the heads of ${name}`, way: `They can't print ${run} as they are.` };
  }
}

/** Before the first run that fires a channel which has stood too long: what is clogged shows only on a check. */
function headsOf(printer: HandsPrinter, event: { readonly id: string; readonly fromMs: number }, names: Names): Hand[] {
  const run = names.runs.get(event.id);
  const worn = printer.overdue.filter(({ channelId }) => (run?.inkMl[channelId] ?? 0) > 0);
  if (!run || worn.length === 0) return [];
  return [
    {
      key: `${printer.id}-heads`,
      printerId: printer.id,
      printerName: printer.name,
      when: event.fromMs,
      kind: 'heads',
      text: `Check the nozzles of ${printer.name}: ${worn.map(({ text }) => text).join(', ')}`,
      way: `Before ${run.name} starts: what has stood so long may be clogged.`,
      runId: event.id,
      act: null,
      load: null,
    },
  ];
}
