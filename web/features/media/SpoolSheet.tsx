import { Figure } from '../../ui/Figure.tsx';
import { acrossText, alongText, alongUnit } from '../../ui/text/lengths.ts';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { Link } from 'react-router';
import useSWR from 'swr';
import type { SpoolDetail } from '../../../contract/api/media/media.ts';
import { parseLength } from '../../../core/units/length.ts';
import { errorText, sendJson } from '../../api/client.ts';
import type { Printer, SpoolView } from '../../api/data.ts';
import { useNotice } from '../../app/notice.tsx';
import { clockText, useShopNow, useZone } from '../../app/shopTime.ts';
import { SpoolSign } from '../../draw/SpoolSign.tsx';
import { leftFigure, leftText } from '../../media/spoolText.ts';
import { Button } from '../../ui/Button.tsx';
import { FieldError } from '../../ui/fields/FieldError.tsx';
import { FIELD } from '../../ui/fields/look.ts';
import { Row, Section, Sheet } from '../../ui/Sheet.tsx';
import { LabelButton } from './LabelButton.tsx';
import { May } from '../../people/May.tsx';

const KINDS: Record<string, string> = {
  received: 'received',
  leader: 'leader',
  run: 'printed',
  purge: 'purge',
  trim: 'cut off',
  correction: 'correction',
  scrapped: 'thrown away',
};

/** One spool: what it is, everything that was ever taken from it, and putting it right. */
export function SpoolSheet({
  spool,
  printers,
  onClose,
}: {
  readonly spool: SpoolView;
  readonly printers: readonly Printer[];
  readonly onClose: () => void;
}) {
  // Read anew whenever its length changes: the ledger has a line more then.
  const { data, error } = useSWR<SpoolDetail, Error>(
    `/api/spools/${spool.id}?left=${String(Math.round(spool.leftMm))}`,
  );
  const { tell } = useNotice();
  const now = useShopNow(30_000) ?? 0;
  const zone = useZone();
  const left = leftFigure(spool);
  const printer = printers.find(({ id }) => id === spool.printerId);
  const source = printer?.config.sources.find(({ id }) => id === spool.sourceId);
  const act = (step: string): void => {
    sendJson('POST', `/api/spools/${spool.id}/${step}`).catch(tell);
  };
  return (
    <Sheet title={spool.label} under={<p className="text-soft">{spool.stockName}</p>} onClose={onClose} wide>
      <div className="mb-4 flex items-center gap-4">
        <SpoolSign {...spool} size={92} label={`${spool.label} at scale`} />
        <div>
          <p>
            <Figure large value={left.value} unit={left.unit} />
          </p>
          <p className="text-soft">
            left of {leftFigure({ leftMm: spool.receivedMm, sheetMm: spool.sheetMm }).value}{' '}
            {leftFigure({ leftMm: spool.receivedMm, sheetMm: spool.sheetMm }).unit}
          </p>
          {spool.takenMm > 0 && (
            <p className="text-soft">
              {leftText({ leftMm: spool.leftMm - spool.takenMm, sheetMm: spool.sheetMm })} once its run is printed
            </p>
          )}
        </div>
      </div>
      <Section title="Place and lot">
        <Row label="Stands">{printer ? `${printer.name}, ${source?.name ?? ''}` : spool.place}</Row>
        <Row label="Width">{acrossText(spool.widthMm)}</Row>
        <Row label="Lot">{spool.lot === '' ? 'not said' : spool.lot}</Row>
        {spool.takeUp && (
          <Row label="Take-up">
            {spool.takeUp.winding}, {spool.takeUp.tension}
          </Row>
        )}
        <div className="mt-2 flex flex-wrap gap-2">
          {printer ? (
            <>
              <May right="operate">
                <Button
                  onClick={() => {
                    act('unload');
                  }}
                >
                  Take out
                </Button>
              </May>
              <Link to={`/media?printer=${printer.id}`} className="self-center text-tide underline">
                Sources of {printer.name}
              </Link>
            </>
          ) : (
            <May right="coordinate">
              <Button
                onClick={() => {
                  act('retire');
                  onClose();
                }}
              >
                Used up or thrown away
              </Button>
            </May>
          )}
          <May right="coordinate">
            <LabelButton spoolIds={[spool.id]} text="Label" />
          </May>
          <Link to={`/story/spool/${spool.id}`} className="self-center text-tide underline">
            Its story
          </Link>
        </div>
      </Section>
      <May right="coordinate">
        <Correct spool={spool} />
        {spool.sheetMm === null && <Offcut spool={spool} />}
      </May>
      <Section title="Ledger">
        {error && <p className="text-stop">{errorText(error)}</p>}
        {(data?.ledger ?? []).map((entry, i) => (
          <div key={i} className="flex items-baseline justify-between gap-2 py-0.5">
            <span className="min-w-0">
              <span className="text-soft">{clockText(entry.atMs, now, zone)}</span> {KINDS[entry.kind] ?? entry.kind}
              {entry.runName === null ? '' : ` ${entry.runName}`}
              {entry.reason !== null && <span className="text-soft">, {entry.reason}</span>}
            </span>
            <span className="shrink-0">
              {entry.mm > 0 ? '+' : '−'}
              {leftFigure({ leftMm: Math.abs(entry.mm), sheetMm: spool.sheetMm }).value}{' '}
              <span className="text-soft">{left.unit}</span>
            </span>
          </div>
        ))}
      </Section>
    </Sheet>
  );
}

