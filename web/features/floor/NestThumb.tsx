import { turnedSize } from '../../../core/geometry/turn.ts';
import { PiecePicture } from '../../draw/PiecePicture.tsx';
import { uprightTransform } from '../../draw/uprightTransform.ts';
import { memo } from 'react';
import { pictureUrl, type RunDetail } from '../../api/data.ts';

/** Above so many pieces only their outlines are drawn. */
const PICTURES = 60;

/** The real nest, its length along the time that it takes: leading edge at the left. */
export const NestThumb = memo(
  NestDrawing,
  (a, b) => a.run.pieces === b.run.pieces && a.run.lengthMm === b.run.lengthMm,
);

function NestDrawing({ run }: { readonly run: RunDetail }) {
  const length = Math.max(1, run.lengthMm);
  const width = run.mediaWidthMm;
  const placed = run.pieces.filter((piece) => piece.placed);
  return (
    <svg
      className="size-full"
      viewBox={`0 0 ${String(length)} ${String(width)}`}
      preserveAspectRatio="none"
      aria-hidden="true"
    >
      <g transform={`matrix(0 -1 1 0 0 ${String(width - run.usableFromMm)})`}>
        {placed.map((piece) => {
          const { widthMm: w, heightMm: h } = turnedSize(piece.widthMm, piece.heightMm, piece.angleDeg);
          return (
            <g key={piece.pieceId}>
              <rect
                x={piece.xMm}
                y={piece.yMm}
                width={w}
                height={h}
                fill="var(--soft)"
                fillOpacity={0.25}
                stroke="var(--soft)"
                strokeWidth={1}
                vectorEffect="non-scaling-stroke"
              />
              {placed.length <= PICTURES && (
                <g
                  transform={uprightTransform(
                    piece,
                    { ...piece, widthMm: w, heightMm: h },
                    piece.angleDeg,
                    run.pair?.side === 'back' && run.pair.content === 'show-through',
                  )}
                >
                  <PiecePicture
                    href={pictureUrl(piece.jobId, piece.page, 'thumb', piece.look)}
                    widthMm={piece.widthMm}
                    heightMm={piece.heightMm}
                    panel={piece.panel}
                  />
                </g>
              )}
            </g>
          );
        })}
      </g>
    </svg>
  );
}
