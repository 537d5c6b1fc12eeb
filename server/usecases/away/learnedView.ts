import type { AwayLearned } from '../../../contract/api/away.ts';
import { type Seen, faultRate, meanRate, rateQuantile } from '../../../core/away/learnedRate.ts';
import { NOTHING_LEARNED } from '../../../core/estimate/learnedPrinter.ts';
import { ratioFactor } from '../../../core/estimate/learnedRatio.ts';
import type { Shop } from '../../shop.ts';
import { readFloor } from '../plan/fit.ts';
import { type PrinterLog, hoursOf, learnedRepair, mediaLogs, othersOf, printerLogs, seenOn } from './learnedChance.ts';

const DAY = 86_400_000;
/** A night goes from noon to noon. */
const NOON_MS = DAY / 2;

/** What the odds were learned from, with the figures and what they would be without the worst night. */
export function learnedView(shop: Shop): AwayLearned {
  const floor = readFloor(shop);
  const logs = printerLogs(shop, floor);
  const stockIds = [...new Set(floor.runs.filter(({ endedMs }) => endedMs === null).map(({ stockId }) => stockId))];
  return {
    printers: logs.map((log) => {
      const others = othersOf(logs, log.printerId);
      const own = seenOn(log);
      const rate = faultRate(own, others);
      const printer = floor.printers.find(({ id }) => id === log.printerId);
      const { time } = printer?.learned ?? NOTHING_LEARNED;
      return {
        ...{ printerId: log.printerId, name: printer?.name ?? '' },
        ...{ faults: own.events, hours: own.over, othersFaults: others.events, othersHours: others.over },
        ...{ rate: meanRate(rate), low: rateQuantile(rate, 0.05), high: rateQuantile(rate, 0.95) },
        worst: worstNight(log, others),
        timeFactor: ratioFactor(time),
        timeRuns: time.runs,
      };
    }),
    stocks: mediaLogs(shop, stockIds, floor.nowMs).map((media) => ({
      ...media,
      name: floor.stocks[media.stockId]?.name ?? media.stockId,
    })),
    repair: {
      minutes: ratioFactor(learnedRepair(logs)),
      seen: logs.reduce((sum, { repairs }) => sum + repairs.length, 0),
    },
  };
}

/** The night with most faults of a printer, and its rate if that night had not been. */
function worstNight(log: PrinterLog, others: Seen): AwayLearned['printers'][number]['worst'] {
  const nights = new Map<number, string[]>();
  for (const { atMs, cause } of log.faults) {
    const night = Math.floor((atMs - NOON_MS) / DAY);
    nights.set(night, [...(nights.get(night) ?? []), cause]);
  }
  const [worst] = [...nights].sort(([a, x], [b, y]) => y.length - x.length || b - a);
  if (!worst) return null;
  const [night, causes] = worst;
  const fromMs = night * DAY + NOON_MS;
  const hours = log.attempts
    .filter(({ endedMs }) => endedMs !== null && endedMs >= fromMs && endedMs < fromMs + DAY)
    .reduce((sum, attempt) => sum + hoursOf(attempt), 0);
  const without = faultRate({ events: log.faults.length - causes.length, over: log.hours - hours }, others);
  return { fromMs, faults: causes.length, causes: [...new Set(causes)], rateWithout: meanRate(without) };
}
