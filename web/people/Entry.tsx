import { useId } from 'react';
import { type FieldPath, type FieldValues, type RegisterOptions, useFormContext } from 'react-hook-form';
import { FieldError } from '../ui/fields/FieldError.tsx';
import { FIELD } from '../ui/fields/look.ts';

interface EntryProps<T extends FieldValues> {
  readonly name: FieldPath<T>;
  readonly label: string;
  readonly type?: 'text' | 'password' | 'email';
  /** Told to the browser, so that its keeper of passwords can help. */
  readonly autoComplete: string;
  readonly hint?: string;
  readonly rules?: RegisterOptions<T, FieldPath<T>>;
  readonly focus?: boolean;
  readonly className?: string;
}

/** A field of a form around it that is sent as a whole, with its name above it and what is wrong with it below. */
export function Entry<T extends FieldValues>({
  name,
  label,
  type = 'text',
  autoComplete,
  hint,
  rules = {},
  focus = false,
  className = '',
}: EntryProps<T>) {
  const { register, formState } = useFormContext<T>();
  const id = useId();
  const wrong = formState.errors[name]?.message;
  return (
    <div className={className}>
      <label htmlFor={id} className="mb-0.5 block">
        {label}
      </label>
      <input
        id={id}
        type={type}
        autoComplete={autoComplete}
        autoFocus={focus}
        spellCheck={false}
        autoCapitalize="none"
        aria-invalid={wrong !== undefined}
        aria-describedby={`${id}-hint`}
        {...register(name, rules)}
        className={`${FIELD} h-9 w-full`}
      />
      <span id={`${id}-hint`}>
        {hint !== undefined && wrong === undefined && <span className="dense text-soft">{hint}</span>}
        <FieldError text={typeof wrong === 'string' ? wrong : undefined} />
      </span>
    </div>
  );
}

/** It must say something. */
export const wanted = (what: string): { readonly required: string } => ({ required: `Say ${what}.` });
