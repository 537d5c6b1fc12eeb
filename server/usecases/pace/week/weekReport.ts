import { tz } from '@date-fns/tz';
import { format } from 'date-fns';
import type { PaceAnswer, PaceChanges, PaceRow } from '../../../../contract/api/pace/pace.ts';
import type { BestChanges } from '../../../../contract/api/pace/whatIf.ts';
import { measureText, shopChangeWords } from '../../../../core/pace/paceWords.ts';
import { type Week, weekOf } from '../../../../core/pace/weekDue.ts';
import { changeWords } from '../../../../core/pace/changeWords.ts';
import { durationText } from '../../../../core/units/durationText.ts';
import type { RunHow } from '../../../ports/work.ts';
import type { WeekSheetInput } from '../../../render/out/weekSheet.ts';
import type { Shop } from '../../../shop.ts';
import { paceChanges } from '../changes.ts';
import { paceAnswer } from '../paceQuery.ts';
import { bestChangesView } from '../whatif/whatIfAnswer.ts';

const LOCALE = 'en-GB';
const FIGURES = ['good', 'use', 'area-run', 'waste', 'quality', 'cost-area', 'late', 'bias'];
const COLUMNS = ['good', 'use', 'area-run', 'waste', 'quality', 'cost'];
const NAME_MM = 38;
const COLUMN_MM = 24;

type Measure = PaceAnswer['measures'][number];

/** The page of a week as PDF, made by a worker. @param atMs any instant of the week */
export async function weekPdf(shop: Shop, atMs: number, how: RunHow = {}): Promise<Uint8Array> {
  return shop.work.run('week sheet', await weekReport(shop, weekOf(atMs, shop.clock.zone), how), how);
}

/** What a manager reads of a week: its figures beside the week before, its days, its printers, and what is to be noted. */
export async function weekReport(shop: Shop, week: Week, how: RunHow = {}): Promise<WeekSheetInput> {
  const { zone } = shop.clock;
  const before = weekOf(week.fromMs, zone, -1);
  const days = paceAnswer(shop, { ...week, by: 'day' });
  const past = paceAnswer(shop, before);
  const printers = paceAnswer(shop, { ...week, by: 'printer' });
  const inZone = { in: tz(zone) };
  const dayText = (ms: number): string => format(ms, 'd MMMM', inZone);
  const measures = (ids: readonly string[]): Measure[] =>
    ids.flatMap((id) => days.measures.find((each) => each.id === id) ?? []);
  const text = (measure: Measure, values: PaceRow['values']): string =>
    measureText(measure.unit, values[measure.id]?.value, { number, money: (minor) => money(minor, days.currency) });
  const [good] = measures(['good']);
  const columns = measures(COLUMNS);
  return {
    title: `The week from ${dayText(week.fromMs)} to ${format(week.toMs - 1, 'd MMMM yyyy', inZone)}`,
    under:
      `Beside the week from ${dayText(before.fromMs)}. ${days.pending > 0 ? 'Not everything that happened has been added up yet.' : ''}`.trim(),
    figures: measures(FIGURES).map((measure) => ({
      name: measure.name,
      value: text(measure, days.total),
      before: text(measure, past.total),
    })),
    days: {
      title: good ? `${good.name} by day` : '',
      bars: days.rows.map(({ keys, values }) => ({
        name: format(Number(keys[0]?.id ?? 0), 'EEE d', inZone),
        value: values['good']?.value ?? 0,
        text: good ? text(good, values) : '',
      })),
    },
    table: {
      title: 'Printers',
      columns: [['Printer', NAME_MM], ...columns.map(({ name }) => [name, COLUMN_MM] as const)],
      // What belongs to no printer, such as stubs on the rack, is in the figures above.
      rows: printers.rows
        .filter(({ keys }) => keys[0]?.id !== '')
        .map(({ keys, values }) => [keys[0]?.name ?? '', ...columns.map((measure) => text(measure, values))]),
    },
    notes: { title: 'To be noted', lines: notesOf(await paceChanges(shop, how), await bestOf(shop, week, how)) },
  };
}

/** What would have saved most in the thirty days up to the end of the week. */
function bestOf(shop: Shop, { toMs }: Week, how: RunHow): Promise<BestChanges> {
  const endMs = Math.min(toMs, shop.clock.now());
  return bestChangesView(shop, { fromMs: endMs - 30 * 86_400_000, toMs: endMs }, how);
}

function notesOf({ changes }: PaceChanges, best: BestChanges): string[] {
  const changed = changes.map(
    (change) => `${change.printerName} ${shopChangeWords(change, (percent) => number(percent, 0))}.`,
  );
  const saving = best.changes.map(
    ({ printerName, stockName, change, savedMinor, savedMs }) =>
      `${stockName} on ${printerName}, ${changeWords(change)}: would have saved ${money(savedMinor, best.currency)} and ${durationText(savedMs)} in 30 days.`,
  );
  const lines = [...changed, ...saving];
  return lines.length > 0 ? lines : ['Nothing that chance would not explain.'];
}

function money(minor: number, currency: string): string {
  return new Intl.NumberFormat(LOCALE, { style: 'currency', currency }).format(minor / 100);
}

function number(figure: number, digits: number): string {
  return figure.toLocaleString(LOCALE, { minimumFractionDigits: digits, maximumFractionDigits: digits });
}
