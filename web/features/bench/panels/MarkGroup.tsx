import type { ReactNode } from 'react';
import type { FieldPathByValue } from 'react-hook-form';
import type { MarkSettings } from '../../../../core/layout/marks/markSettings.ts';
import { Checkbox } from '../../../ui/fields/Checkbox.tsx';
import { formFields, useFormField } from '../../../ui/form/formFields.tsx';

/** The fields of the form over the marks of a run. */
export const MarkField = formFields<MarkSettings>();

/** One kind of mark: on or off, and what it is like while it is on. */
export function MarkGroup({
  title,
  kind,
  children,
}: {
  readonly title: string;
  readonly kind: keyof MarkSettings;
  readonly children: ReactNode;
}) {
  const [on, keep] = useFormField<boolean>(`${kind}.on` satisfies FieldPathByValue<MarkSettings, boolean>);
  return (
    <div className="mb-1">
      <label className="flex items-center justify-between py-0.5">
        <span className={on ? 'font-medium' : 'text-soft'}>{title}</span>
        <Checkbox value={on} onChange={keep} />
      </label>
      {on && <div className="mb-2 flex flex-col gap-1 border-l-2 border-rule pl-3">{children}</div>}
    </div>
  );
}
