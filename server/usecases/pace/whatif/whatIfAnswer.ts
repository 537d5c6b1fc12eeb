import type { BestChanges, WhatIfAsk, WhatIfView } from '../../../../contract/api/pace/whatIf.ts';
import { toMinor } from '../../../../core/estimate/money.ts';
import { runName } from '../../../../core/flow/runName.ts';
import { modeTrouble } from '../../../../core/machine/constants.ts';
import type { BestChange } from '../../../../core/pace/bestChanges.ts';
import type { WhatIfRow, WhatIfRun, WhatIfSide } from '../../../../core/pace/whatIf.ts';
import { findRun } from '../../../db/findRows.ts';
import { namesOf } from '../../../db/names.ts';
import { printers, stocks } from '../../../db/tables/floorTables.ts';
import type { RunHow } from '../../../ports/work.ts';
import { Refused, type Shop } from '../../../shop.ts';
import { pendingFacts } from '../paceQuery.ts';
import { collectOrder } from './collectedRuns.ts';
import { ONE_MORE, movesOf } from './movedRuns.ts';
import { relaysOf } from './relays.ts';
import { whatIfPurges } from './whatIfPurges.ts';
import { runIdOf, touchesOf, whatIfRuns } from './whatIfRuns.ts';

/** So many of the runs that a change touches most are named, and so many changes proposed. */
const MOST_NAMED = 20;
const MOST_CHANGES = 3;

/** What runs would have taken and cost with other settings, beside what was; nothing is kept. */
export async function whatIfView(shop: Shop, ask: WhatIfAsk, how: RunHow = {}): Promise<WhatIfView> {
  if (!(ask.fromMs < ask.toMs)) throw new Refused(422, 'no-time', 'The period ends before it begins.');
  refuseMixed(ask.change);
  const printerRows = shop.db.select().from(printers).all();
  refuseUnknown(printerRows, ask.change);
  const { passes, gapMm, order, collectH, toPrinterId, rules, withoutPrinterId, likePrinterId, purgeDays, ...rest } =
    ask.change;
  if (purgeDays !== undefined) return { ...noRuns(shop), care: whatIfPurges(shop, ask, purgeDays) };
  const oneOf = withoutPrinterId ?? likePrinterId;
  const asked = oneOf === undefined ? ask : { ...ask, printerIds: [oneOf] };
  // Where runs go to other printers, all lines are looked at.
  const isMoved = [toPrinterId, rules, withoutPrinterId].some((each) => each !== undefined);
  const lines = isMoved ? printerRows : printerRows.filter(({ id }) => asked.printerIds?.includes(id) ?? true);
  refusePasses(lines, ask);
  const { runs: found, isPast, leftOut } = await whatIfRuns(shop, lines, ask, touchesOf(asked));
  const runs = likePrinterId === undefined ? found : found.map(withOneMore);
  const timed = runs.filter((run) => run.timed !== null);
  const isRelaid = [gapMm, order, collectH].some((each) => each !== undefined);
  const keys = isRelaid ? timed.map(({ id }) => id) : [];
  const relayed = await relaysOf(shop, keys, ask.change);
  const change = { ...rest, ...(passes === undefined ? {} : { passes }) };
  const machines = Object.fromEntries(lines.map(({ id, config }) => [id, config.machine]));
  const moves = await movesOf(shop, runs, ask.change);
  const relays = relayed.map(({ relay }) => relay);
  const collect = collectH === undefined ? null : collectOrder(relayed, collectH);
  const work = { runs, machines, change, relays: collect ? [] : relays, moves, collect };
  const answer = await shop.work.run('what if', work, how);
  const { rows, was, would, savedLowMs, savedHighMs } = answer;
  const changed = rows.filter(isChanged);
  const printerNames = namesOf(shop.db, printers);
  return {
    currency: shop.currency(),
    runs: timed.length,
    changed: changed.length,
    pending: isPast ? pendingFacts(shop.db) : 0,
    leftOut,
    lines: answer.lines
      .map(({ lineId, ...share }) => ({ name: printerNames.get(lineId) ?? ONE_MORE, ...share }))
      .sort((a, b) => b.wasMs - a.wasMs),
    nowhere: [...new Set(answer.nowhere.map(runIdOf))].map((runId) => nameOf(shop, runId)),
    care: null,
    was: sideView(was),
    would: sideView(would),
    savedMs: was.runMs - would.runMs,
    savedLowMs,
    savedHighMs,
    groups: groupsOf(shop, changed, new Map(runs.map(({ id, mediaWidthMm }) => [id, mediaWidthMm]))),
    most: mostOf(shop, changed),
  };
}

