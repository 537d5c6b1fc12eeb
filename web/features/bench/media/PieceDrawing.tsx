import { sizeText } from '../../../ui/text/lengths.ts';
import { memo } from 'react';
import type { RunPiece } from '../../../../contract/api/run.ts';
import { pictureUrl } from '../../../api/data.ts';
import { PiecePicture } from '../../../draw/PiecePicture.tsx';
import { uprightTransform } from '../../../draw/uprightTransform.ts';
import { type Place, angleText, laidSize } from '../state/layoutState.ts';

/** One piece as it is drawn on the media; everything that makes it look different is here, so that others are not drawn anew. */
interface PieceDrawingProps {
  readonly piece: RunPiece;
  readonly place: Place;
  /** What it is cut along; undefined: its rectangle. */
  readonly contour: DrawnContour | undefined;
  readonly picture: 'thumb' | 'view';
  /** A pixel in millimetres where a sign of one size is drawn, else 0: so that zooming draws only those anew. */
  readonly signPx: number;
  readonly selected: boolean;
  readonly locked: boolean;
  readonly mirrored: boolean;
  readonly trouble: 'stop' | 'tight' | undefined;
  readonly onPointerDown: (key: string, event: React.PointerEvent) => void;
}

/** As paths from the upper left corner of the piece, and the name of what clips its picture. */
export interface DrawnContour {
  readonly clipId: string;
  readonly outline: string;
  readonly cut: string;
}

export const PieceDrawing = memo(function PieceDrawing({
  piece,
  place,
  contour,
  picture,
  signPx,
  selected,
  locked,
  mirrored,
  trouble,
  onPointerDown,
}: PieceDrawingProps) {
  const { widthMm, heightMm } = laidSize(piece, place.angleDeg);
  const at = uprightTransform(piece, { ...place, widthMm, heightMm }, place.angleDeg, mirrored);
  const stroke =
    trouble === 'stop' ? 'var(--stop)' : selected ? '#23211C' : trouble === 'tight' ? 'var(--wait)' : '#8a8375';
  return (
    <g
      data-piece={piece.pieceId}
      data-trouble={trouble}
      onPointerDown={(event) => {
        onPointerDown(piece.pieceId, event);
      }}
      data-locked={locked ? '' : undefined}
      className={locked ? 'cursor-default' : 'cursor-move'}
    >
      <g transform={at} clipPath={contour && `url(#${contour.clipId})`}>
        <PiecePicture
          href={pictureUrl(piece.jobId, piece.page, picture, piece.look)}
          widthMm={piece.widthMm}
          heightMm={piece.heightMm}
          panel={piece.panel}
        />
      </g>
      {contour && (
        <path
          d={contour.cut}
          transform={at}
          fill="none"
          stroke="#0E6A6B"
          strokeWidth={1.2}
          vectorEffect="non-scaling-stroke"
          pointerEvents="none"
        />
      )}
      <Shape
        contour={contour}
        at={at}
        x={place.xMm}
        y={place.yMm}
        width={widthMm}
        height={heightMm}
        fill={trouble === 'stop' ? 'var(--stop)' : '#fff'}
        fillOpacity={trouble === 'stop' ? 0.3 : 0}
        stroke={stroke}
        strokeWidth={trouble === 'stop' ? 2.5 : selected ? 5 : trouble === 'tight' ? 2 : 1}
        vectorEffect="non-scaling-stroke"
      >
        <title>{`${piece.sourceName}, copy ${String(piece.copy + 1)}${piece.panel ? `, panel ${String(piece.panel.no)} of ${String(piece.panel.of)}` : ''}${piece.page > 0 ? `, page ${String(piece.page + 1)}` : ''}: ${sizeText(piece.widthMm, piece.heightMm)}${angleText(place.angleDeg)}`}</title>
      </Shape>
      {piece.panel && (
        <PanelNumber
          text={`${String(piece.panel.no)}/${String(piece.panel.of)}`}
          xMm={place.xMm}
          yMm={place.yMm}
          px={signPx}
        />
      )}
      {locked && <Padlock xMm={place.xMm + widthMm} yMm={place.yMm} px={signPx} />}
      {selected && (
        <Shape
          contour={contour}
          at={at}
          x={place.xMm}
          y={place.yMm}
          width={widthMm}
          height={heightMm}
          fill="none"
          stroke="#F2B90C"
          strokeWidth={2.6}
          vectorEffect="non-scaling-stroke"
          pointerEvents="none"
        />
      )}
    </g>
  );
});

interface ShapeProps extends React.SVGProps<SVGRectElement & SVGPathElement> {
  readonly contour: DrawnContour | undefined;
  readonly at: string;
}

/** The rectangle of a piece as it lies, or its outline. */
function Shape({ contour, at, x, y, width, height, ...look }: ShapeProps) {
  if (contour) return <path d={contour.outline} transform={at} {...look} />;
  return <rect x={x} y={y} width={width} height={height} {...look} />;
}

/** At the corner that is uppermost on the screen and nearest the leading edge; of one size, however far one zooms. */
function Padlock({ xMm, yMm, px }: { readonly xMm: number; readonly yMm: number; readonly px: number }) {
  return (
    <g
      // The frame of the run lies on its side on the screen; the sign stands upright.
      transform={`translate(${String(xMm)} ${String(yMm)}) scale(${String(px)}) rotate(90)`}
      pointerEvents="none"
    >
      <rect x={2} y={2} width={18} height={18} rx={4} fill="#23211C" />
      <rect x={6} y={10} width={10} height={7} rx={1} fill="#F2B90C" />
      <path d="M8 10V8a3 3 0 0 1 6 0v2" fill="none" stroke="#F2B90C" strokeWidth={1.6} />
    </g>
  );
}

/** Near the leading edge and the left one; of one size, however far one zooms, upright on the screen. */
function PanelNumber({
  text,
  xMm,
  yMm,
  px,
}: {
  readonly text: string;
  readonly xMm: number;
  readonly yMm: number;
  readonly px: number;
}) {
  return (
    <g transform={`translate(${String(xMm)} ${String(yMm)}) scale(${String(px)}) rotate(90)`} pointerEvents="none">
      <rect x={3} y={-19} width={text.length * 7 + 8} height={16} rx={3} fill="#fff" fillOpacity={0.85} />
      <text x={7} y={-6} fontSize={12} fontWeight={600} fill="#23211C">
        {text}
      </text>
    </g>
  );
}
