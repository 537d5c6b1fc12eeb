import { Plus, X } from 'lucide-react';
import { useForm } from 'react-hook-form';
import { FieldError } from '../ui/fields/FieldError.tsx';
import { FIELD } from '../ui/fields/look.ts';
import { IconButton } from '../ui/IconButton.tsx';

interface Charge {
  readonly text: string;
  readonly minor: number;
}

/** What a customer pays beside the print: a word and an amount each. */
export function ChargesField({
  charges,
  onChange,
}: {
  readonly charges: readonly Charge[];
  readonly onChange: (charges: Charge[]) => void;
}) {
  const { register, handleSubmit, reset, formState } = useForm({ defaultValues: { text: '', amount: '' } });
  const { text: textError, amount: amountError } = formState.errors;
  // Not a form of its own: it stands within others.
  const add = (): void => {
    void handleSubmit(({ text, amount }) => {
      onChange([...charges, { text, minor: minorOf(amount) }]);
      reset();
    })();
  };
  return (
    <div>
      {charges.map((charge, index) => (
        <p key={`${charge.text}-${String(index)}`} className="flex items-center justify-between gap-2">
          <span className="truncate">{charge.text}</span>
          <span className="flex items-center gap-1">
            {(charge.minor / 100).toFixed(2)}
            <button
              type="button"
              aria-label={`Take ${charge.text} off`}
              className="rounded p-0.5 text-soft hover:bg-rule/60 hover:text-ink"
              onClick={() => {
                onChange(charges.filter((_, at) => at !== index));
              }}
            >
              <X size={13} aria-hidden="true" />
            </button>
          </span>
        </p>
      ))}
      <span className="flex items-center gap-1">
        <input
          aria-label="Charge for"
          placeholder="for"
          maxLength={200}
          {...register('text', { setValueAs: (text: string) => text.trim(), required: 'Say what it is for.' })}
          aria-invalid={textError !== undefined}
          className={`${FIELD} w-full min-w-0`}
        />
        <input
          aria-label="Amount"
          placeholder="0.00"
          inputMode="decimal"
          {...register('amount', {
            validate: (amount) => Number.isFinite(minorOf(amount)) || 'How much? Such as 12.50.',
          })}
          aria-invalid={amountError !== undefined}
          className={`${FIELD} w-16 text-right`}
          onKeyDown={(event) => {
            if (event.key === 'Enter') add();
          }}
        />
        <IconButton label="Add the charge" onClick={add}>
          <Plus size={15} aria-hidden="true" />
        </IconButton>
      </span>
      <FieldError text={textError?.message ?? amountError?.message} />
    </div>
  );
}

function minorOf(amount: string): number {
  return amount.trim() === '' ? NaN : Math.round(Number(amount.replace(',', '.')) * 100);
}
