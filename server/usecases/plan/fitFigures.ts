import type { RunItem } from '../../../contract/api/floor.ts';
import { costOfRun, toMinor } from '../../../core/estimate/money.ts';
import type { FitOption, StartCondition } from '../../../core/routing/fitList.ts';
import { loadMinorOf } from '../../../core/spools/choosableSpool.ts';
import { offcutOffer } from '../../../core/spools/offcutOffer.ts';
import type { Line, LineEvent } from '../../../core/schedule/plan.ts';
import { plannedWork } from '../../../core/schedule/planInput.ts';
import type { PrinterBase } from '../../db/printerViews.ts';
import type { stocks } from '../../db/tables/floorTables.ts';
import type { FitWork } from './fitWork.ts';
import type { Floor, PlannedFloor } from './plannedFloor.ts';

type StockRow = typeof stocks.$inferSelect;

/** What work comes to on a printer, laid out. Lengths mm. */
export interface Laid {
  readonly lengthMm: number;
  readonly needMm: number;
  /** Corrected by how the printer's runs really went. */
  readonly timeMs: number;
  readonly inkMl: Readonly<Record<string, number>>;
  readonly byHand: boolean;
}

/** The run that is asked for, where there is one: it is not in any line while it is judged elsewhere. */
interface Asked {
  /** On its own printer, laid out as it is. */
  readonly own: RunItem | undefined;
  readonly exceptRunId: string;
}

/** What it costs there and when it would be done, by the plan of the whole floor. */
export function priced(
  planned: PlannedFloor,
  work: FitWork,
  stock: StockRow,
  printer: PrinterBase,
  modeId: string,
  laid: Laid,
  asked: Asked,
): NonNullable<FitOption['laid']> {
  const { config } = printer;
  const { lengthMm, needMm, timeMs, inkMl: ink } = laid;
  const cost = costOfRun({
    inkMl: ink,
    pricePerMlMicro: Object.fromEntries(config.channels.map(({ id, pricePerMlMicro }) => [id, pricePerMlMicro])),
    fedMm: needMm,
    mediaWidthMm: stock.widthMm,
    mediaPerM2Minor: stock.pricePerM2Minor,
    timeMs,
    ratePerHourMinor: config.ratePerHourMinor,
    extraMinor: 0,
  });
  const printedM2 = work.pieces.reduce((sum, { widthMm, heightMm }) => sum + widthMm * heightMm, 0) / 1e6;
  const fedM2 = (needMm * stock.widthMm) / 1e6;
  const wasteMinor = Math.round(Math.max(0, fedM2 - printedM2) * stock.pricePerM2Minor);
  const when = whenOn(planned, work, printer, modeId, laid, asked);
  const rack = planned.floor.spools.filter(({ stockId }) => stockId === stock.id);
  const asksOf = { printerId: printer.id, leastWidthMm: laid.byHand ? 0 : stock.widthMm, needMm };
  return {
    lengthMm,
    fedMm: needMm,
    offcut: offcutOffer(rack, asksOf, stock, () => loadMinorOf(config)),
    wasteMinor,
    mediaMinor: toMinor(cost.mediaMicro) - wasteMinor,
    inkMinor: toMinor(cost.inkMicro),
    timeMs,
    timeMinor: toMinor(cost.timeMicro),
    costMicro: cost.inkMicro + cost.mediaMicro + cost.timeMicro,
    inkMl: ink,
    startMs: Math.round(when.startMs),
    endMs: Math.round(when.endMs),
    changeOverMin: when.changeOverMin,
    changeOverMinor: Math.round((when.changeOverMin / 60) * config.ratePerHourMinor),
    restsOn: when.restsOn,
  };
}

interface When {
  readonly startMs: number;
  readonly endMs: number;
  readonly changeOverMin: number;
  readonly restsOn: readonly StartCondition[];
}

const ADDED = 'added';

/** At the end of the printer's line, or where it stands in it now: start, end, and what has to happen before. */
function whenOn(
  planned: PlannedFloor,
  work: FitWork,
  printer: PrinterBase,
  modeId: string,
  { timeMs, needMm, lengthMm, inkMl: ink, byHand }: Laid,
  { own, exceptRunId }: Asked,
): When {
  const { floor } = planned;
  const inLine = own && own.state !== 'draft' ? own : undefined;
  const id = inLine?.id ?? ADDED;
  const [first] = work.jobs;
  const line: Line = inLine
    ? (planned.plan.lines.get(printer.id) as Line)
    : planned.without(exceptRunId).behind(printer.id, [
        plannedWork({
          id,
          stockId: first?.ticket.values.stockId ?? '',
          modeId,
          estimateMs: timeMs,
          needMm,
          outMm: byHand ? 0 : lengthMm,
          inkMl: ink,
          byHand,
          unattended: work.jobs.every((job) => job.ticket.values.unattended),
        }),
      ]);
  const mine = line.events.filter((event) => ('runId' in event ? event.runId : event.id) === id);
  const event = mine.find(({ kind }) => kind === 'run');
  const ahead = floor.runs.filter(
    ({ printerId, state, id: other, position }) =>
      printerId === printer.id &&
      state !== 'draft' &&
      other !== exceptRunId &&
      (!inLine || state !== 'queued' || position < inLine.position),
  ).length;
  const changeOverMin = mine.reduce(
    (sum, each) => sum + (each.kind === 'change-over' || each.kind === 'hand' ? (each.toMs - each.fromMs) / 60_000 : 0),
    0,
  );
  return {
    startMs: event?.fromMs ?? floor.nowMs,
    endMs: event?.toMs ?? floor.nowMs,
    changeOverMin,
    restsOn: [
      ...(ahead === 0
        ? []
        : [{ text: ahead === 1 ? '1 run goes before it' : `${String(ahead)} runs go before it`, atMs: null }]),
      ...mine.flatMap((each) => conditionOf(floor, each)),
    ],
  };
}

const HANDS = {
  empty: 'the basket is emptied',
  turn: 'the media is turned and confirmed',
  clean: 'its heads are cleaned',
} as const;

/** What has to happen before a run starts, as its plan counts on it. */
function conditionOf(floor: Floor, event: LineEvent): StartCondition[] {
  if (event.kind === 'hand')
    return [
      {
        text: HANDS[event.what],
        atMs: Math.round(event.fromMs),
      },
    ];
  if (event.kind === 'wait')
    return event.why === 'nobody there' ? [{ text: 'somebody is there', atMs: Math.round(event.toMs) }] : [];
  if (event.kind !== 'change-over' || event.what === 'mode') return [];
  const label = floor.spools.find(({ id }) => id === event.spoolId)?.label;
  return [
    {
      text: label === undefined ? 'its stock is brought in: none is on the rack' : `${label} is loaded`,
      atMs: Math.round(event.fromMs),
    },
  ];
}