/** The runs that change most; runs that would be printed as one are one row. */
function mostOf(shop: Shop, changed: readonly WhatIfRow[]): WhatIfView['most'] {
  const printerNames = namesOf(shop.db, printers);
  const byRun = new Map<string, WhatIfRow[]>();
  for (const row of changed) {
    const key = row.inRunId ?? row.runId;
    byRun.set(key, [...(byRun.get(key) ?? []), row]);
  }
  const sum = (rows: readonly WhatIfRow[], of: (row: WhatIfRow) => number): number =>
    rows.reduce((all, row) => all + of(row), 0);
  return [...byRun]
    .map(([key, rows]) => ({
      ...{ key, rows, costMicro: sum(rows, ({ costMicro }) => costMicro) },
      ...{ wasMs: sum(rows, ({ wasMs }) => wasMs), wouldMs: sum(rows, ({ wouldMs }) => wouldMs) },
    }))
    .sort((a, b) => Math.abs(b.costMicro) - Math.abs(a.costMicro) || b.wasMs - b.wouldMs - (a.wasMs - a.wouldMs))
    .slice(0, MOST_NAMED)
    .flatMap(({ key, rows, costMicro, wasMs, wouldMs }) => {
      const own = rows.find(({ runId }) => runId === key) ?? rows[0];
      if (!own) return [];
      const { printerId, toLineId } = own;
      const more = rows.length - 1;
      const name = nameOf(shop, runIdOf(key));
      return [
        {
          ...{ runId: runIdOf(key), name: more > 0 ? `${name} and ${String(more)} more` : name },
          printerName: printerNames.get(printerId) ?? printerId,
          toName: toLineId === printerId ? null : (printerNames.get(toLineId) ?? ONE_MORE),
          ...{ wasMs, wouldMs, savedMinor: toMinor(-costMicro) },
        },
      ];
    });
}

/** An answer that is not about runs. */
function noRuns(shop: Shop): WhatIfView {
  const side = { runMs: 0, fedM2: 0, inkMl: 0, costMinor: 0, lateJobs: 0, lateMs: 0 };
  return {
    ...{ currency: shop.currency(), runs: 0, changed: 0, pending: 0, leftOut: 0, lines: [], nowhere: [], care: null },
    ...{ was: side, would: side, savedMs: 0, savedLowMs: 0, savedHighMs: 0, groups: [], most: [] },
  };
}

function isChanged({ wasMs, wouldMs, costMicro, toLineId, printerId }: WhatIfRow): boolean {
  return Math.abs(wasMs - wouldMs) >= 1 || Math.abs(costMicro) >= 1 || toLineId !== printerId;
}

function nameOf(shop: Shop, runId: string): string {
  return runName(findRun(shop.db, runId)?.number ?? 0);
}

/** One more printer that is like the run's own: the same time, media and ink. */
function withOneMore(run: WhatIfRun): WhatIfRun {
  if (!run.timed) return run;
  const same = { timeRatio: 1, moreInkMl: 0, moreFedMm: 0, moreMicro: 0, variance: run.variance };
  return {
    ...run,
    elsewhere: [
      { lineId: run.printerId, ...same },
      { lineId: ONE_MORE, ...same },
    ],
  };
}

/** A printer that is not here would look like one that takes nothing. */
function refuseUnknown(
  printerRows: readonly (typeof printers.$inferSelect)[],
  { toPrinterId, withoutPrinterId, likePrinterId, rules = [] }: WhatIfAsk['change'],
): void {
  const named = [toPrinterId, withoutPrinterId, likePrinterId, ...rules.flatMap(({ printerIds }) => printerIds)];
  const stray = named.find((id) => id !== undefined && printerRows.every((printer) => printer.id !== id));
  if (stray !== undefined) throw new Refused(404, 'no-such-printer', `There is no printer ${stray}.`);
}

/** Of what is about who prints what, one at a time is looked at: with two of them nobody could tell which of them saves. */
function refuseMixed(change: WhatIfAsk['change']): void {
  const { collectH, toPrinterId, rules, withoutPrinterId, likePrinterId, purgeDays, ...settings } = change;
  const about = [collectH, toPrinterId, rules, withoutPrinterId, likePrinterId, purgeDays].filter(
    (each) => each !== undefined,
  );
  if (about.length === 0 || (about.length === 1 && Object.keys(settings).length === 0)) return;
  throw new Refused(
    422,
    'one-at-a-time',
    'Which printer prints what, collecting and purges are looked at one at a time and without other settings.',
    undefined,
    'Take all but one of them back.',
  );
}

