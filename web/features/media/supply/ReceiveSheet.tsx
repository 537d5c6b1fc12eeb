import { alongText } from '../../../ui/text/lengths.ts';
import { useForm } from 'react-hook-form';
import { errorText, sendJson } from '../../../api/client.ts';
import { type SpoolView, useStocks } from '../../../api/data.ts';
import { Button } from '../../../ui/Button.tsx';
import { FieldError } from '../../../ui/fields/FieldError.tsx';
import { FIELD } from '../../../ui/fields/look.ts';
import { Row, Sheet } from '../../../ui/Sheet.tsx';
import { amountOf } from '../SpoolSheet.tsx';
import { ImportList } from './ImportList.tsx';

function sameCode(a: string, b: string): boolean {
  return a.toLowerCase() === b.toLowerCase();
}

/** A roll or a pack that has come in. */
export function ReceiveSheet({ onClose }: { readonly onClose: (id?: string) => void }) {
  const { data: stocks = [] } = useStocks();
  const { register, handleSubmit, watch, setError, setValue, setFocus, getValues, formState } = useForm({
    defaultValues: { code: '', stockId: '', label: '', lot: '', amount: '', place: 'rack' },
  });
  const { errors, isSubmitting } = formState;
  const stockOf = (id: string) => stocks.find((each) => each.id === id);
  const inSheets = stockOf(watch('stockId'))?.sheetMm != null;
  const wanted = inSheets
    ? 'How many sheets? A whole number, such as 100.'
    : `How long is it? Such as ${alongText(50_000, 0)}.`;
  const code = watch('code').trim();
  const ofCode = code === '' ? undefined : stocks.find(({ codes }) => codes.some((each) => sameCode(each, code)));
  /** What is known by the code is filled in: its stock, and the length of a pack. */
  const takeCode = (): void => {
    if (!ofCode) return;
    setValue('stockId', ofCode.id, { shouldValidate: true });
    if (getValues('amount') === '' && ofCode.packMm !== null)
      setValue(
        'amount',
        ofCode.sheetMm === null ? alongText(ofCode.packMm) : String(Math.round(ofCode.packMm / ofCode.sheetMm)),
      );
  };
  const receive = handleSubmit(async ({ amount, stockId, code: scanned, ...spool }) => {
    const stock = stockOf(stockId);
    try {
      const lengthMm = stock && amountOf(amount, stock);
      const made = await sendJson<SpoolView>('POST', '/api/spools', {
        ...{ ...spool, stockId, lengthMm },
        ...(scanned.trim() === '' ? {} : { code: scanned.trim() }),
      });
      onClose(made.id);
    } catch (error) {
      setError('root', { message: errorText(error) });
    }
  });
  const field = `${FIELD} w-40`;
  const trimmed = { setValueAs: (text: string) => text.trim() };
  return (
    <Sheet
      title="Receive media"
      onClose={() => {
        onClose();
      }}
    >
      <form
        onSubmit={(event) => {
          void receive(event);
        }}
      >
        <Row label="Code">
          <input
            aria-label="Code on the carton"
            placeholder="scan it, or leave it"
            maxLength={60}
            autoFocus
            {...register('code')}
            onKeyDown={(event) => {
              if (event.key !== 'Enter') return;
              // A scanner presses it behind the code: the label comes next.
              event.preventDefault();
              takeCode();
              if (ofCode) setFocus('label');
            }}
            onBlur={takeCode}
            className={field}
          />
          {code !== '' && !ofCode && (
            <p className="mt-1 text-soft">No stock has this code yet: say which it is, and it is remembered.</p>
          )}
        </Row>
        <Row label="Stock">
          <select
            aria-label="Stock"
            {...register('stockId', { required: 'Say which stock it is.' })}
            aria-invalid={errors.stockId !== undefined}
            className={`${field} px-1!`}
          >
            <option value="" disabled>
              which?
            </option>
            {stocks.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </select>
          <FieldError text={errors.stockId?.message} />
        </Row>
        <Row label="Label">
          <input
            aria-label="Label"
            placeholder="SP-47"
            maxLength={40}
            {...register('label', { ...trimmed, required: 'Give it a label, so that it can be found again.' })}
            aria-invalid={errors.label !== undefined}
            className={field}
          />
          <FieldError text={errors.label?.message} />
        </Row>
        <Row label="Lot">
          <input aria-label="Lot" maxLength={60} {...register('lot', trimmed)} className={field} />
        </Row>
        <Row label={inSheets ? 'Sheets' : 'Length'}>
          <input
            aria-label="Amount received"
            placeholder={inSheets ? '100' : alongText(50_000, 0)}
            {...register('amount', {
              validate: (text, { stockId }) => {
                const stock = stockOf(stockId);
                return (stock !== undefined && (amountOf(text, stock) ?? 0) > 0) || wanted;
              },
            })}
            aria-invalid={errors.amount !== undefined}
            className={field}
          />
          <FieldError text={errors.amount?.message} />
        </Row>
        <Row label="Stands">
          <input aria-label="Stands" maxLength={60} {...register('place', trimmed)} className={field} />
        </Row>
        <FieldError text={errors.root?.message} />
        <Button type="submit" kind="main" className="mt-3 w-full" disabled={isSubmitting}>
          Add to the rack
        </Button>
      </form>
      <div className="mt-5">
        <ImportList onDone={onClose} />
      </div>
    </Sheet>
  );
}
