import { alongUnit, fieldUnit, alongText, acrossText } from '../ui/text/lengths.ts';
import { useState } from 'react';
import type { LoadSpool, SpoolView } from '../../contract/api/floor.ts';
import { fitsSource } from '../../core/stock/form.ts';
import { rollLengthMm } from '../../core/stock/roll.ts';
import { TAKE_UP_CHECKS, type TakeUp } from '../../core/stock/takeUp.ts';
import { parseLength } from '../../core/units/length.ts';
import { errorText, sendJson } from '../api/client.ts';
import { type Printer, useSpools, useStocks } from '../api/data.ts';
import { useNotice } from '../app/notice.tsx';
import { SpoolSign } from '../draw/SpoolSign.tsx';
import { Button } from '../ui/Button.tsx';
import { Row } from '../ui/Sheet.tsx';
import { leftText } from './spoolText.ts';
import { Checkbox } from '../ui/fields/Checkbox.tsx';
import { FIELD } from '../ui/fields/look.ts';
import { Select } from '../ui/fields/Select.tsx';
import { LengthRow } from '../ui/fields/LengthRow.tsx';

interface LoadPanelProps {
  readonly printer: Printer;
  readonly sourceId: string;
  /** Stock that is wanted next on this printer, if any: its spools stand first. */
  readonly wantedStockId: string | null;
  /** Chosen to begin with. */
  readonly spoolId?: string | undefined;
  readonly onDone: () => void;
}

/** Loading a source, step by step: which spool, what it measures, how it is taken up. */
export function LoadPanel({ printer, sourceId, wantedStockId, spoolId, onDone }: LoadPanelProps) {
  const { data: spools = [] } = useSpools();
  const { data: stocks = [] } = useStocks();
  const [chosenId, setChosenId] = useState(spoolId);
  const source = printer.config.sources.find(({ id }) => id === sourceId);
  const forms = new Map(stocks.map(({ id, form }) => [id, form]));
  const fitting = spools
    .filter((spool) => {
      const form = forms.get(spool.stockId);
      return spool.printerId === null && source && form !== undefined && fitsSource(form, source.kind);
    })
    .filter((spool) => source?.kind === 'bed' || spool.widthMm <= printer.config.widestMediaMm)
    // What is wanted first, and of that the shortest: part rolls and offcuts go before new ones.
    .sort(
      (a, b) =>
        Number(b.stockId === wantedStockId) - Number(a.stockId === wantedStockId) ||
        a.stockName.localeCompare(b.stockName, 'en') ||
        a.leftMm - b.leftMm,
    );
  const chosen = fitting.find(({ id }) => id === chosenId);
  if (!source) return null;
  return (
    <div
      role="group"
      aria-label={`Load ${printer.name}, ${source.name}`}
      className="rounded-md border border-rule bg-paper p-3"
    >
      <div className="mb-2 flex items-baseline justify-between gap-2">
        <p className="font-semibold">Load {source.name}</p>
        <Button kind="quiet" onClick={onDone}>
          Close
        </Button>
      </div>
      <ScanField
        onScan={(text) => {
          const found = fitting.find(({ id, label }) => id === text || label.toLowerCase() === text.toLowerCase());
          setChosenId(found?.id);
          return found !== undefined;
        }}
      />
      <ul aria-label="Spools that fit" className="mt-2 max-h-56 overflow-y-auto">
        {fitting.map((spool) => (
          <li key={spool.id}>
            <button
              type="button"
              aria-pressed={spool.id === chosenId}
              onClick={() => {
                setChosenId(spool.id);
              }}
              className="flex w-full items-center gap-2 rounded-md border border-transparent px-1.5 py-1 text-left hover:bg-rule/40 aria-pressed:border-ink aria-pressed:bg-spool aria-pressed:text-on-spool"
            >
              <SpoolSign {...spool} size={30} label="" />
              <span className="min-w-0 flex-1 truncate">
                <span className="font-medium">{spool.label}</span> {spool.stockName}
              </span>
              {spool.kind === 'offcut' && <span className="dense opacity-80">offcut</span>}
              <span className="shrink-0">{leftText(spool)}</span>
            </button>
          </li>
        ))}
        {fitting.length === 0 && <li className="py-1 text-soft">Nothing on the rack fits {source.name}.</li>}
      </ul>
      {chosen && (
        <Measure
          key={chosen.id}
          printer={printer}
          sourceId={sourceId}
          sourceName={source.name}
          spool={chosen}
          onDone={onDone}
        />
      )}
    </div>
  );
}

