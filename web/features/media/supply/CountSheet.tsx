import { useRef, useState } from 'react';
import { errorText, sendJson } from '../../../api/client.ts';
import type { SpoolView } from '../../../api/data.ts';
import { useNotice } from '../../../app/notice.tsx';
import { leftFigure, leftText } from '../../../media/spoolText.ts';
import { Button } from '../../../ui/Button.tsx';
import { Section, Sheet } from '../../../ui/Sheet.tsx';
import { FieldError } from '../../../ui/fields/FieldError.tsx';
import { FIELD } from '../../../ui/fields/look.ts';
import { counted } from '../../../ui/text/counted.ts';
import { amountOf } from '../SpoolSheet.tsx';

interface Counted {
  readonly spool: SpoolView;
  /** As it was when its label was read: what is printed meanwhile is no difference. */
  readonly expectedMm: number;
  readonly text: string;
}

/** Counting the rack: labels are scanned or typed one after another, what is measured is put beside what should be there. */
export function CountSheet({
  spools,
  onClose,
}: {
  readonly spools: readonly SpoolView[];
  readonly onClose: () => void;
}) {
  const [code, setCode] = useState('');
  const [rows, setRows] = useState<readonly Counted[]>([]);
  const [reason, setReason] = useState('');
  const [wrong, setWrong] = useState<string>();
  const scan = useRef<HTMLInputElement>(null);
  const { say } = useNotice();
  const add = (): void => {
    const wanted = code.trim().toLowerCase();
    const spool = spools.find(({ id, label }) => id.toLowerCase() === wanted || label.toLowerCase() === wanted);
    if (!spool) {
      setWrong(`No spool on the rack or in a printer is labelled ${code.trim()}.`);
      return;
    }
    setWrong(undefined);
    setCode('');
    if (rows.some((row) => row.spool.id === spool.id)) return;
    const amount = leftFigure(spool);
    setRows([
      ...rows,
      {
        spool,
        expectedMm: spool.leftMm,
        text: spool.sheetMm === null ? `${amount.value} ${amount.unit}` : amount.value,
      },
    ]);
  };
  const differences = rows.map(({ spool, expectedMm, text }) => {
    const leftMm = amountOf(text, spool);
    // What stands in the field is rounded: as long as nobody changed it, nothing differs.
    const isSame = leftMm === undefined || text === shown(spool, expectedMm);
    return { leftMm: isSame ? expectedMm : leftMm, isWrong: leftMm === undefined };
  });
  const changed = differences.filter(({ leftMm }, i) => Math.abs(leftMm - (rows[i]?.expectedMm ?? 0)) >= 0.5).length;
  const unread = differences.filter(({ isWrong }) => isWrong).length;
  const missing = spools.filter(({ id }) => !rows.some(({ spool }) => spool.id === id)).length;
  const book = (): void => {
    const counts = rows.map(({ spool, expectedMm }, i) => ({
      spoolId: spool.id,
      expectedMm,
      leftMm: differences[i]?.leftMm ?? expectedMm,
    }));
    sendJson('POST', '/api/stock-takes', { reason: reason.trim(), counts })
      .then(() => {
        say(changed === 0 ? 'All as it should be' : `${counted(changed, 'difference')} booked`);
        onClose();
      })
      .catch((error: unknown) => {
        setWrong(errorText(error));
      });
  };
  return (
    <Sheet
      title="Count the rack"
      under={<p className="text-soft">Scan a label or type it; then say what is really there.</p>}
      onClose={onClose}
      wide
    >
      <form
        className="mb-3 flex gap-1.5"
        onSubmit={(event) => {
          event.preventDefault();
          add();
        }}
      >
        <input
          ref={scan}
          aria-label="Label of a spool"
          placeholder="label or code"
          value={code}
          onChange={(event) => {
            setCode(event.target.value);
          }}
          className={`${FIELD} min-w-0 flex-1`}
        />
        <Button type="submit" disabled={code.trim() === ''}>
          Add
        </Button>
      </form>
      <FieldError text={wrong} />
      {rows.map(({ spool, expectedMm, text }, i) => {
        const { leftMm = expectedMm, isWrong = false } = differences[i] ?? {};
        const off = leftMm - expectedMm;
        return (
          <div key={spool.id} className="flex items-center gap-2 border-t border-rule py-1.5">
            <span className="min-w-0 flex-1">
              <span className="font-medium">{spool.label}</span>{' '}
              <span className="text-soft">
                {spool.stockName}, should have {leftText({ leftMm: expectedMm, sheetMm: spool.sheetMm })}
              </span>
            </span>
            <input
              aria-label={`Really on ${spool.label}`}
              value={text}
              aria-invalid={isWrong}
              onChange={(event) => {
                setRows(rows.map((row, k) => (k === i ? { ...row, text: event.target.value } : row)));
              }}
              onKeyDown={(event) => {
                if (event.key === 'Enter') scan.current?.focus();
              }}
              className={`${FIELD} w-24`}
            />
            {isWrong ? (
              <span className="dense w-20 text-right font-medium text-stop">
                {spool.sheetMm === null ? 'no length' : 'no number'}
              </span>
            ) : (
              <span className={`dense w-20 text-right ${Math.abs(off) < 0.5 ? 'text-soft' : 'font-medium text-wait'}`}>
                {Math.abs(off) < 0.5
                  ? 'as it should'
                  : `${off < 0 ? '−' : '+'}${leftText({ leftMm: Math.abs(off), sheetMm: spool.sheetMm })}`}
              </span>
            )}
          </div>
        );
      })}
      {rows.length > 0 && (
        <Section title="Book">
          <p className="mb-2 text-soft">
            {counted(rows.length, 'spool')} counted, {changed === 0 ? 'no difference' : counted(changed, 'difference')}
            {unread > 0 && `, ${counted(unread, 'figure')} not understood`}.{' '}
            {missing > 0 && `${counted(missing, 'spool')} not counted: nothing is booked on them.`}
          </p>
          <div className="flex gap-1.5">
            <input
              aria-label="Reason of the differences"
              placeholder="such as: count of December"
              maxLength={160}
              value={reason}
              onChange={(event) => {
                setReason(event.target.value);
              }}
              className={`${FIELD} min-w-0 flex-1`}
            />
            <Button kind="main" disabled={reason.trim() === '' || unread > 0} onClick={book}>
              Book
            </Button>
          </div>
        </Section>
      )}
    </Sheet>
  );
}

function shown(spool: SpoolView, leftMm: number): string {
  const { value, unit } = leftFigure({ leftMm, sheetMm: spool.sheetMm });
  return spool.sheetMm === null ? `${value} ${unit}` : value;
}
