import { and, asc, desc, eq, sql } from 'drizzle-orm';
import type { ClogCurveView, HeadChannelView, HeadsView } from '../../../contract/api/heads.ts';
import { modeFitness } from '../../../core/heads/fitness.ts';
import { clogRate, meanRate, noClogChance, rateRange, strainForm, strainOf } from '../../../core/heads/clogLearning.ts';
import { NO_FAULTS } from '../../../core/heads/nozzleFaults.ts';
import { channelHeads, modeAsks } from '../../../core/heads/printerHeads.ts';
import { type SpellEvent, curveBand, openAt, openCurve } from '../../../core/heads/survivalCurve.ts';
import { clogRisk } from '../../../core/machine/clogRisk.ts';
import { seededRandom } from '../../../core/random.ts';
import { type Line } from '../../../core/schedule/plan.ts';
import { exercisedMs } from '../../db/exercised.ts';
import { careMonths, clogSpells } from '../../db/tables/headTables.ts';
import { findPrinter } from '../../db/findRows.ts';
import type { Reader } from '../../db/open.ts';
import { prepared } from '../../db/prepared.ts';
import { channelFirings } from '../../db/tables/records.ts';
import { type PrinterBase, printerViews } from '../../db/printerViews.ts';
import type { printers } from '../../db/tables/floorTables.ts';
import type { Shop } from '../../shop.ts';
import { exercisingInstants } from '../care/careOutlook.ts';
import { carePrinter } from '../care/careWork.ts';
import { readFloor } from '../plan/fit.ts';
import type { Floor } from '../plan/plannedFloor.ts';
import { type CheckRow, latestChecks } from './checks.ts';
import { feedsOf } from './feed.ts';
import { adviceFor } from './headCare.ts';
import { headRow } from './idleSpells.ts';
import { plannedWithPurges } from '../care/plannedLines.ts';

type PrinterRow = typeof printers.$inferSelect;

const HOUR = 3_600_000;
/** Checks that are told with a printer. */
const CHECKS = 12;
/** Months of ink that are told. */
const MONTHS = 12;
/** Nights of which nobody knows when they end. */
const NIGHT_MS = 16 * HOUR;

/** The heads of every printer: whether each can print well right now. */
export function allHeads(shop: Shop): HeadsView[] {
  const floor = readFloor(shop);
  const { lines } = plannedWithPurges(shop, floor).plan;
  return floor.printers.flatMap((view) => {
    const printer = findPrinter(shop.db, view.id);
    const line = lines.get(view.id);
    return printer && line ? [headsView(shop, printer, view, line, floor)] : [];
  });
}

/** The same of one printer. */
export function headsOf(shop: Shop, printerId: string): HeadsView {
  const printer = carePrinter(shop.db, printerId);
  const floor = readFloor(shop);
  const line = plannedWithPurges(shop, floor).plan.lines.get(printerId);
  const [view] = printerViews(shop.db, printerId);
  if (!line || !view) throw new Error(`no line of ${printerId}`);
  return headsView(shop, printer, view, line, floor);
}

function headsView(shop: Shop, printer: PrinterRow, view: PrinterBase, line: Line, floor: Floor): HeadsView {
  const { db } = shop;
  const { config } = printer;
  const { nowMs } = floor;
  const nextMorningMs = floor.spans.find(({ fromMs }) => fromMs > nowMs)?.fromMs ?? nowMs + NIGHT_MS;
  const known = exercisedMs(db, printer);
  const planned = exercisingInstants(shop, printer, line, floor);
  const channels = config.channels.map((channel) =>
    channelView(db, printer, channel, {
      exercisedMs: known[channel.id],
      planned: planned.get(channel.id) ?? [],
      nowMs,
      nextMorningMs,
    }),
  );
  return {
    printerId: printer.id,
    name: printer.name,
    form: config.form,
    head: config.head,
    bars: config.machine.bars,
    readsChecks: config.readsChecks,
    channels,
    modes: config.modes.map((mode) => ({
      id: mode.id,
      name: mode.name,
      unfit: Object.entries(view.unfit[mode.id] ?? {}).map(([channelId, text]) => ({ channelId, text })),
      banding: channels.flatMap(({ id, faults, heads }) => {
        const fitness = modeFitness(channelHeads(config, { heads }), modeAsks(config, mode), faults ?? NO_FAULTS);
        return fitness.fit && fitness.banding ? [id] : [];
      }),
    })),
    checks: latestChecks(db, printer.id, CHECKS).map(checkView),
    checkToRead: view.checkToRead,
    advice: adviceFor(db, printer, view, shop.currency()),
    careInk: careInkOf(db, printer),
    feeds: feedsOf(db, printer.id),
    nextMorningMs,
    currency: shop.currency(),
  };
}

/** A check as pages see it. */
export function checkView({ seq: _seq, careId: _care, spells: _spells, found, ...row }: CheckRow) {
  return {
    ...row,
    channelIds: [...row.channelIds],
    found: found && Object.fromEntries(Object.entries(found).map(([id, each]) => [id, lists(each)])),
  };
}

function lists({ missing, weak, crooked, unjudged }: NonNullable<CheckRow['found']>[string]) {
  return { missing: [...missing], weak: [...weak], crooked: [...crooked], unjudged: [...unjudged] };
}