/** A scanner types the label's code and Enter. */
function ScanField({ onScan }: { readonly onScan: (text: string) => boolean }) {
  const [wrong, setWrong] = useState(false);
  return (
    <label className="flex items-center justify-between gap-2">
      <span className="text-soft">Label</span>
      <input
        autoFocus
        placeholder="scan or type"
        aria-invalid={wrong}
        onKeyDown={(event) => {
          if (event.key !== 'Enter') return;
          const text = event.currentTarget.value.trim();
          const found = onScan(text);
          setWrong(!found);
          if (found) event.currentTarget.value = '';
        }}
        className={`${FIELD} w-40`}
      />
    </label>
  );
}

type LengthFrom = 'ledger' | 'typed' | 'diameter';

function Measure({
  printer,
  sourceId,
  sourceName,
  spool,
  onDone,
}: {
  readonly printer: Printer;
  readonly sourceId: string;
  readonly sourceName: string;
  readonly spool: SpoolView;
  readonly onDone: () => void;
}) {
  const { say } = useNotice();
  const { config } = printer;
  const isRoll = spool.sheetMm === null;
  const [widthMm, setWidthMm] = useState(spool.widthMm);
  const [from, setFrom] = useState<LengthFrom>('ledger');
  const [typed, setTyped] = useState('');
  const before = printer.spools.find((each) => each.sourceId === sourceId)?.takeUp ?? null;
  const [takeUp, setTakeUp] = useState<TakeUp | null>(before);
  const [checked, setChecked] = useState<ReadonlySet<string>>(new Set());
  const [problem, setProblem] = useState<string>();
  const lengthMm = lengthOf(from, typed, spool);
  const unchecked = takeUp === null ? 0 : TAKE_UP_CHECKS.length - checked.size;
  const load = async (): Promise<void> => {
    const order: LoadSpool = {
      printerId: printer.id,
      sourceId,
      ...(isRoll ? { widthMm } : {}),
      ...(from === 'ledger' || lengthMm === undefined ? {} : { lengthMm }),
      takeUp,
    };
    try {
      await sendJson('POST', `/api/spools/${spool.id}/load`, order);
      if (takeUp && takeUp.tension !== before?.tension) {
        say(`The tension on ${printer.name} is ${takeUp.tension} now: print a feed check before the next long run.`);
      }
      onDone();
    } catch (error) {
      setProblem(errorText(error));
    }
  };
  return (
    <div className="mt-2 border-t border-rule pt-2">
      {isRoll && <LengthRow label="Width as measured" valueMm={widthMm} mostMm={10_000} onChange={setWidthMm} />}
      <Row label="Length left">
        <Select
          label="Length left from"
          value={from}
          choices={[
            { value: 'ledger', text: `as booked: ${leftText(spool)}` },
            { value: 'typed', text: 'typed' },
            ...(isRoll ? [{ value: 'diameter' as const, text: 'from the roll’s diameter' }] : []),
          ]}
          onChange={(next) => {
            setFrom(next);
            setTyped('');
          }}
        />
      </Row>
      {from !== 'ledger' && (
        <Row label={from === 'typed' ? (isRoll ? 'Length' : 'Sheets') : 'Outer diameter'}>
          <input
            aria-label={from === 'typed' ? 'Length typed' : 'Outer diameter'}
            value={typed}
            onChange={(event) => {
              setTyped(event.target.value);
            }}
            placeholder={from === 'typed' ? (isRoll ? alongText(21_500, 1) : '40') : acrossText(142)}
            className={`${FIELD} w-24 text-right`}
          />
        </Row>
      )}
      {from === 'diameter' && lengthMm !== undefined && (
        <p className="text-right text-soft">
          makes {alongText(lengthMm)} of {acrossText(spool.thicknessMm, 2)} on a {acrossText(spool.coreMm)} core
        </p>
      )}
      {from !== 'ledger' && typed !== '' && lengthMm === undefined && (
        <p className="text-right text-stop">Not a length.</p>
      )}
      {spool.leaderMm > 0 && (
        <p className="text-right text-soft">{alongText(spool.leaderMm)} of it are fed before it prints.</p>
      )}
      {config.takeUp && isRoll && (
        <TakeUpChoice
          takeUp={takeUp}
          freeHangMm={config.freeHangMm}
          checked={checked}
          onTakeUp={setTakeUp}
          onChecked={setChecked}
        />
      )}
      {problem !== undefined && (
        <p role="alert" className="mt-2 text-stop">
          {problem}
        </p>
      )}
      <Button
        kind="main"
        className="mt-2 w-full"
        disabled={unchecked > 0 || (from !== 'ledger' && lengthMm === undefined)}
        onClick={() => void load()}
      >
        {unchecked > 0
          ? `${String(unchecked)} to check first`
          : `Load ${spool.label} on ${printer.name}, ${sourceName}`}
      </Button>
    </div>
  );
}

