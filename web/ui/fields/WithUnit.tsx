import type { ReactNode } from 'react';
import { FieldError } from './FieldError.tsx';

/**
 * A field with its unit beside it and what is wrong with it below. A label beside it stands at the height of the field, not of
 * the error: a table's first line is its baseline.
 */
export function WithUnit({
  unit,
  unitClass = '',
  wrong,
  children,
}: {
  /** Left out: a plain number. */
  readonly unit?: string | undefined;
  /** Room for the unit, where others stand above and below it. */
  readonly unitClass?: string | undefined;
  readonly wrong: string | undefined;
  readonly children: ReactNode;
}) {
  return (
    <span className="inline-table">
      <span className="inline-flex items-baseline gap-1">
        {children}
        {unit !== undefined && <span className={`text-soft ${unitClass}`}>{unit}</span>}
      </span>
      <FieldError text={wrong} />
    </span>
  );
}
