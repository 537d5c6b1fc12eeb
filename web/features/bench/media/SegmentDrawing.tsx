interface SegmentDrawingProps {
  readonly mediaWidthMm: number;
  /** Left end of the usable width. */
  readonly fromMm: number;
  readonly lengthMm: number;
  readonly leadMm: number;
  readonly gapXMm: number;
  readonly gapYMm: number;
  /** As it lies. */
  readonly piece: { readonly widthMm: number; readonly heightMm: number };
  readonly columns: number;
  readonly count: number;
}

const WIDTH_PX = 256;
const HEIGHT_PX = 110;
/** More would only be a grey field. */
const MOST = 600;

/** One full segment on its media, to scale: leading edge at the left, as on the Bench. */
export function SegmentDrawing(props: SegmentDrawingProps) {
  const { mediaWidthMm, fromMm, lengthMm, leadMm, gapXMm, gapYMm, piece, columns, count } = props;
  const k = Math.min(WIDTH_PX / lengthMm, HEIGHT_PX / mediaWidthMm);
  return (
    <svg
      width={lengthMm * k}
      height={mediaWidthMm * k}
      viewBox={`0 0 ${String(lengthMm)} ${String(mediaWidthMm)}`}
      className="mt-1 block"
      role="img"
      aria-label={`One segment of ${String(count)} pieces on the media`}
    >
      <rect width={lengthMm} height={mediaWidthMm} fill="#fff" stroke="var(--ink)" strokeWidth={1 / k} />
      {Array.from({ length: Math.min(count, MOST) }, (_, n) => {
        const x = fromMm + (n % columns) * (piece.widthMm + gapXMm);
        const y = leadMm + Math.floor(n / columns) * (piece.heightMm + gapYMm);
        return (
          <rect
            key={n}
            x={y}
            y={mediaWidthMm - x - piece.widthMm}
            width={piece.heightMm}
            height={piece.widthMm}
            fill="#F2B90C"
            fillOpacity={0.35}
            stroke="#23211C"
            strokeWidth={0.6 / k}
          />
        );
      })}
    </svg>
  );
}
