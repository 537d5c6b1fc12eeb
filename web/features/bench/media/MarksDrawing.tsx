import { memo } from 'react';
import { LINE_MM, type Mark } from '../../../../core/layout/marks/mark.ts';

/** Marks as they will be printed, in the frame of the pieces. Thousands of lines are one path. */
export const MarksDrawing = memo(function MarksDrawing({ marks }: { readonly marks: readonly Mark[] }) {
  const lines: string[] = [];
  const solid: string[] = [];
  const white: string[] = [];
  const rest: { readonly key: string; readonly mark: Extract<Mark, { kind: 'bar' | 'dot' | 'text' }> }[] = [];
  marks.forEach((mark, i) => {
    if (mark.kind === 'line') lines.push(`M${num(mark.x1)} ${num(mark.y1)}L${num(mark.x2)} ${num(mark.y2)}`);
    else if (mark.kind === 'code') {
      solid.push(codePath(mark));
      const { xMm, yMm, shape } = mark;
      if (mark.white)
        white.push(`M${num(xMm)} ${num(yMm)}h${num(shape.widthMm)}v${num(shape.heightMm)}h${num(-shape.widthMm)}z`);
    } else rest.push({ key: `${mark.kind}-${String(i)}`, mark });
  });
  return (
    <g pointerEvents="none" data-testid="marks" data-count={marks.length}>
      {white.length > 0 && <path d={white.join('')} fill="#fff" />}
      {lines.length > 0 && <path d={lines.join('')} fill="none" stroke="#000" strokeWidth={LINE_MM} />}
      {solid.length > 0 && <path d={solid.join('')} fill="#000" />}
      {rest.map(({ key, mark }) => {
        switch (mark.kind) {
          case 'bar':
            return (
              <rect
                key={key}
                x={mark.xMm}
                y={mark.yMm}
                width={mark.widthMm}
                height={mark.heightMm}
                fill={mark.colour ?? '#000'}
              />
            );
          case 'dot':
            return <circle key={key} cx={mark.xMm} cy={mark.yMm} r={mark.diameterMm / 2} fill="#000" />;
          case 'text':
            return (
              <svg key={key} x={mark.xMm} y={mark.yMm} width={mark.roomMm} height={mark.heightMm} overflow="hidden">
                <text y={mark.heightMm * 0.8} fontSize={mark.heightMm * 0.92} fill="#000">
                  {mark.text}
                </text>
              </svg>
            );
        }
      })}
    </g>
  );
});

function codePath({ xMm, yMm, shape, upsideDown }: Extract<Mark, { kind: 'code' }>): string {
  return shape.rects
    .map((rect) => {
      const x = xMm + (upsideDown ? shape.widthMm - rect.xMm - rect.widthMm : rect.xMm);
      const y = yMm + (upsideDown ? shape.heightMm - rect.yMm - rect.heightMm : rect.yMm);
      return `M${num(x)} ${num(y)}h${num(rect.widthMm)}v${num(rect.heightMm)}h${num(-rect.widthMm)}z`;
    })
    .join('');
}

function num(mm: number): string {
  return Number(mm.toFixed(3)).toString();
}
