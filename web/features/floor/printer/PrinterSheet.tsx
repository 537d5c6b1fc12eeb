import { CareNow } from './CareNow.tsx';
import { Figure } from '../../../ui/Figure.tsx';
import { alongFigure, alongText } from '../../../ui/text/lengths.ts';
import { number } from '../../../ui/text/number.ts';
import { counted } from '../../../ui/text/counted.ts';
import { Link } from 'react-router';
import type { RunOffer } from '../../../../contract/api/fit.ts';
import { sendJson } from '../../../api/client.ts';
import { type RunItem, useStocks } from '../../../api/data.ts';
import { useNotice } from '../../../app/notice.tsx';
import { useShopNow } from '../../../app/shopTime.ts';
import { StateWord } from '../../../draw/StateShape.tsx';
import { Sources } from '../../../media/Sources.tsx';
import { Button } from '../../../ui/Button.tsx';
import { Row, Section, Sheet } from '../../../ui/Sheet.tsx';
import { idleChannels, longText } from '../../../../core/machine/idleChannels.ts';
import { Offers } from './Offers.tsx';
import { stateText } from '../stateText.ts';
import { PresentRun } from './PresentRun.tsx';
import { QueuedRuns } from './QueuedRuns.tsx';
import type { Floor, FloorLine } from '../useFloor.ts';
import { useFinishRanges } from './useFinishRanges.ts';
import type { Learned } from '../../../../core/estimate/learnedPrinter.ts';
import { likelyRatio } from '../../../../core/estimate/learnedRatio.ts';
import { Select } from '../../../ui/fields/Select.tsx';
import { May, useMay } from '../../../people/May.tsx';

interface PrinterSheetProps {
  readonly floorLine: FloorLine;
  readonly floor: Floor;
  readonly nowMs: number;
  /** What others could take while it stands. */
  readonly offers: readonly RunOffer[];
  readonly onClose: () => void;
}

/** One printer: what it prints now, its line in order, what it holds, and what it has done. */
export function PrinterSheet({ floorLine, floor, nowMs, offers, onClose }: PrinterSheetProps) {
  const { printer, runs } = floorLine;
  const { lines } = floor;
  const finishes = useFinishRanges(floor, nowMs);
  const { tell } = useNotice();
  const present = runs.find((run) => ['sent', 'printing', 'paused'].includes(run.state));
  const queued = runs.filter((run) => run.state === 'queued');
  const ended = runs
    .filter((run) => run.endedMs !== null && run.startedMs !== null)
    .sort((a, b) => (b.endedMs ?? 0) - (a.endedMs ?? 0))
    .slice(0, 8);
  const { config } = printer;
  const idle = idleChannels(config.channels, printer.firedMs, useShopNow(60_000) ?? 0);
  return (
    <Sheet
      title={printer.name}
      under={
        <StateWord state={printer.state}>
          {printer.state === 'waiting' || printer.reason === null
            ? stateText(printer)
            : `${printer.state}: ${printer.reason}`}
        </StateWord>
      }
      onClose={onClose}
    >
      <Section title="Now">
        {present ? <PresentRun run={present} finish={finishes.get(present.id)} /> : <NothingPrints printer={printer} />}
      </Section>
      <Offers name={printer.name} offers={offers} />
      <Section title="Next">
        {queued.length === 0 ? (
          <p className="text-soft">
            Nothing is queued. Choose jobs in{' '}
            <Link to="/intake" className="text-tide underline">
              Intake
            </Link>{' '}
            and lay them out.
          </p>
        ) : (
          <QueuedRuns floorLine={floorLine} finishes={finishes} />
        )}
      </Section>
      <Section title="Loaded">
        <Sources printer={printer} wantedStockId={queued[0]?.stockId ?? null} />
        {config.collectsMm !== null && (
          <Row label="In basket or stacker">
            <span className="inline-flex items-center gap-2">
              <Figure {...alongFigure(printer.collectedMm ?? 0, 1)} unit={`of ${alongText(config.collectsMm)}`} />
              <May right="operate">
                <Button
                  kind="quiet"
                  className="!h-7 !px-1.5"
                  onClick={() => {
                    sendJson('POST', `/api/printers/${printer.id}/emptied`).catch(tell);
                  }}
                >
                  Emptied
                </Button>
              </May>
            </span>
          </Row>
        )}
      </Section>
      <Section
        title="Ink left"
        aside={<span className="text-soft">{printer.inkMeasured ? 'measured' : 'reckoned'}</span>}
      >
        {config.channels.map((channel) => {
          const stood = idle.find((each) => each.channel.id === channel.id);
          return (
            <Row key={channel.id} label={channel.name}>
              {stood && stood.risk !== 'fresh' && (
                <span className={`mr-3 ${stood.risk === 'overdue' ? 'text-stop' : 'text-wait'}`}>
                  stood {longText(stood.idleMs)}, {stood.risk === 'overdue' ? 'exercise overdue' : 'due for exercise'}
                </span>
              )}
              <Figure value={number(printer.inkLeftMl[channel.id] ?? 0, 1)} unit={`of ${number(channel.tankMl)} ml`} />
            </Row>
          );
        })}
      </Section>
      <CareNow key={printer.id} printer={printer} />
      <Section title="Ended">
        {ended.length === 0 && <p className="text-soft">No run has ended yet.</p>}
        {ended.map((run) => (
          <EndedRun key={run.id} run={run} lines={lines} />
        ))}
      </Section>
      <Pace floorLine={floorLine} />
      <p className="mb-2">
        <Link to={`/day-list/${printer.id}`} className="text-tide underline">
          Day list of {printer.name}, to print
        </Link>
      </p>
      <p>
        <Link to={`/setup?printer=${printer.id}`} className="text-tide underline">
          All that {printer.name} is described by
        </Link>
      </p>
    </Sheet>
  );
}