/** The last answer of each shop: pages ask for the same days again and again, and the past stays as it was. */
const lastBest = new WeakMap<Shop, { readonly of: string; readonly found: readonly BestChange[] }>();

/** The changes of settings that would have saved most in a period. */
export async function bestChangesView(
  shop: Shop,
  period: { readonly fromMs: number; readonly toMs: number },
  how: RunHow = {},
): Promise<BestChanges> {
  if (!(period.fromMs < period.toMs)) throw new Refused(422, 'no-time', 'The period ends before it begins.');
  const printerRows = shop.db.select().from(printers).all();
  // What is planned says nothing of what would have been saved.
  const toMs = Math.min(period.toMs, shop.clock.now());
  const of = JSON.stringify([period, toMs, printerRows]);
  let last = lastBest.get(shop);
  if (last?.of !== of) {
    const { runs } = await whatIfRuns(shop, printerRows, { fromMs: period.fromMs, toMs }, () => true);
    const machines = Object.fromEntries(printerRows.map(({ id, config }) => [id, config.machine]));
    last = { of, found: await shop.work.run('best changes', { runs, machines, most: MOST_CHANGES }, how) };
    lastBest.set(shop, last);
  }
  const printerNames = namesOf(shop.db, printers);
  const stockNames = namesOf(shop.db, stocks);
  return {
    currency: shop.currency(),
    changes: last.found.map((each) => ({
      ...each,
      printerName: printerNames.get(each.printerId) ?? each.printerId,
      stockName: stockNames.get(each.stockId) ?? each.stockId,
    })),
  };
}

/** Passes that a mode's resolution or profile can't do would give a figure for prints that nobody could sell. */
function refusePasses(printerRows: readonly (typeof printers.$inferSelect)[], { change, modeId }: WhatIfAsk): void {
  const { passes } = change;
  if (passes === undefined) return;
  for (const { name, config } of printerRows) {
    for (const mode of config.modes) {
      if (modeId !== undefined && mode.id !== modeId) continue;
      const trouble = modeTrouble({ ...mode, passes, profilePasses: passes }, config.machine.nozzlesPerInch);
      if (trouble === null || mode.lineMmPerS !== null) continue;
      const way = 'Choose more passes, or only the printers and the mode that can do it.';
      throw new Refused(422, 'passes', `${name}, ${mode.name}: ${trouble}.`, undefined, way);
    }
  }
}

function sideView({ runMs, fedMm2, inkMl, costMinor, lateJobs, lateMs }: WhatIfSide): WhatIfView['was'] {
  return { runMs, fedM2: fedMm2 / 1e6, inkMl, costMinor, lateJobs, lateMs };
}

/** What it comes to by printer and stock, what saves most first. */
function groupsOf(shop: Shop, rows: readonly WhatIfRow[], widths: ReadonlyMap<string, number>): WhatIfView['groups'] {
  const printerNames = namesOf(shop.db, printers);
  const stockNames = namesOf(shop.db, stocks);
  const byPair = new Map<string, WhatIfRow[]>();
  for (const row of rows) {
    const key = JSON.stringify([row.printerId, row.stockId]);
    byPair.set(key, [...(byPair.get(key) ?? []), row]);
  }
  return [...byPair.values()]
    .flatMap((own) => {
      const [first] = own;
      if (!first) return [];
      const { printerId, stockId } = first;
      const sum = (of: (row: WhatIfRow) => number): number => own.reduce((all, row) => all + of(row), 0);
      return [
        {
          ...{ printerId, printerName: printerNames.get(printerId) ?? printerId },
          ...{ stockId, stockName: stockNames.get(stockId) ?? stockId, runs: own.length },
          savedMs: sum(({ wasMs, wouldMs }) => wasMs - wouldMs),
          savedM2: sum(({ runId, wasFedMm, wouldFedMm }) => (wasFedMm - wouldFedMm) * (widths.get(runId) ?? 0)) / 1e6,
          savedMinor: toMinor(-sum(({ costMicro }) => costMicro)),
        },
      ];
    })
    .sort((a, b) => b.savedMinor - a.savedMinor);
}
