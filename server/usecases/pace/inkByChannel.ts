import { and, eq, gte, lt, ne, sql } from 'drizzle-orm';
import Papa from 'papaparse';
import type { PaceInk, PaceInkQuery } from '../../../contract/api/pace/pace.ts';
import type { Static } from 'typebox';
import { toMinor } from '../../../core/estimate/money.ts';
import { printers } from '../../db/tables/floorTables.ts';
import { type InkPurpose, inkLedger } from '../../db/tables/records.ts';
import { Refused, type Shop } from '../../shop.ts';

type Row = PaceInk['rows'][number];
type Purpose = 'workMl' | 'purgeMl' | 'cleanMl' | 'checkMl' | 'otherMl';

/** What a tank is filled with is not used. */
const FILLED: InkPurpose = 'fill';
const PURPOSES: Readonly<Partial<Record<InkPurpose, Purpose>>> = {
  run: 'workMl',
  purge: 'purgeMl',
  clean: 'cleanMl',
  check: 'checkMl',
};

/** Ink by channel and purpose: each booking belongs to the instant at which it was made, a run's to its end. */
export function inkByChannel(shop: Shop, { fromMs, toMs, printerId }: Static<typeof PaceInkQuery>): PaceInk {
  if (!(fromMs < toMs)) throw new Refused(422, 'no-time', 'The period ends before it begins.');
  const booked = shop.db
    .select({
      printerId: inkLedger.printerId,
      channelId: inkLedger.channelId,
      purpose: inkLedger.purpose,
      ml: sql<number>`-sum(${inkLedger.ml})`,
    })
    .from(inkLedger)
    .where(
      and(
        gte(inkLedger.atMs, fromMs),
        lt(inkLedger.atMs, toMs),
        ne(inkLedger.purpose, FILLED),
        printerId === undefined ? undefined : eq(inkLedger.printerId, printerId),
      ),
    )
    .groupBy(inkLedger.printerId, inkLedger.channelId, inkLedger.purpose)
    .all();
  const known = new Map(
    shop.db
      .select()
      .from(printers)
      .all()
      .map((printer) => [printer.id, printer]),
  );
  const rows = new Map<string, Row>();
  for (const { printerId: id, channelId, purpose, ml } of booked) {
    const printer = known.get(id);
    const channel = printer?.config.channels.find((each) => each.id === channelId);
    const key = `${id}/${channelId}`;
    const row = rows.get(key) ?? {
      ...{ printerId: id, printerName: printer?.name ?? id, channelId, channelName: channel?.name ?? channelId },
      ...{ colour: channel?.colour ?? null, workMl: 0, purgeMl: 0, cleanMl: 0, checkMl: 0, otherMl: 0, allMl: 0 },
      costMinor: 0,
    };
    const name = PURPOSES[purpose] ?? 'otherMl';
    const allMl = row.allMl + ml;
    const costMinor = toMinor(allMl * (channel?.pricePerMlMicro ?? 0));
    rows.set(key, { ...row, [name]: row[name] + ml, allMl, costMinor });
  }
  return { currency: shop.currency(), rows: [...rows.values()].sort((a, b) => b.allMl - a.allMl) };
}

export function inkCsv({ currency, rows }: PaceInk): string {
  const fields = [
    'printer',
    'ink',
    'work (ml)',
    'purges (ml)',
    'cleans (ml)',
    'checks (ml)',
    'other (ml)',
    'together (ml)',
  ];
  const data = rows.map(
    ({ printerName, channelName, workMl, purgeMl, cleanMl, checkMl, otherMl, allMl, costMinor }) => [
      ...[printerName, channelName, workMl, purgeMl, cleanMl, checkMl, otherMl, allMl],
      (costMinor / 100).toFixed(2),
    ],
  );
  return Papa.unparse({ fields: [...fields, `cost today (${currency})`], data });
}
