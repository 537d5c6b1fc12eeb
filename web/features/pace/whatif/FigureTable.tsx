import type { ReactNode } from 'react';

/** Figures as they were, as they would be, and what that saves. */
export function FigureTable({
  label,
  was,
  children,
}: {
  readonly label: string;
  /** What the first column of figures is called. */
  readonly was: string;
  readonly children: ReactNode;
}) {
  return (
    <table className="w-full max-w-xl" aria-label={label}>
      <thead>
        <tr className="text-left text-soft">
          <th className="py-1 font-normal">Figure</th>
          <th className="py-1 text-right font-normal">{was}</th>
          <th className="py-1 text-right font-normal">otherwise</th>
          <th className="py-1 text-right font-normal">saved</th>
        </tr>
      </thead>
      <tbody>{children}</tbody>
    </table>
  );
}

export function FigureLine({
  name,
  was,
  would,
  children,
}: {
  readonly name: string;
  readonly was: string;
  readonly would: string;
  readonly children: ReactNode;
}) {
  return (
    <tr className="border-t border-rule">
      <th className="py-1 text-left font-normal">{name}</th>
      <td className="py-1 text-right text-soft">{was}</td>
      <td className="py-1 text-right font-medium">{would}</td>
      <td className="py-1 text-right">{children}</td>
    </tr>
  );
}

/** A saving, or what it would take more, with its sign. */
export function signed(value: number, text: (amount: number) => string, least: number): string {
  if (Math.abs(value) < least) return text(0);
  return `${value < 0 ? '−' : ''}${text(Math.abs(value))}`;
}