function lengthOf(from: LengthFrom, typed: string, spool: SpoolView): number | undefined {
  if (from === 'ledger' || typed.trim() === '') return undefined;
  if (from === 'typed' && spool.sheetMm !== null) {
    const sheets = Number(typed);
    return Number.isInteger(sheets) && sheets >= 0 ? sheets * spool.sheetMm : undefined;
  }
  const parsed = parseLength(typed, from === 'typed' ? alongUnit() : fieldUnit());
  if (!parsed.ok || parsed.value < 0) return undefined;
  if (from === 'typed') return parsed.value;
  return parsed.value < spool.coreMm ? undefined : rollLengthMm(parsed.value, spool.coreMm, spool.thicknessMm);
}

function TakeUpChoice({
  takeUp,
  freeHangMm,
  checked,
  onTakeUp,
  onChecked,
}: {
  readonly takeUp: TakeUp | null;
  readonly freeHangMm: number | null;
  readonly checked: ReadonlySet<string>;
  readonly onTakeUp: (takeUp: TakeUp | null) => void;
  readonly onChecked: (checked: ReadonlySet<string>) => void;
}) {
  return (
    <fieldset className="mt-1">
      <Row label="Take-up">
        <Select
          label="Take-up"
          value={takeUp?.winding ?? 'off'}
          choices={[
            { value: 'off', text: freeHangMm === null ? 'off' : `off, hangs free to ${acrossText(freeHangMm)}` },
            { value: 'printed side in', text: 'on, printed side in' },
            { value: 'printed side out', text: 'on, printed side out' },
          ]}
          onChange={(winding) => {
            onTakeUp(winding === 'off' ? null : { winding, tension: takeUp?.tension ?? 'medium' });
          }}
        />
      </Row>
      {takeUp && (
        <>
          <Row label="Tension">
            <Select
              label="Tension"
              value={takeUp.tension}
              choices={['light', 'medium', 'firm']}
              onChange={(tension) => {
                onTakeUp({ ...takeUp, tension });
              }}
            />
          </Row>
          {TAKE_UP_CHECKS.map((check) => (
            <Checkbox
              key={check}
              text={check}
              value={checked.has(check)}
              className="mt-1 flex! items-start! leading-snug"
              onChange={(on) => {
                const next = new Set(checked);
                if (on) next.add(check);
                else next.delete(check);
                onChecked(next);
              }}
            />
          ))}
        </>
      )}
    </fieldset>
  );
}
