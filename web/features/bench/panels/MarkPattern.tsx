import type { FieldPathByValue } from 'react-hook-form';
import type { MarkSettings } from '../../../../core/layout/marks/markSettings.ts';
import { TextInput } from '../../../ui/fields/TextInput.tsx';
import { useFormField } from '../../../ui/form/formFields.tsx';

/** What a mark says, as a pattern of words. */
export function MarkPattern({
  name,
  label,
  words,
}: {
  readonly name: FieldPathByValue<MarkSettings, string>;
  readonly label: string;
  /** The words that it may use. */
  readonly words: string;
}) {
  const [value, keep] = useFormField<string>(name);
  return (
    <div>
      <span className="text-soft" aria-hidden="true">
        {label}
      </span>
      <TextInput
        label={label}
        value={value}
        most={80}
        title={`Words: ${words}`}
        wanted="A mark that says nothing is switched off instead."
        onChange={keep}
      />
      <span className="dense block text-soft">{words}</span>
    </div>
  );
}
