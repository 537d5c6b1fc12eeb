import { eq, lt } from 'drizzle-orm';
import type { NightAsk, NightProposal } from '../../../contract/api/away.ts';
import type { NightAnswer, NightSide } from '../../../core/night/proposeNight.ts';
import type { NightUnit } from '../../../core/night/nightUnits.ts';
import { nightProposals } from '../../db/tables/awayTables.ts';
import { type RunHow, stepOf } from '../../ports/work.ts';
import { type Shop, newId, transact } from '../../shop.ts';
import { nightUnits } from './nightUnits.ts';
import { orderAt } from './simulateAway.ts';

const SEARCH_MS = 8000;
const CONFIDENCE = 0.9;
/** Proposals that nobody has taken are let go (ms). */
const KEPT_MS = 2 * 86_400_000;

/** A better night beside the plan as it stands. Nothing is moved by asking. */
export async function proposeForNight(shop: Shop, ask: NightAsk, how: RunHow): Promise<NightProposal> {
  const period = { fromMs: ask.fromMs, toMs: ask.toMs };
  const { confidence = CONFIDENCE, promised: ticked = [], seed = 1 } = ask;
  const { floor, order } = orderAt(shop, period);
  const { units, kept } = await nightUnits(shop, floor, order, stepOf(how, 0, 0.3));
  const promised = units.filter((unit) => ticked.includes(unit.id) || isDue(unit, period.toMs)).map(({ id }) => id);
  const answer = await shop.work.run(
    'away night',
    { order, units, promised, confidence, seed, timeLimitMs: SEARCH_MS },
    stepOf(how, 0.3, 1),
  );
  const id = answer.isBetter ? newId('night') : null;
  if (id !== null) {
    const { assignment } = answer.proposed;
    transact(shop, ({ tx, nowMs }) => {
      tx.delete(nightProposals)
        .where(lt(nightProposals.madeMs, nowMs - KEPT_MS))
        .run();
      tx.insert(nightProposals)
        .values({
          ...{ id, ...period, madeMs: nowMs },
          ...{ state: 'offered', assignment, units: kept },
        })
        .run();
    });
  }
  return proposalView(id, answer, { units, promised, confidence, currency: floor.currency });
}

/** Whether one of its dates lies before people are back. */
function isDue({ options }: NightUnit, toMs: number): boolean {
  return options[0]?.run.dues.some(({ dueMs }) => dueMs <= toMs) ?? false;
}

function proposalView(
  id: string | null,
  answer: NightAnswer,
  about: {
    readonly units: readonly NightUnit[];
    readonly promised: readonly string[];
    readonly confidence: number;
    readonly currency: string;
  },
): NightProposal {
  const { units, promised, confidence, currency } = about;
  const { standing, proposed, gain, isBetter, fallsShort, moves, promise } = answer;
  return {
    ...{ id, currency, confidence, isBetter, fallsShort },
    standing: sideView(standing, units),
    proposed: sideView(proposed, units),
    ...{ gainMinor: gain.chance, gainError: gain.error },
    moves: moves.map((move) => ({ ...move })),
    units: units.map(({ id: unitId, name, pieces, valueMinor }) => ({
      ...{ id: unitId, name, pieces, valueMinor, promised: promised.includes(unitId) },
      chanceNow: standing.byUnit[unitId] ?? null,
      chanceThen: proposed.byUnit[unitId] ?? null,
    })),
    promise: [...promise],
  };
}

/** What is printed more likely than not. */
function sideView(
  { assignment, worth, promised, byUnit, purges }: NightSide,
  units: readonly NightUnit[],
): NightProposal['standing'] {
  const likely = units.filter(({ id }) => (byUnit[id] ?? 0) >= 0.5);
  const optionOf = (unit: NightUnit) =>
    unit.options.find(({ printerId }) => assignment[printerId]?.includes(unit.id) === true);
  const late = units.filter((unit) => (byUnit[unit.id] ?? 0) < 0.5 && (unit.options[0]?.run.dues.length ?? 0) > 0);
  return {
    runs: likely.length,
    pieces: likely.reduce((sum, { pieces }) => sum + pieces, 0),
    metres: likely.reduce((sum, unit) => sum + (optionOf(unit)?.run.outMm ?? 0) / 1000, 0),
    ...{
      worthMinor: worth.chance,
      worthError: worth.error,
      promised: promised?.chance ?? null,
      late: late.length,
      purges,
    },
  };
}

/** A proposal by its id. */
export function findProposal(shop: Shop, id: string) {
  return shop.db.select().from(nightProposals).where(eq(nightProposals.id, id)).get();
}
