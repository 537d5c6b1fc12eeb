import { Plus, X } from 'lucide-react';
import { useState } from 'react';

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
  const [text, setText] = useState('');
  const [amount, setAmount] = useState('');
  const minor = Math.round(Number(amount.replace(',', '.')) * 100);
  const fine = text.trim() !== '' && amount.trim() !== '' && Number.isFinite(minor);
  const add = (): void => {
    if (!fine) return;
    onChange([...charges, { text: text.trim(), minor }]);
    setText('');
    setAmount('');
  };
  const field = 'h-7 rounded border border-rule bg-card px-2';
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
          value={text}
          maxLength={200}
          className={`${field} w-full min-w-0`}
          onChange={(event) => {
            setText(event.target.value);
          }}
        />
        <input
          aria-label="Amount"
          placeholder="0.00"
          inputMode="decimal"
          value={amount}
          className={`${field} w-16 text-right`}
          onChange={(event) => {
            setAmount(event.target.value);
          }}
          onKeyDown={(event) => {
            if (event.key === 'Enter') add();
          }}
        />
        <button
          type="button"
          aria-label="Add the charge"
          disabled={!fine}
          onClick={add}
          className="rounded p-1 text-tide disabled:opacity-40"
        >
          <Plus size={15} aria-hidden="true" />
        </button>
      </span>
    </div>
  );
}
