import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { turnedSize } from '../../../core/geometry/turn.ts';
import type { RunDetail } from '../../api/data.ts';
import { Button } from '../../ui/Button.tsx';
import { number } from '../../ui/Figure.tsx';
import type { Bench } from './useBench.ts';
import { type Layout, layoutOf } from './layoutState.ts';

/** Two people have laid out one run: both layouts to scale, and a choice. Nothing is lost before it is made. */
export function LayoutConflict({ run, bench }: { readonly run: RunDetail; readonly bench: Bench }) {
  const { conflict } = bench;
  if (!conflict) return null;
  const theirs = layoutOf(conflict);
  return (
    <Dialog
      open
      // It stands until one of the two is chosen.
      onClose={() => undefined}
      className="relative z-40"
    >
      <div className="fixed inset-0 bg-black/30" aria-hidden="true" />
      <div className="fixed inset-0 flex items-center justify-center p-4">
        <DialogPanel className="max-h-full w-[760px] max-w-full overflow-auto rounded-lg border border-rule bg-card p-5 shadow-xl">
          <DialogTitle className="text-lg font-semibold">{run.name} has been laid out anew meanwhile</DialogTitle>
          <p className="mt-1 text-soft">Yours is not saved yet. Look at both, and keep one of them.</p>
          <div className="mt-4 grid grid-cols-2 gap-4">
            <Side title="Yours" run={run} layout={bench.layout}>
              <Button kind="main" onClick={bench.keepMine}>
                Keep mine
              </Button>
            </Side>
            <Side title="Theirs" run={conflict} layout={theirs}>
              <Button onClick={bench.takeTheirs}>Take theirs</Button>
            </Side>
          </div>
        </DialogPanel>
      </div>
    </Dialog>
  );
}

function Side({
  title,
  run,
  layout,
  children,
}: {
  readonly title: string;
  readonly run: RunDetail;
  readonly layout: Layout;
  readonly children: React.ReactNode;
}) {
  const laid = run.pieces.flatMap((piece) => {
    const place = layout.places.get(piece.pieceId);
    if (!place) return [];
    const { widthMm, heightMm } = turnedSize(piece.widthMm, piece.heightMm, place.angleDeg);
    return [{ id: piece.pieceId, x: place.xMm + run.usableFromMm, y: place.yMm, w: widthMm, h: heightMm }];
  });
  const endMm = Math.max(1, ...laid.map(({ y, h }) => y + h));
  return (
    <section aria-label={title}>
      <h3 className="font-semibold">{title}</h3>
      <p className="dense mb-1 text-soft">
        {laid.length} of {run.pieces.length} pieces laid out, to {number(endMm / 1000, 2)} m
      </p>
      <svg
        viewBox={`0 0 ${String(run.mediaWidthMm)} ${String(endMm)}`}
        className="mb-3 h-56 w-full rounded-md border border-rule bg-paper"
        role="img"
        aria-label={`${title}: ${String(laid.length)} pieces to ${number(endMm / 1000, 2)} m`}
      >
        <rect
          width={run.mediaWidthMm}
          height={endMm}
          className="fill-card stroke-rule"
          vectorEffect="non-scaling-stroke"
        />
        {laid.map(({ id, x, y, w, h }) => (
          <rect
            key={id}
            x={x}
            y={y}
            width={w}
            height={h}
            className="fill-tide/20 stroke-tide"
            vectorEffect="non-scaling-stroke"
          />
        ))}
      </svg>
      {children}
    </section>
  );
}
