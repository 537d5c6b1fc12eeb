import { counted } from '../../../ui/text/counted.ts';
import type { RectMm } from '../../../../core/geometry/frame.ts';

interface SegmentDrawingProps {
  readonly mediaWidthMm: number;
  /** Left end of the usable width. */
  readonly fromMm: number;
  readonly lengthMm: number;
  /** As they lie, in the frame of the segment. */
  readonly rects: readonly RectMm[];
}

const WIDTH_PX = 256;
const HEIGHT_PX = 110;
/** More would only be a grey field. */
const MOST = 600;

/** One segment on its media, to scale: leading edge at the left, as on the Bench. */
export function SegmentDrawing({ mediaWidthMm, fromMm, lengthMm, rects }: SegmentDrawingProps) {
  const k = Math.min(WIDTH_PX / lengthMm, HEIGHT_PX / mediaWidthMm);
  return (
    <svg
      width={lengthMm * k}
      height={mediaWidthMm * k}
      viewBox={`0 0 ${String(lengthMm)} ${String(mediaWidthMm)}`}
      className="mt-1 block"
      role="img"
      aria-label={`One segment of ${counted(rects.length, 'piece')} on the media`}
    >
      <rect width={lengthMm} height={mediaWidthMm} fill="#fff" stroke="var(--ink)" strokeWidth={1 / k} />
      {rects.slice(0, MOST).map(({ xMm, yMm, widthMm, heightMm }, n) => (
        <rect
          key={n}
          x={yMm}
          y={mediaWidthMm - fromMm - xMm - widthMm}
          width={heightMm}
          height={widthMm}
          fill="#F2B90C"
          fillOpacity={0.35}
          stroke="#23211C"
          strokeWidth={0.6 / k}
        />
      ))}
    </svg>
  );
}
