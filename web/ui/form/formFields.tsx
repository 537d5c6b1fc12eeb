import { type FieldPathByValue, type FieldValues, useController } from 'react-hook-form';
import { Checkbox } from '../fields/Checkbox.tsx';
import { LengthInput } from '../fields/LengthInput.tsx';
import { NumberInput } from '../fields/NumberInput.tsx';
import { type Choice, Select } from '../fields/Select.tsx';
import { TextInput } from '../fields/TextInput.tsx';
import { Row } from '../Sheet.tsx';
import { useKeep } from './SavedForm.tsx';

/** How many of the smallest unit make one of the money that is shown. */
const CENTS = 100;

export interface FieldOf<Name extends string> {
  readonly name: Name;
  readonly label: string;
  /** Without its label beside it: in a table, where the column says what it is. */
  readonly bare?: boolean;
}

/** The fields of a SavedForm over `T`: each knows by its name where its value is, and says so to the compiler. */
export function formFields<T extends FieldValues>() {
  return {
    Text: TextField<FieldPathByValue<T, string>>,
    Number: NumberField<FieldPathByValue<T, number>>,
    Length: LengthField<FieldPathByValue<T, number>>,
    OptionalLength: OptionalLengthField<FieldPathByValue<T, number | null>>,
    Check: CheckField<FieldPathByValue<T, boolean>>,
    Select: SelectField<FieldPathByValue<T, string>, string>,
  };
}

/** One field of the SavedForm around it, for controls of another kind. */
export function useFormField<V>(name: string): readonly [value: V, keep: (value: V) => void] {
  const { field } = useController({ name });
  const keep = useKeep();
  return [
    field.value as V,
    (value) => {
      keep(name, value);
    },
  ];
}

/** Units stand below each other, however long they are. */
const UNIT = 'inline-block w-10 text-left';

function inRow(field: React.ReactNode, label: string, bare: boolean): React.ReactNode {
  if (bare) return field;
  return <Row label={label}>{field}</Row>;
}

function TextField<Name extends string>({
  name,
  label,
  bare = false,
  ...how
}: FieldOf<Name> & { readonly most?: number; readonly wanted?: string; readonly className?: string }) {
  const [value, onChange] = useFormField<string>(name);
  return inRow(<TextInput label={label} className="w-44" {...how} value={value} onChange={onChange} />, label, bare);
}

function NumberField<Name extends string>({
  name,
  label,
  bare = false,
  unit = '',
  per,
  ...how
}: FieldOf<Name> & {
  readonly unit?: string;
  /** How many of what is kept make one of what is shown: 100 cents, or a hundredth. */
  readonly per?: number;
  readonly least?: number;
  readonly most?: number;
  readonly whole?: boolean;
}) {
  const [kept, keep] = useFormField<number>(name);
  const tidy = (value: number): number => Math.round(value * 1e6) / 1e6;
  const field = (
    <NumberInput
      label={label}
      {...how}
      {...(per === CENTS ? { digits: 2 } : {})}
      {...(bare ? {} : { unit, unitClass: UNIT })}
      className={bare ? 'w-16' : 'w-24'}
      value={per === undefined ? kept : tidy(kept / per)}
      onChange={(value) => {
        keep(per === undefined ? value : per >= 1 ? Math.round(value * per) : tidy(value * per));
      }}
    />
  );
  return inRow(field, label, bare);
}

export interface LengthRange {
  readonly leastMm?: number;
  readonly mostMm?: number;
}

/** A length that must be there; what is cleared comes back. */
function LengthField<Name extends string>({ name, label, bare = false, ...how }: FieldOf<Name> & LengthRange) {
  const [valueMm, keep] = useFormField<number>(name);
  const field = (
    <LengthInput
      label={label}
      {...how}
      unitClass={bare ? '' : UNIT}
      valueMm={valueMm}
      onChange={(mm) => {
        if (mm !== null) keep(mm);
      }}
    />
  );
  return inRow(field, label, bare);
}

function OptionalLengthField<Name extends string>({
  name,
  label,
  bare = false,
  ...how
}: FieldOf<Name> & LengthRange & { readonly empty: string }) {
  const [valueMm, keep] = useFormField<number | null>(name);
  return inRow(
    <LengthInput label={label} {...how} unitClass={bare ? '' : UNIT} valueMm={valueMm} onChange={keep} />,
    label,
    bare,
  );
}

function CheckField<Name extends string>({ name, label, bare = false }: FieldOf<Name>) {
  const [value, onChange] = useFormField<boolean>(name);
  return inRow(<Checkbox label={label} value={value} onChange={onChange} />, label, bare);
}

function SelectField<Name extends string, V extends string>({
  name,
  label,
  bare = false,
  spoken = label,
  choices,
}: FieldOf<Name> & {
  /** The name for a screen reader, where the label beside it needs its neighbours to be understood. */
  readonly spoken?: string;
  readonly choices: readonly (V | Choice<V>)[];
}) {
  const [value, onChange] = useFormField<V>(name);
  const field = <Select label={spoken} value={value} choices={choices} className="" onChange={onChange} />;
  return inRow(field, label, bare);
}
