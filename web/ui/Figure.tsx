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

const formats = new Map<string, Intl.NumberFormat>();

/** Kept, because making a format costs more than a thousand uses of it. */
function formatOf(least: number, most: number): Intl.NumberFormat {
  const key = `${least}-${most}`;
  let format = formats.get(key);
  if (!format) {
    format = new Intl.NumberFormat('en-GB', { minimumFractionDigits: least, maximumFractionDigits: most });
    formats.set(key, format);
  }
  return format;
}

/** A number with thousands apart and a fixed count of digits behind the point. What rounds to nothing has no sign. */
export function number(value: number, digits = 0): string {
  const rounded = Math.abs(value) < 0.5 * 10 ** -digits ? 0 : value;
  return formatOf(digits, digits).format(rounded);
}

/** Metres with two digits, or millimetres below one metre. */
export function lengthFigure(mm: number): { readonly value: string; readonly unit: string } {
  return Math.abs(mm) >= 1000 ? { value: number(mm / 1000, 2), unit: 'm' } : { value: number(mm), unit: 'mm' };
}

/** Width × height with a digit behind the point where there is one (mm). */
export function sizeText(widthMm: number, heightMm: number): string {
  const format = formatOf(0, 1);
  return `${format.format(widthMm)} × ${format.format(heightMm)}`;
}