/** What is really on it; the ledger gets a line that says why. */
function Correct({ spool }: { readonly spool: SpoolView }) {
  const { register, handleSubmit, reset, setError, formState } = useForm({ defaultValues: { left: '', reason: '' } });
  const { errors, isSubmitting } = formState;
  const correct = handleSubmit(async ({ left, reason }) => {
    try {
      await sendJson('POST', `/api/spools/${spool.id}/correct`, { leftMm: amountOf(left, spool), reason });
      reset();
    } catch (error) {
      setError('root', { message: errorText(error) });
    }
  });
  const inSheets = spool.sheetMm !== null;
  return (
    <Section title="Correct what is left">
      <form
        onSubmit={(event) => {
          void correct(event);
        }}
      >
        <div className="flex flex-wrap gap-1.5">
          <input
            aria-label="Length as measured"
            placeholder={inSheets ? 'sheets really left' : `really left, ${alongText(21_500, 1)}`}
            {...register('left', {
              validate: (text) =>
                amountOf(text, spool) !== undefined || `Not ${inSheets ? 'a number of sheets' : 'a length'}.`,
            })}
            aria-invalid={errors.left !== undefined}
            className={`${FIELD} w-36`}
          />
          <input
            aria-label="Reason"
            placeholder="because"
            maxLength={200}
            {...register('reason', {
              setValueAs: (text: string) => text.trim(),
              required: 'Say why: the ledger keeps it.',
            })}
            aria-invalid={errors.reason !== undefined}
            className={`${FIELD} min-w-0 flex-1`}
          />
          <Button type="submit" disabled={isSubmitting}>
            Correct
          </Button>
        </div>
        <FieldError text={errors.left?.message ?? errors.reason?.message ?? errors.root?.message} />
      </form>
    </Section>
  );
}

/**
 * What somebody typed as an amount of a stock (mm): a length of a roll, or a whole number of sheets. Undefined:
 * neither.
 */
export function amountOf(text: string, { sheetMm }: Pick<SpoolView, 'sheetMm'>): number | undefined {
  if (text.trim() === '') return undefined;
  if (sheetMm !== null) {
    const sheets = Number(text);
    return Number.isInteger(sheets) && sheets >= 0 ? sheets * sheetMm : undefined;
  }
  const parsed = parseLength(text, alongUnit());
  return parsed.ok && parsed.value >= 0 ? parsed.value : undefined;
}

/** A usable remainder becomes a spool of its own. */
function Offcut({ spool }: { readonly spool: SpoolView }) {
  const { tell, say } = useNotice();
  const [text, setText] = useState('');
  const lengthMm = amountOf(text, spool);
  const label = `${spool.label}-${String(Math.round((lengthMm ?? 0) / 100) / 10)}`;
  return (
    <Section title="Cut an offcut">
      <div className="flex gap-1.5">
        <input
          aria-label="Length of the offcut"
          placeholder="2.4 m"
          value={text}
          onChange={(event) => {
            setText(event.target.value);
          }}
          className={`${FIELD} w-28`}
        />
        <Button
          disabled={lengthMm === undefined || lengthMm <= 0}
          onClick={() => {
            sendJson('POST', `/api/spools/${spool.id}/offcut`, { lengthMm, label })
              .then(() => {
                setText('');
                say(`${label} stands on the rack`);
              })
              .catch(tell);
          }}
        >
          {lengthMm === undefined ? 'Cut off' : `Cut off as ${label}`}
        </Button>
      </div>
    </Section>
  );
}
