/** A figure with its unit in the second colour. */
export function Figure({
  value,
  unit,
  large = false,
}: {
  readonly value: string;
  readonly unit: string;
  readonly large?: boolean;
}) {
  return (
    <span className="whitespace-nowrap">
      <span className={large ? 'text-xl font-semibold' : ''}>{value}</span>
      <span className="text-soft"> {unit}</span>
    </span>
  );
}

export function number(value: number, digits = 0): string {
  return value.toLocaleString('en-GB', { minimumFractionDigits: digits, maximumFractionDigits: digits });
}

/** Metres with two digits, or millimetres below one metre. */
export function lengthFigure(mm: number): { readonly value: string; readonly unit: string } {
  return Math.abs(mm) >= 1000 ? { value: number(mm / 1000, 2), unit: 'm' } : { value: number(mm), unit: 'mm' };
}

export function sizeText(widthMm: number, heightMm: number): string {
  const text = (mm: number): string => mm.toLocaleString('en-GB', { maximumFractionDigits: 1 });
  return `${text(widthMm)} × ${text(heightMm)}`;
}
