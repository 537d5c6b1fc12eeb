import { NumberInput } from './NumberInput.tsx';

/** An amount in the shop's currency, typed with or without decimals, kept in its smallest unit. */
export function MoneyInput({
  label,
  minor,
  placeholder,
  onChange,
}: {
  readonly label: string;
  /** Undefined: mixed. */
  readonly minor: number | undefined;
  /** What stands there while there is none. */
  readonly placeholder?: string;
  readonly onChange: (minor: number) => void;
}) {
  return (
    <NumberInput
      label={label}
      value={minor === undefined ? undefined : minor / 100}
      digits={2}
      {...(placeholder === undefined ? {} : { placeholder })}
      className="w-28 tabular-nums"
      onChange={(value) => {
        onChange(Math.round(value * 100));
      }}
    />
  );
}