/** What a run left over can be printed at once, here or on another printer. */
function EndedRun({ run, lines }: { readonly run: RunItem; readonly lines: readonly FloorLine[] }) {
  const { tell, say } = useNotice();
  const mayPrint = useMay('coordinate');
  const broken = run.state === 'failed' || (run.state === 'cancelled' && run.startedMs !== null);
  const rest = (printerId: string): void => {
    say(`Laying out the rest of ${run.name}`);
    sendJson('POST', `/api/runs/${run.id}/print-rest`, { printerId }).catch(tell);
  };
  return (
    <div className="py-0.5">
      <Row label={run.name}>
        <Link to={`/bench/${run.id}`} className="hover:underline">
          <StateWord state={run.state} /> <span className="text-soft">{alongText(run.reachedMm ?? 0)}</span>
        </Link>
      </Row>
      {broken && mayPrint && (
        <div className="flex items-center justify-end gap-1">
          <Button
            kind="quiet"
            className="!h-7 !px-1.5"
            onClick={() => {
              rest(run.printerId);
            }}
          >
            Print the rest
          </Button>
          <Select
            label={`Print the rest of ${run.name} elsewhere`}
            value={undefined}
            unchosen="elsewhere"
            choices={lines
              .filter(({ printer }) => printer.id !== run.printerId)
              .map(({ printer }) => ({ value: printer.id, text: `on ${printer.name}` }))}
            className="w-24 text-tide"
            onChange={rest}
          />
        </div>
      )}
    </div>
  );
}

/** How its runs really went, by which estimates are corrected: by mode, and by stock where that says more. */
function Pace({ floorLine: { printer } }: { readonly floorLine: FloorLine }) {
  const { data: stocks } = useStocks();
  const known = printer.config.modes.flatMap((mode) => {
    const learned = printer.learned.modes[mode.id];
    return learned ? [{ mode, ...learned }] : [];
  });
  if (known.length === 0) return null;
  return (
    <Section title="Against its estimates">
      {known.map(({ mode, time, stocks: byStock }) => (
        <div key={mode.id}>
          <Row label={mode.name}>{offText(time)}</Row>
          {Object.entries(byStock).map(([stockId, learned]) => (
            <Row key={stockId} label={`on ${stocks?.find(({ id }) => id === stockId)?.name ?? stockId}`}>
              <span className="dense">{offText(learned)}</span>
            </Row>
          ))}
        </div>
      ))}
    </Section>
  );
}

function offText(learned: Learned): string {
  const { factor, low, high } = likelyRatio(learned);
  const percent = (ratio: number): string => {
    const off = Math.round((ratio - 1) * 100);
    return off === 0 ? '0' : `${off > 0 ? '+' : '−'}${String(Math.abs(off))}`;
  };
  return `${percent(factor)} % (${percent(low)} to ${percent(high)}), ${counted(learned.runs, 'run')}`;
}

/** Why nothing is printed now, and what to do about it. */
function NothingPrints({ printer: { state, reason, held, care } }: { readonly printer: FloorLine['printer'] }) {
  if (state === 'faulted')
    return <p className="text-stop">Nothing prints: {reason ?? 'it has a fault'}. Clear the fault at the printer.</p>;
  if (state === 'off')
    return <p className="text-stop">It does not answer. Check that it is switched on and connected.</p>;
  if (held?.hand === true)
    return (
      <p className="text-wait">
        {held.text}. {held.way}
      </p>
    );
  if (state === 'caring') return <p className="text-tide">Care is done: {care[0]?.title ?? 'care'}.</p>;
  if (held)
    return (
      <p className="text-soft">
        {held.text}. {held.way}
      </p>
    );
  return <p className="text-soft">Nothing is on the printer.</p>;
}
