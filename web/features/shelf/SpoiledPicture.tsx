import { turnedSize } from '../../../core/geometry/turn.ts';
import { type RunPiece } from '../../../contract/api/run.ts';
import { pictureUrl, useRun } from '../../api/data.ts';

/** Of the media across, on the sheet (px); what is longer than the sheet is wide is scrolled. */
const ACROSS_PX = 110;
/** Beyond so many pieces of a run a thumb can't hit one. */
const MOST_PIECES = 400;

/**
 * The run as it lay on the media, to scale, its leading edge at the left. Pieces of the job are tapped to say that they are
 * spoiled; the list below says the same for keys and for who can't see it.
 */
export function SpoiledPicture({
  runId,
  jobId,
  look,
  chosen,
  onToggle,
}: {
  readonly runId: string;
  readonly jobId: string;
  readonly look: string;
  readonly chosen: ReadonlySet<string>;
  readonly onToggle: (pieceId: string) => void;
}) {
  const { data: run } = useRun(runId);
  if (!run || run.lengthMm === 0 || run.pieces.length > MOST_PIECES) return null;
  const px = ACROSS_PX / run.mediaWidthMm;
  return (
    <figure className="mb-2">
      <div className="overflow-x-auto rounded border border-rule bg-paper">
        <svg
          width={Math.max(40, run.lengthMm * px)}
          height={ACROSS_PX}
          viewBox={`0 0 ${String(run.lengthMm)} ${String(run.mediaWidthMm)}`}
          aria-hidden="true"
          className="block"
        >
          {run.pieces
            .filter(({ placed }) => placed)
            .map((piece) => (
              <Lying
                key={piece.pieceId}
                piece={piece}
                mediaWidthMm={run.mediaWidthMm}
                picture={piece.jobId === jobId ? pictureUrl(jobId, piece.page, 'thumb', look) : undefined}
                spoiled={chosen.has(piece.pieceId)}
                onTap={() => {
                  onToggle(piece.pieceId);
                }}
              />
            ))}
        </svg>
      </div>
      <figcaption className="dense mt-0.5 text-soft">{run.name} on the media: tap what is spoiled</figcaption>
    </figure>
  );
}

/** A quarter turned against the frame of the run, as on the Bench: the feed runs to the right. */
function Lying({
  piece,
  mediaWidthMm,
  picture,
  spoiled,
  onTap,
}: {
  readonly piece: RunPiece;
  readonly mediaWidthMm: number;
  /** Undefined: of another job, only its place is shown. */
  readonly picture: string | undefined;
  readonly spoiled: boolean;
  readonly onTap: () => void;
}) {
  const { widthMm, heightMm } = turnedSize(piece.widthMm, piece.heightMm, piece.angleDeg);
  const box = { x: piece.yMm, y: mediaWidthMm - piece.xMm - widthMm, width: heightMm, height: widthMm };
  const [cx, cy] = [box.x + box.width / 2, box.y + box.height / 2];
  return (
    <g
      data-spoiled={picture === undefined ? undefined : spoiled}
      className={picture === undefined ? '' : 'cursor-pointer'}
      onClick={picture === undefined ? undefined : onTap}
    >
      <rect {...box} fill="var(--card)" stroke="var(--soft)" vectorEffect="non-scaling-stroke" />
      {picture !== undefined && (
        <image
          href={picture}
          x={cx - piece.widthMm / 2}
          y={cy - piece.heightMm / 2}
          width={piece.widthMm}
          height={piece.heightMm}
          preserveAspectRatio="none"
          transform={`rotate(${String(piece.angleDeg - 90)} ${String(cx)} ${String(cy)})`}
        />
      )}
      {spoiled && (
        <>
          <rect {...box} fill="var(--stop)" fillOpacity="0.35" />
          <path
            d={`M${String(box.x)} ${String(box.y)}l${String(box.width)} ${String(box.height)}m0 ${String(-box.height)}l${String(-box.width)} ${String(box.height)}`}
            stroke="var(--stop)"
            strokeWidth="2"
            vectorEffect="non-scaling-stroke"
          />
        </>
      )}
    </g>
  );
}
