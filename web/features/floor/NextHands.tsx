import {
  ArrowRightLeft,
  Check,
  Droplet,
  ScanLine,
  Hand as HandSign,
  OctagonAlert,
  PackageOpen,
  RotateCcw,
  Shirt,
} from 'lucide-react';
import { useMemo, useState } from 'react';
import { handsPrinter } from '../../../core/schedule/handsInput.ts';
import { type Hand, type HandAct, nextHands } from '../../../core/schedule/nextHands.ts';
import type { RunOffer } from '../../../contract/api/fit.ts';
import { sendJson } from '../../api/client.ts';
import { useSpools, useStocks } from '../../api/data.ts';
import { useNotice } from '../../app/notice.tsx';
import { durationText } from '../../../core/units/durationText.ts';
import { clockText, useZone } from '../../app/shopTime.ts';
import { StateShape } from '../../draw/StateShape.tsx';
import type { FloorLine } from './useFloor.ts';
import { useMay } from '../../people/May.tsx';

const SIGNS: Record<Hand['kind'], typeof HandSign> = {
  fault: OctagonAlert,
  'go-on': HandSign,
  load: PackageOpen,
  confirm: RotateCcw,
  empty: PackageOpen,
  ink: Droplet,
  piece: Shirt,
  heads: ScanLine,
  offer: ArrowRightLeft,
  look: HandSign,
};
const SHOWN = 3;

/** What people have to do, in the order of time. */
export function useHands(
  lines: readonly FloorLine[],
  offers: ReadonlyMap<string, readonly RunOffer[]>,
  nowMs: number,
): Hand[] {
  const { data: stocks } = useStocks();
  const { data: spools } = useSpools();
  return useMemo(() => {
    const names = {
      runs: new Map(lines.flatMap(({ runs }) => runs.map((run) => [run.id, run] as const))),
      stocks: new Map((stocks ?? []).map(({ id, name }) => [id, name])),
      spools: new Map((spools ?? []).map(({ id, label }) => [id, label])),
    };
    return nextHands(
      lines.map(({ printer, runs, line }) => {
        const own = offers.get(printer.id);
        const offered = own ? { runs: own.length, able: own.filter(({ to }) => to !== null).length } : null;
        return handsPrinter(printer, runs, line, offered, nowMs);
      }),
      names,
      nowMs,
    );
  }, [lines, offers, stocks, spools, nowMs]);
}

/** Where a person is needed next, soonest first; nothing to do is said as well. */
export function NextHands({
  hands,
  lines,
  nowMs,
  onPrinter,
}: {
  readonly hands: readonly Hand[];
  readonly lines: readonly FloorLine[];
  readonly nowMs: number;
  readonly onPrinter: (id: string) => void;
}) {
  const [all, setAll] = useState(false);
  const printing = lines.filter(({ printer }) => printer.state === 'printing').length;
  if (hands.length === 0) {
    return (
      <p className="flex w-full items-center gap-2 text-soft">
        <StateShape shape={printing > 0 ? 'printing' : 'idle'} />
        {printing > 0
          ? `${String(printing)} of ${String(lines.length)} printing; no hand is needed`
          : 'Nothing is printing; no hand is needed'}
      </p>
    );
  }
  const shown = all ? hands : hands.slice(0, SHOWN);
  return (
    <div className="flex w-full min-w-0 items-start gap-1.5">
      <ul
        className="grid min-w-0 flex-1 grid-cols-[repeat(auto-fit,minmax(290px,1fr))] gap-1.5"
        aria-label="Next hands"
      >
        {shown.map((hand) => (
          <HandItem
            key={hand.key}
            hand={hand}
            nowMs={nowMs}
            onOpen={() => {
              onPrinter(hand.printerId);
            }}
          />
        ))}
      </ul>
      {hands.length > SHOWN && (
        <button
          type="button"
          aria-expanded={all}
          onClick={() => {
            setAll(!all);
          }}
          className="shrink-0 rounded px-1.5 py-1 text-tide hover:bg-rule/50"
        >
          {all ? 'Fewer' : `${String(hands.length - SHOWN)} more`}
        </button>
      )}
    </div>
  );
}

/** One thing to do: it opens its printer, and is ticked off where that is all there is to it. */
export function HandItem({
  hand,
  nowMs,
  whole = false,
  onOpen,
}: {
  readonly hand: Hand;
  readonly nowMs: number;
  /** Its words are not cut off: there is room for lines. */
  readonly whole?: boolean;
  readonly onOpen: () => void;
}) {
  const zone = useZone();
  const mayWork = useMay('operate');
  const Sign = SIGNS[hand.kind];
  const at = hand.when === 'now' ? null : hand.when;
  return (
    <li
      className={`flex min-w-0 items-stretch rounded-md border bg-card ${hand.kind === 'fault' ? 'border-stop' : at === null ? 'border-wait' : 'border-rule'}`}
    >
      <button
        type="button"
        title={`${hand.text}. ${hand.way}`}
        onClick={() => {
          // Whoever stands in for people leaves it to the one who looks at it.
          if (mayWork) void sendJson('POST', '/api/next-hands/opened', { key: hand.key }).catch(() => undefined);
          onOpen();
        }}
        className={`flex min-w-0 flex-1 items-center gap-1.5 rounded-md px-2 py-1 text-left hover:bg-rule/40 ${hand.kind === 'fault' ? 'text-stop' : ''}`}
      >
        <Sign size={16} className={`shrink-0 ${hand.kind === 'fault' ? '' : 'text-wait'}`} aria-hidden="true" />
        <span className="shrink-0 font-semibold">{at === null ? 'now' : clockText(at, nowMs, zone)}</span>
        <span className={`min-w-0 ${whole ? '' : 'truncate'}`}>
          {whole || hand.text.includes(hand.printerName) ? '' : `${hand.printerName}: `}
          {hand.text}
        </span>
        {at !== null && <span className="ml-auto shrink-0 text-soft">in {durationText(at - nowMs)}</span>}
      </button>
      {hand.act && mayWork && <Tick hand={hand} act={hand.act} />}
    </li>
  );
}

const TICKS: Record<HandAct['kind'], string> = {
  load: 'Loaded',
  emptied: 'Emptied',
  resume: 'Go on',
  'confirm back': 'Turned and loaded',
};

/** Says that a hand is done, without a way through the printer's sheet. */
function Tick({ hand, act }: { readonly hand: Hand; readonly act: HandAct }) {
  const { tell } = useNotice();
  return (
    <button
      type="button"
      aria-label={`${TICKS[act.kind]}: ${hand.text}`}
      title={TICKS[act.kind]}
      onClick={() => {
        sendJson('POST', '/api/next-hands/done', { key: hand.key }).catch(tell);
      }}
      className="flex shrink-0 items-center gap-1 border-l border-rule px-2 font-medium text-tide hover:bg-rule/40"
    >
      <Check size={15} aria-hidden="true" />
      {TICKS[act.kind]}
    </button>
  );
}
