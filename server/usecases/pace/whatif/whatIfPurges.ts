import { and, eq, gte, lt } from 'drizzle-orm';
import type { WhatIfAsk, WhatIfCareSide, WhatIfView } from '../../../../contract/api/pace/whatIf.ts';
import type { PurgeDesignView } from '../../../../contract/api/care.ts';
import { occurrencesAfter } from '../../../../core/care/recurrence.ts';
import { wallTimeOf } from '../../../../core/care/wallTime.ts';
import { costOfRun } from '../../../../core/estimate/money.ts';
import {
  type PrintedWork,
  type RhythmChannel,
  type RhythmPurge,
  exercisingWork,
  purgeRhythm,
} from '../../../../core/pace/purgeRhythm.ts';
import { careItems, timers } from '../../../db/tables/careTables.ts';
import { printers, stocks } from '../../../db/tables/floorTables.ts';
import { runAttempts } from '../../../db/tables/records.ts';
import { runs } from '../../../db/tables/schema.ts';
import { Refused, type Shop } from '../../../shop.ts';
import { designViews } from '../../care/designs.ts';
import { outlookChannels } from '../../care/exercise.ts';
import { holidayTest } from '../../care/timers.ts';
import { clogPace } from '../../heads/idleSpells.ts';

type PrinterRow = typeof printers.$inferSelect;

const DAY = 86_400_000;
/** So long before and after a period it is looked what exercises channels: no idle limit is longer. */
const BEFORE_MS = 7 * DAY;
/** Each purge is held against all work: years of it would hold the server up. */
const MOST_MS = 100 * DAY;

const NOTHING: WhatIfCareSide = { purges: 0, careMs: 0, fedM2: 0, inkMl: 0, costMinor: 0, clogs: 0 };

/**
 * What purges of timers came to in days that lie behind, beside what they would have with another rhythm: both by the rule that skips
 * what work exercises. What was printed goes by the share in which the rule has more or fewer of them.
 */
export function whatIfPurges(shop: Shop, ask: WhatIfAsk, everyDays: number): NonNullable<WhatIfView['care']> {
  const period = { fromMs: ask.fromMs, toMs: Math.min(ask.toMs, shop.clock.now()) };
  if (!(period.fromMs < period.toMs)) {
    const way = 'Choose days that lie behind; for days to come move the timer on the Rota and look at its plan.';
    throw new Refused(422, 'no-past', 'Of purges only days that lie behind are looked at.', undefined, way);
  }
  if (period.toMs - period.fromMs > MOST_MS) {
    const text = `Purges of ${String(MOST_MS / DAY)} days at most are looked at.`;
    throw new Refused(422, 'too-long', text, undefined, 'Choose a shorter time.');
  }
  const designs = designViews(shop);
  const sides = shop.db
    .select()
    .from(printers)
    .all()
    .filter(({ id }) => ask.printerIds?.includes(id) ?? true)
    .flatMap((printer) => {
      const own = designs.filter(({ printerId }) => printerId === printer.id);
      return own.length === 0 ? [] : [sidesOf(shop, printer, own, period, everyDays)];
    });
  return {
    timers: sides.reduce((all, { timers: own }) => all + own, 0),
    was: sides.map(({ was }) => was).reduce(added, NOTHING),
    would: sides.map(({ would }) => would).reduce(added, NOTHING),
  };
}

function added(a: WhatIfCareSide, b: WhatIfCareSide): WhatIfCareSide {
  return {
    purges: a.purges + b.purges,
    careMs: a.careMs + b.careMs,
    fedM2: a.fedM2 + b.fedM2,
    inkMl: a.inkMl + b.inkMl,
    costMinor: a.costMinor + b.costMinor,
    clogs: a.clogs + b.clogs,
  };
}

interface Period {
  readonly fromMs: number;
  readonly toMs: number;
}

