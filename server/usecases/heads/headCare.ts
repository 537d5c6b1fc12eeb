import { and, eq, inArray } from 'drizzle-orm';
import type { AdviceView } from '../../../contract/api/heads.ts';
import type { Actor } from '../../../core/events/actor.ts';
import { type CareAction, type RunAtStake, advise } from '../../../core/heads/advice.ts';
import { unfitFor } from '../../../core/heads/printerHeads.ts';
import type { RunItem } from '../../../contract/api/floor.ts';
import { type HeadAction, careOutcomes } from '../../db/tables/headTables.ts';
import type { Reader } from '../../db/open.ts';
import type { PrinterBase } from '../../db/printerViews.ts';
import { runItems } from '../../db/runViews.ts';
import type { printers } from '../../db/tables/floorTables.ts';
import { type Shop, transact } from '../../shop.ts';
import { addCare } from '../care/careItems.ts';
import { carePrinter, careWork } from '../care/careWork.ts';
import { runCost } from '../run/runCost.ts';
import { headRow } from './idleSpells.ts';

type PrinterRow = typeof printers.$inferSelect;

/** How likely an action helps where nothing was seen of it: beta(α, β). */
const PRIORS: Readonly<Record<HeadAction, readonly [number, number]>> = { light: [3, 2], deep: [4, 1], rest: [1, 2] };
const ACTIONS: readonly HeadAction[] = ['light', 'deep', 'rest'];
/** So many runs of a line are looked at: what lies farther off has time. */
const RUNS_AT_STAKE = 12;
/** Care that a person starts may wait so long for its printer. */
const SLACK_MS = 12 * 3_600_000;

interface ActionFigures {
  readonly costMinor: number;
  readonly inkMl: number;
  readonly minutes: number;
}

/** What an action takes of channels: ink, its time as far as work waits for it, and the check behind it. */
function figuresOf(
  db: Reader,
  printer: PrinterRow,
  action: HeadAction,
  channelIds: readonly string[],
  waits: boolean,
): ActionFigures {
  const { config } = printer;
  const clean = careWork(db, printer, cleanOf(action, channelIds));
  const { minutes: checkMin, mlPerHead } = config.care.check;
  let inkMl = 0;
  let inkMicro = 0;
  for (const { id, heads, pricePerMlMicro } of config.channels) {
    if (!channelIds.includes(id)) continue;
    const ml = (clean.inkMl[id] ?? 0) + mlPerHead * heads;
    inkMl += ml;
    inkMicro += ml * pricePerMlMicro;
  }
  const minutes = clean.durationMs / 60_000 + checkMin + (action === 'rest' ? config.care.restMinutes : 0);
  const timeMinor = waits ? (minutes / 60) * config.ratePerHourMinor : 0;
  return { inkMl, minutes, costMinor: inkMicro / 10_000 + timeMinor };
}

function cleanOf(action: HeadAction, channelIds: readonly string[]) {
  const strength = action === 'deep' ? ('deep' as const) : ('light' as const);
  return { kind: 'clean' as const, strength, channelIds, ...(action === 'rest' ? { rested: true } : {}) };
}

/** What to do for the channels of a printer that are not fit for one of its modes; null: all are. */
export function adviceFor(
  db: Reader,
  printer: PrinterRow,
  { unfit }: Pick<PrinterBase, 'unfit'>,
  currency: string,
): AdviceView | null {
  const channelIds = printer.config.channels
    .map(({ id }) => id)
    .filter((id) => Object.values(unfit).some((by) => by[id] !== undefined));
  if (channelIds.length === 0) return null;
  const queued = runItems(db)
    .filter(({ printerId, state }) => printerId === printer.id && state === 'queued')
    .slice(0, RUNS_AT_STAKE);
  const figures = new Map(
    ACTIONS.map((action) => [action, figuresOf(db, printer, action, channelIds, queued.length > 0)]),
  );
  const outcomes = db
    .select()
    .from(careOutcomes)
    .where(and(eq(careOutcomes.printerId, printer.id), inArray(careOutcomes.channelId, channelIds)))
    .all();
  const rows = channelIds.map((id) => headRow(db, printer, id));
  const actions = ACTIONS.map((id): CareAction => {
    const own = outcomes.filter(({ action }) => action === id);
    return {
      id,
      costMinor: figures.get(id)?.costMinor ?? 0,
      prior: PRIORS[id],
      helped: own.reduce((sum, { helped }) => sum + helped, 0),
      tried: own.reduce((sum, { tried }) => sum + tried, 0),
      failedInRow: Math.max(...rows.map(({ failed }) => failed[id] ?? 0)),
    };
  });
  const { serviceMinor } = printer.config.care;
  const advice = advise(actions, atStake(db, unfit, queued, currency), serviceMinor);
  return {
    what: advice.what,
    channelIds,
    nothingMinor: Math.round(advice.nothingMinor),
    ladderMinor: Math.round(advice.ladder.costMinor),
    serviceMinor,
    rungs: advice.ladder.rungs.flatMap(({ id, chance }) => {
      const action = actions.find((each) => each.id === id);
      const own = figures.get(id as HeadAction);
      if (!action || !own) return [];
      return [
        {
          action: id as HeadAction,
          costMinor: Math.round(own.costMinor),
          inkMl: own.inkMl,
          minutes: own.minutes,
          chance,
          helped: action.helped,
          tried: action.tried,
        },
      ];
    }),
  };
}

/** Queued runs that would be spoiled as the heads are now, each with what printing it again costs. */
function atStake(db: Reader, unfit: PrinterBase['unfit'], queued: readonly RunItem[], currency: string): RunAtStake[] {
  return queued
    .filter((run) => unfitFor(unfit, run).length > 0)
    .map(({ id }) => ({ spoiled: 1, costMinor: runCost(db, id, currency).totalMinor }));
}

/** Puts an action of the ladder into a printer's line, with a check behind it if that is wanted. */
export function startHeadCare(
  shop: Shop,
  printerId: string,
  order: { readonly action: HeadAction; readonly channelIds: readonly string[]; readonly check: boolean },
  actor: Actor,
): void {
  transact(shop, (work) => {
    const printer = carePrinter(work.tx, printerId);
    const restMs = order.action === 'rest' ? printer.config.care.restMinutes * 60_000 : 0;
    const when = { timerId: null, dueMs: work.nowMs + restMs, slackMs: SLACK_MS };
    const clean = addCare(work, printer, cleanOf(order.action, order.channelIds), when);
    const rows = [
      clean,
      order.check ? addCare(work, printer, { kind: 'check' }, { ...when, dueMs: when.dueMs + 1 }) : undefined,
    ];
    for (const row of rows) {
      if (!row) continue;
      work.note({
        kind: 'care.wanted',
        subject: ['printer', printerId],
        actor,
        data: { care: row.title, printer: printer.name },
      });
    }
  });
  shop.wakeDispatcher();
}
