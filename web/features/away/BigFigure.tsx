import type { ReactNode } from 'react';

interface BigFigureProps {
  readonly label: string;
  /** What goes with the figure, in small; left out: nothing. */
  readonly under?: ReactNode;
  /** What goes with it is bad news. */
  readonly stop?: boolean;
  readonly children: ReactNode;
}

/** A figure that matters, over what it counts. */
export function BigFigure({ label, under = '', stop = false, children }: BigFigureProps) {
  return (
    <div className="flex flex-col">
      <dt className="order-2 text-soft">{label}</dt>
      <dd className="order-1 text-xl font-semibold">{children}</dd>
      {under !== '' && <dd className={`dense order-3 ${stop ? 'text-stop' : 'text-soft'}`}>{under}</dd>}
    </div>
  );
}