function sidesOf(
  shop: Shop,
  printer: PrinterRow,
  designs: readonly PurgeDesignView[],
  period: Period,
  everyDays: number,
): { readonly timers: number; readonly was: WhatIfCareSide; readonly would: WhatIfCareSide } {
  const rows = shop.db
    .select()
    .from(timers)
    .where(and(eq(timers.printerId, printer.id), eq(timers.paused, false)))
    .all();
  const rhythms = rows.flatMap((timer) => {
    const { what } = timer;
    const design = what.kind === 'purge' && designs.find(({ id }) => id === what.designId);
    return design ? [{ timer, design }] : [];
  });
  const since = period.fromMs - BEFORE_MS;
  // Of channels that no timer fires nothing would be otherwise.
  const fired = new Set(
    rhythms.flatMap(({ design }) => Object.entries(design.figures.inkMl).flatMap(([id, ml]) => (ml > 0 ? [id] : []))),
  );
  const channels = outlookChannels(shop, printer)
    .filter(({ id }) => fired.has(id))
    .map(({ id, limitMs, doseMl }): RhythmChannel => ({
      ...{ id, limitMs, doseMl, exercisedMs: since, pace: clogPace(shop.db, printer, id) },
      nozzles: printer.config.machine.nozzlesPerChannel * headsOf(printer, id),
    }));
  const work = exercisingWork(channels, workOf(shop, printer, since, period.toMs));
  const { zone } = shop.clock;
  const isHoliday = holidayTest(shop);
  const purgesOf = (which: (timer: typeof timers.$inferSelect) => typeof timers.$inferSelect | null): RhythmPurge[] =>
    rhythms.flatMap(({ timer, design }) => {
      const rhythm = which(timer);
      if (!rhythm) return [];
      const { inkMl } = design.figures;
      return occurrencesAfter(rhythm, zone, since, { beforeMs: period.toMs + BEFORE_MS })
        .filter((ms) => !(rhythm.skipHolidays && isHoliday(ms)))
        .map((atMs) => ({ key: design.id, atMs, inkMl, onlyNeeded: design.onlyNeeded }));
    });
  const otherwise = (timer: typeof timers.$inferSelect): typeof timers.$inferSelect | null => {
    if (everyDays === 0) return null;
    const startLocal = `${wallTimeOf(period.fromMs, zone).slice(0, 10)}${timer.startLocal.slice(10)}`;
    return { ...timer, startLocal, rrule: `FREQ=DAILY;INTERVAL=${String(everyDays)}` };
  };
  const asItWas = purgesOf((timer) => timer);
  // One of a design is enough: two at other times of a day are one rhythm.
  const anew = purgesOf((timer) => (isFirstOf(rhythms, timer) ? otherwise(timer) : null));
  const before = asItWas.filter(({ atMs }) => atMs < period.fromMs);
  const by = {
    was: purgeRhythm(channels, work, asItWas, period),
    would: purgeRhythm(channels, work, [...before, ...anew.filter(({ atMs }) => atMs >= period.fromMs)], period),
  };
  const sides = designs.map((design) => {
    const printed = printedOf(shop, printer, design, period);
    const [had, has] = [by.was.printed.get(design.id) ?? 0, by.would.printed.get(design.id) ?? 0];
    const isTimed = rhythms.some((rhythm) => rhythm.design.id === design.id);
    const would = !isTimed
      ? printed
      : had > 0 && printed.purges > 0
        ? times(printed, has / had)
        : times(oneOf(shop, printer, design), has);
    return { was: printed, would };
  });
  return {
    timers: rhythms.length,
    was: { ...sides.map(({ was }) => was).reduce(added, NOTHING), clogs: by.was.clogs },
    would: { ...sides.map(({ would }) => would).reduce(added, NOTHING), clogs: by.would.clogs },
  };
}

function headsOf({ config }: PrinterRow, channelId: string): number {
  return config.channels.find(({ id }) => id === channelId)?.heads ?? 1;
}

