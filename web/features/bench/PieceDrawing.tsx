import { memo } from 'react';
import type { RunPiece } from '../../../contract/api/run.ts';
import { pictureUrl } from '../../api/data.ts';
import { sizeText } from '../../ui/Figure.tsx';
import { type Place, laidSize } from './layoutState.ts';

interface PieceDrawingProps {
  readonly piece: RunPiece;
  readonly place: Place;
  /** Pixels a millimetre. */
  readonly scale: number;
  readonly selected: boolean;
  readonly trouble: 'stop' | 'tight' | undefined;
  readonly onPointerDown: (key: string, event: React.PointerEvent) => void;
}

/** Above so many pixels the small picture would show its dots. */
const SMALL_PICTURE_PX = 190;

export const PieceDrawing = memo(function PieceDrawing({
  piece,
  place,
  scale,
  selected,
  trouble,
  onPointerDown,
}: PieceDrawingProps) {
  const { widthMm, heightMm } = laidSize(piece, place.turned);
  const picture = Math.max(widthMm, heightMm) * scale > SMALL_PICTURE_PX ? 'view' : 'thumb';
  const at = place.turned
    ? `translate(${String(place.xMm)} ${String(place.yMm + heightMm)}) rotate(-90)`
    : `translate(${String(place.xMm)} ${String(place.yMm)})`;
  const stroke =
    trouble === 'stop' ? 'var(--stop)' : selected ? '#23211C' : trouble === 'tight' ? 'var(--wait)' : '#8a8375';
  const px = 1 / scale;
  return (
    <g
      data-piece={piece.pieceId}
      data-trouble={trouble}
      onPointerDown={(event) => {
        onPointerDown(piece.pieceId, event);
      }}
      className="cursor-move"
    >
      <image
        href={pictureUrl(piece.jobId, piece.page, picture, piece.look)}
        width={piece.widthMm}
        height={piece.heightMm}
        preserveAspectRatio="none"
        transform={at}
      />
      <rect
        x={place.xMm}
        y={place.yMm}
        width={widthMm}
        height={heightMm}
        fill={trouble === 'stop' ? 'var(--stop)' : '#fff'}
        fillOpacity={trouble === 'stop' ? 0.3 : 0}
        stroke={stroke}
        strokeWidth={(trouble === 'stop' ? 2.5 : selected ? 5 : trouble === 'tight' ? 2 : 1) * px}
      >
        <title>{`${piece.sourceName}, copy ${String(piece.copy + 1)}${piece.page > 0 ? `, page ${String(piece.page + 1)}` : ''}: ${sizeText(piece.widthMm, piece.heightMm)} mm${place.turned ? ', turned' : ''}`}</title>
      </rect>
      {selected && (
        <rect
          x={place.xMm}
          y={place.yMm}
          width={widthMm}
          height={heightMm}
          fill="none"
          stroke="#F2B90C"
          strokeWidth={2.6 * px}
          pointerEvents="none"
        />
      )}
    </g>
  );
});