function channelView(
  db: Reader,
  printer: PrinterRow,
  { id, name, colour, heads, idleLimitH, pricePerMlMicro }: PrinterRow['config']['channels'][number],
  when: {
    readonly exercisedMs: number | undefined;
    /** When planned work and care exercise it. */
    readonly planned: readonly number[];
    readonly nowMs: number;
    readonly nextMorningMs: number;
  },
): HeadChannelView {
  const row = headRow(db, printer, id);
  const { nozzlesPerChannel: nozzles } = printer.config.machine;
  const faults = row.faults;
  const form = strainForm(row.sums);
  const rate = clogRate(row.sums);
  const [low, high] = rateRange(rate);
  const open = nozzles * heads - (faults?.missing.length ?? 0) - (faults?.weak.length ?? 0);
  /** From when it was exercised last, over what exercises it meanwhile: the strain of each idle spell on the way. */
  const chanceBy = (ms: number): number | null => {
    if (when.exercisedMs === undefined) return null;
    let strain = 0;
    let fromMs = when.exercisedMs;
    for (const atMs of [...when.planned.filter((each) => each < ms).sort((a, b) => a - b), ms]) {
      strain += strainOf(Math.max(0, atMs - fromMs) / (idleLimitH * HOUR), form);
      fromMs = Math.max(fromMs, atMs);
    }
    return 1 - noClogChance(rate, open, strain);
  };
  return {
    ...{ id, name, colour, heads, nozzles, idleLimitH, pricePerMlMicro },
    faults: faults && { missing: [...faults.missing], weak: [...faults.weak], crooked: [...faults.crooked] },
    checkedMs: row.checkedMs,
    counts: {
      missing: faults?.missing.length ?? 0,
      weak: faults?.weak.length ?? 0,
      crooked: faults?.crooked.length ?? 0,
    },
    exercisedMs: when.exercisedMs ?? null,
    firings: lastFirings(db).all({ printerId: printer.id, channelId: id }),
    risk:
      when.exercisedMs === undefined ? null : clogRisk(Math.max(0, when.nowMs - when.exercisedMs), idleLimitH * HOUR),
    clogChance: chanceBy(when.nowMs),
    clogChanceByMorning: chanceBy(when.nextMorningMs),
    rate: { mean: meanRate(rate), low, high, form, clogs: row.sums.clogs },
  };
}

/** Firings of a channel that are told. */
const FIRINGS = 4;

const lastFirings = prepared((db) =>
  db
    .select({ toMs: channelFirings.toMs, ml: channelFirings.ml, purpose: channelFirings.purpose })
    .from(channelFirings)
    .where(
      and(
        eq(channelFirings.printerId, sql.placeholder('printerId')),
        eq(channelFirings.channelId, sql.placeholder('channelId')),
      ),
    )
    .orderBy(desc(channelFirings.toMs))
    .limit(FIRINGS)
    .prepare(),
);

function careInkOf(db: Reader, { id, config }: PrinterRow): HeadsView['careInk'] {
  const rows = db
    .select()
    .from(careMonths)
    .where(eq(careMonths.printerId, id))
    .orderBy(desc(careMonths.month), asc(careMonths.channelId))
    .limit(MONTHS * config.channels.length)
    .all();
  const months = new Map<string, Record<string, number>>();
  for (const { month, channelId, ml } of rows) months.set(month, { ...months.get(month), [channelId]: ml });
  return [...months]
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([month, ml]) => {
      const micro = config.channels.reduce((sum, channel) => sum + (ml[channel.id] ?? 0) * channel.pricePerMlMicro, 0);
      return { month, ml, costMinor: Math.round(micro / 10_000) };
    });
}

/** The newest idle spells that a curve is drawn from. */
const SPELLS = 500;
/** Below so many spells with clogs the model is drawn. */
const ENOUGH_CLOGGED = 5;
const POINTS = 48;

/** How likely a channel stays open by its idle hours: from the checks of this printer, or by the learned rate where they are few. */
export function clogCurve(shop: Shop, printerId: string, channelId: string): ClogCurveView {
  const { db } = shop;
  const printer = carePrinter(db, printerId);
  const channel = printer.config.channels.find(({ id }) => id === channelId);
  const row = headRow(db, printer, channelId);
  const spells = db
    .select({ idleH: clogSpells.idleH, clogs: clogSpells.clogs })
    .from(clogSpells)
    .where(and(eq(clogSpells.printerId, printerId), eq(clogSpells.channelId, channelId)))
    .orderBy(desc(clogSpells.id))
    .limit(SPELLS)
    .all()
    .map(({ idleH, clogs }): SpellEvent => ({ idleH, clogged: clogs > 0 }));
  const limitH = channel?.idleLimitH ?? 1;
  const longest = Math.max(2 * limitH, ...spells.map(({ idleH }) => idleH));
  const hours = Array.from({ length: POINTS + 1 }, (_, i) => (longest * i) / POINTS);
  const clogged = spells.filter((spell) => spell.clogged).length;
  if (clogged < ENOUGH_CLOGGED) {
    const nozzles = printer.config.machine.nozzlesPerChannel * (channel?.heads ?? 1);
    const form = strainForm(row.sums);
    const rate = clogRate(row.sums);
    return {
      seen: false,
      spells: spells.length,
      clogged,
      points: hours.map((h) => ({
        hours: h,
        open: noClogChance(rate, nozzles, strainOf(h / limitH, form)),
        low: null,
        high: null,
      })),
    };
  }
  const curve = openCurve(spells);
  const { low, high } = curveBand(spells, hours, seededRandom(1));
  return {
    seen: true,
    spells: spells.length,
    clogged,
    points: hours.map((h, i) => ({ hours: h, open: openAt(curve, h), low: low[i] ?? null, high: high[i] ?? null })),
  };
}