function isFirstOf(
  rhythms: readonly { readonly timer: { readonly id: string }; readonly design: { readonly id: string } }[],
  timer: { readonly id: string },
): boolean {
  const own = rhythms.find((each) => each.timer.id === timer.id);
  return rhythms.find(({ design }) => design.id === own?.design.id)?.timer.id === timer.id;
}

function times({ purges, careMs, fedM2, inkMl, costMinor }: WhatIfCareSide, factor: number): WhatIfCareSide {
  const cost = Math.round(costMinor * factor);
  return {
    purges: purges * factor,
    careMs: careMs * factor,
    fedM2: fedM2 * factor,
    inkMl: inkMl * factor,
    costMinor: cost,
    clogs: 0,
  };
}

/** What was printed on the printer: each run at its end, with the ink that was estimated for it. */
function workOf({ db }: Shop, { id }: PrinterRow, fromMs: number, toMs: number): PrintedWork[] {
  return db
    .select({ atMs: runAttempts.endedMs, inkMl: runs.inkMl, evenMl: runs.evenMl })
    .from(runAttempts)
    .innerJoin(runs, eq(runs.id, runAttempts.runId))
    .where(
      and(
        eq(runAttempts.printerId, id),
        gte(runAttempts.endedMs, fromMs),
        lt(runAttempts.endedMs, toMs + BEFORE_MS),
        eq(runAttempts.outcome, 'printed'),
      ),
    )
    .all()
    .flatMap(({ atMs, inkMl, evenMl }) => (atMs === null ? [] : [{ atMs, inkMl: evenMl ?? inkMl }]));
}

/** What of a design was printed in the period, as it was booked. */
function printedOf(shop: Shop, printer: PrinterRow, design: PurgeDesignView, { fromMs, toMs }: Period): WhatIfCareSide {
  const rows = shop.db
    .select()
    .from(careItems)
    .where(and(gte(careItems.dueMs, fromMs - DAY), lt(careItems.dueMs, toMs), eq(careItems.printerId, printer.id)))
    .all();
  return rows
    .flatMap(({ what, timerId, startedMs, endedMs, inkMl, fedMm }) => {
      const isOwn = what.kind === 'purge' && what.designId === design.id;
      if (!isOwn || timerId === null || startedMs === null || endedMs === null || endedMs < fromMs) return [];
      return [figuresOf(shop, printer, design, { careMs: endedMs - startedMs, inkMl, fedMm })];
    })
    .reduce(added, NOTHING);
}

function oneOf(shop: Shop, printer: PrinterRow, design: PurgeDesignView): WhatIfCareSide {
  const { durationMs: careMs, inkMl, fedMm } = design.figures;
  return figuresOf(shop, printer, design, { careMs, inkMl, fedMm });
}

function figuresOf(
  { db }: Shop,
  { config }: PrinterRow,
  { stockId }: PurgeDesignView,
  {
    careMs,
    inkMl,
    fedMm,
  }: { readonly careMs: number; readonly inkMl: Readonly<Record<string, number>>; readonly fedMm: number },
): WhatIfCareSide {
  const stock = db.select().from(stocks).where(eq(stocks.id, stockId)).get();
  const { totalMinor } = costOfRun({
    ...{ inkMl, fedMm, mediaWidthMm: stock?.widthMm ?? 0, mediaPerM2Minor: stock?.pricePerM2Minor ?? 0 },
    pricePerMlMicro: Object.fromEntries(config.channels.map(({ id, pricePerMlMicro }) => [id, pricePerMlMicro])),
    ...{ timeMs: careMs, ratePerHourMinor: config.ratePerHourMinor, extraMinor: 0 },
  });
  const allMl = Object.values(inkMl).reduce((sum, ml) => sum + ml, 0);
  return {
    purges: 1,
    careMs,
    fedM2: (fedMm * (stock?.widthMm ?? 0)) / 1e6,
    inkMl: allMl,
    costMinor: totalMinor,
    clogs: 0,
  };
}
