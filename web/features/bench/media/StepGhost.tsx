import { useEffect, useRef } from 'react';
import { piecesThatFit } from '../../../../core/layout/arrange/stepAndRepeat.ts';
import { type Step, stepRects } from '../state/useStep.ts';

const HANDLE_PX = 11;

interface Pull {
  readonly what: 'columns' | 'length';
  readonly x: number;
  readonly y: number;
  readonly fromMm: number;
  /** A pixel in millimetres when it began: the drawing may shrink meanwhile. */
  readonly pxMm: number;
}

/**
 * The rows as they would be laid, with two handles: the one at their end pulls them longer, the one at their side takes more
 * or fewer columns. The fields beside the media do the same by keyboard.
 * @param px a pixel in millimetres
 */
export function StepGhost({ step, px }: { readonly step: Step; readonly px: number }) {
  const pull = useRef<Pull>(undefined);
  const latest = useRef({ step });
  useEffect(() => {
    latest.current = { step };
  });
  useEffect(() => {
    const onMove = (event: PointerEvent): void => {
      const p = pull.current;
      if (!p) return;
      const { step: s } = latest.current;
      const mm = p.pxMm;
      // On the screen the feed runs to the right and the right edge of the media is up.
      if (p.what === 'length') {
        const most = Math.max(s.piece.heightMm, p.fromMm + (event.clientX - p.x) * mm);
        s.choose({ lengthMm: Math.round(most * 10) / 10 });
      } else {
        const room = Math.min(s.roomMm, p.fromMm - (event.clientY - p.y) * mm);
        const columns = Math.max(1, piecesThatFit(room + s.piece.widthMm / 2, s.piece.widthMm, s.choice.gapXMm));
        s.choose({ columns: columns >= piecesThatFit(s.roomMm, s.piece.widthMm, s.choice.gapXMm) ? null : columns });
      }
    };
    const onUp = (): void => {
      pull.current = undefined;
    };
    window.addEventListener('pointermove', onMove);
    window.addEventListener('pointerup', onUp);
    return () => {
      window.removeEventListener('pointermove', onMove);
      window.removeEventListener('pointerup', onUp);
    };
  }, []);
  if (!step.stepped) return null;
  const rects = stepRects(step);
  const path = rects
    .map(({ xMm, yMm, widthMm, heightMm }) => `M${xMm} ${yMm}h${widthMm}v${heightMm}h${-widthMm}z`)
    .join('');
  const right = Math.max(...rects.map(({ xMm, widthMm }) => xMm + widthMm));
  const { leftMm, leadMm } = step.space;
  const { extentMm } = step.stepped;
  const begin = (what: Pull['what'], fromMm: number, event: React.PointerEvent): void => {
    event.preventDefault();
    event.stopPropagation();
    pull.current = { what, x: event.clientX, y: event.clientY, fromMm, pxMm: px };
  };
  return (
    <g data-testid="step-ghost" data-count={rects.length}>
      <path d={path} fill="#0E6A6B" fillOpacity={0.12} pointerEvents="none" />
      <path
        d={path}
        fill="none"
        stroke="#0E6A6B"
        strokeWidth={1.5}
        strokeDasharray="5 3"
        vectorEffect="non-scaling-stroke"
        pointerEvents="none"
      />
      {step.canFill && (
        <Handle
          name="Pull to fill a length"
          xMm={(leftMm + right) / 2}
          yMm={leadMm + extentMm}
          px={px}
          cursor="ew-resize"
          onPointerDown={(event) => {
            begin('length', extentMm, event);
          }}
        />
      )}
      <Handle
        name="Pull for more or fewer columns"
        xMm={right}
        yMm={leadMm + extentMm / 2}
        px={px}
        cursor="ns-resize"
        onPointerDown={(event) => {
          begin('columns', right - leftMm, event);
        }}
      />
    </g>
  );
}

function Handle({
  name,
  xMm,
  yMm,
  px,
  cursor,
  onPointerDown,
}: {
  readonly name: string;
  readonly xMm: number;
  readonly yMm: number;
  readonly px: number;
  readonly cursor: string;
  readonly onPointerDown: (event: React.PointerEvent) => void;
}) {
  const size = HANDLE_PX * px;
  return (
    <rect
      aria-label={name}
      x={xMm - size / 2}
      y={yMm - size / 2}
      width={size}
      height={size}
      fill="#F2B90C"
      stroke="#23211C"
      strokeWidth={1.5}
      vectorEffect="non-scaling-stroke"
      style={{ cursor }}
      onPointerDown={onPointerDown}
    >
      <title>{name}</title>
    </rect>
  );
}
