import { turnText } from '../../../../core/layout/arrange/twoSides.ts';
import { turnedSize } from '../../../../core/geometry/turn.ts';
import { type RunDetail, useRun } from '../../../api/data.ts';

const WIDTH_PX = 256;
const MOST_PX = 74;

/** Both sides one above the other, to scale, as they come out: which piece lies behind which, and how the media is turned. */
export function SidesDrawing({ run, otherRunId }: { readonly run: RunDetail; readonly otherRunId: string | null }) {
  const { data: other } = useRun(otherRunId);
  if (!run.pair || !other || run.lengthMm <= 0) return null;
  const [front, back] = run.pair.side === 'front' ? [run, other] : [other, run];
  return (
    <figure className="mb-2">
      <Side run={front} name="front" />
      <figcaption className="flex items-center gap-2 py-1 text-soft">
        <Turn ends={run.pair.turn === 'end for end'} />
        {turnText(run.pair.turn, run.settings.sheetMm ?? null)}
      </figcaption>
      <Side run={back} name="back" />
    </figure>
  );
}

/** One side to scale. Pieces of one job have the same number on both sides. */
function Side({ run, name }: { readonly run: RunDetail; readonly name: string }) {
  const scale = Math.min(WIDTH_PX / run.lengthMm, MOST_PX / run.mediaWidthMm);
  const numbers = new Map([...new Set(run.pieces.map((piece) => piece.jobId))].map((id, i) => [id, i + 1]));
  const [w, h] = [run.lengthMm * scale, run.mediaWidthMm * scale];
  return (
    <svg
      width={w + 2}
      height={h + 2}
      viewBox={`-1 -1 ${String(w + 2)} ${String(h + 2)}`}
      role="img"
      aria-label={`The ${name} to scale`}
    >
      <rect width={w} height={h} fill="#fff" stroke="var(--ink)" />
      {run.pieces
        .filter((piece) => piece.placed)
        .map((piece) => {
          const laid = turnedSize(piece.widthMm, piece.heightMm, piece.angleDeg);
          // The frame of the run lies on its side on the screen: along the feed to the right, the left edge at the foot.
          const x = piece.yMm * scale;
          const y = (run.mediaWidthMm - piece.xMm - run.usableFromMm - laid.widthMm) * scale;
          const [pw, ph] = [laid.heightMm * scale, laid.widthMm * scale];
          const up = (-90 - piece.angleDeg) * (Math.PI / 180);
          const [cx, cy] = [x + pw / 2, y + ph / 2];
          const reach = Math.min(pw, ph) * 0.36;
          return (
            <g key={piece.pieceId}>
              <rect
                x={x}
                y={y}
                width={pw}
                height={ph}
                fill="#F2B90C"
                fillOpacity={0.25}
                stroke="#8a8375"
                strokeWidth={0.6}
              />
              {reach > 3 && (
                <path d={arrow(cx, cy, up - Math.PI / 2, reach)} fill="none" stroke="#23211C" strokeWidth={1} />
              )}
              {reach > 5 && (
                <text x={x + 2} y={y + 8} fontSize={8} fill="#23211C">
                  {numbers.get(piece.jobId)}
                </text>
              )}
            </g>
          );
        })}
      <path
        d={`M${String(w / 2 + 10)} ${String(h - 3)} h-20 m5 -3 l-5 3 l5 3`}
        fill="none"
        stroke="#0F6B6B"
        strokeWidth={1.2}
      />
    </svg>
  );
}

/** From the foot to the head of a piece. */
function arrow(cx: number, cy: number, angle: number, reach: number): string {
  const [dx, dy] = [Math.cos(angle) * reach, Math.sin(angle) * reach];
  const [hx, hy] = [cx + dx, cy + dy];
  const wing = (turn: number): string =>
    `${String(hx - Math.cos(angle + turn) * reach * 0.5)} ${String(hy - Math.sin(angle + turn) * reach * 0.5)}`;
  return `M${String(cx - dx)} ${String(cy - dy)} L${String(hx)} ${String(hy)} M${wing(0.5)} L${String(hx)} ${String(hy)} L${wing(-0.5)}`;
}

/** Which way the media goes over: the leading edge stays in front, or changes places with the other end. */
function Turn({ ends }: { readonly ends: boolean }) {
  return (
    <svg width={34} height={18} viewBox="0 0 34 18" aria-hidden="true">
      <rect x={1} y={4} width={32} height={10} fill="none" stroke="currentColor" />
      {ends ? (
        <path d="M6 9 C 10 -2, 24 -2, 28 9 m-4 -3 l4 3 l2 -5" fill="none" stroke="#0F6B6B" strokeWidth={1.4} />
      ) : (
        <path d="M17 2 C 27 5, 27 13, 17 16 m5 -1 l-5 1 l2 -5" fill="none" stroke="#0F6B6B" strokeWidth={1.4} />
      )}
    </svg>
  );
}
