import { counted } from '../../ui/text/counted.ts';
import { alongText } from '../../ui/text/lengths.ts';
import { number } from '../../ui/text/number.ts';
import { Dialog } from '../../ui/Dialog.tsx';
import { turnedSize } from '../../../core/geometry/turn.ts';
import type { RunDetail } from '../../api/data.ts';
import { Button } from '../../ui/Button.tsx';
import type { Bench } from './state/useBench.ts';
import { type Layout, layoutOf } from './state/layoutState.ts';

/** Two people have laid out one run: both layouts to scale, and a choice. Nothing is lost before it is made. */
export function LayoutConflict({ run, bench }: { readonly run: RunDetail; readonly bench: Bench }) {
  const { conflict } = bench;
  if (!conflict) return null;
  const theirs = layoutOf(conflict);
  // One scale for both: which is longer must be seen.
  const endMm = Math.max(endOf(run, bench.layout), endOf(conflict, theirs), 1);
  return (
    <Dialog title={titleOf(conflict)} className="w-[760px] p-5">
      <p className="mt-1 text-soft">Yours is not saved yet. Look at both, and keep one of them.</p>
      <div className="mt-4 flex flex-col gap-4">
        <Side title="Yours" run={run} layout={bench.layout} endMm={endMm}>
          <Button kind="main" onClick={bench.keepMine}>
            Keep mine
          </Button>
        </Side>
        <Side title="Theirs" run={conflict} layout={theirs} endMm={endMm}>
          <Button onClick={bench.useTheirs}>Take theirs</Button>
        </Side>
      </div>
    </Dialog>
  );
}

function titleOf({ name, laidOutBy }: RunDetail): string {
  return laidOutBy === null
    ? `${name} has been laid out anew meanwhile`
    : `${laidOutBy} has laid out ${name} anew meanwhile`;
}

interface Laid {
  readonly id: string;
  /** From the edge of the media, and along the feed. */
  readonly xMm: number;
  readonly yMm: number;
  readonly widthMm: number;
  readonly heightMm: number;
}

function laidOf(run: RunDetail, layout: Layout): Laid[] {
  return run.pieces.flatMap(({ pieceId: id, ...piece }) => {
    const place = layout.places.get(id);
    if (!place) return [];
    const { widthMm, heightMm } = turnedSize(piece.widthMm, piece.heightMm, place.angleDeg);
    return [{ id, xMm: place.xMm + run.usableFromMm, yMm: place.yMm, widthMm, heightMm }];
  });
}

function endOf(run: RunDetail, layout: Layout): number {
  return Math.max(0, ...laidOf(run, layout).map(({ yMm, heightMm }) => yMm + heightMm));
}

interface SideProps {
  readonly title: string;
  readonly run: RunDetail;
  readonly layout: Layout;
  /** Length that is drawn. */
  readonly endMm: number;
  readonly children: React.ReactNode;
}

/** As on the Bench: the feed goes to the right, across the media is up. */
function Side({ title, run, layout, endMm, children }: SideProps) {
  const laid = laidOf(run, layout);
  const words = `${number(laid.length)} of ${counted(run.pieces.length, 'piece')} laid out, to ${alongText(endOf(run, layout))}`;
  return (
    <section aria-label={title}>
      <div className="mb-1 flex items-center gap-3">
        <h3 className="font-semibold">{title}</h3>
        <p className="dense flex-1 text-soft">{words}</p>
        {children}
      </div>
      <svg
        viewBox={`0 0 ${String(endMm)} ${String(run.mediaWidthMm)}`}
        className="max-h-[34vh] w-full rounded-md border border-rule bg-paper"
        role="img"
        aria-label={`${title}: ${words}`}
      >
        <rect
          width={endMm}
          height={run.mediaWidthMm}
          className="fill-card stroke-rule"
          vectorEffect="non-scaling-stroke"
        />
        {laid.map(({ id, xMm, yMm, widthMm, heightMm }) => (
          <rect
            key={id}
            x={yMm}
            y={run.mediaWidthMm - xMm - widthMm}
            width={heightMm}
            height={widthMm}
            className="fill-tide/20 stroke-tide"
            vectorEffect="non-scaling-stroke"
          />
        ))}
      </svg>
    </section>
  );
}
