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
