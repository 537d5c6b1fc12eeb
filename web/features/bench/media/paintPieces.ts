import type { RunPiece } from '../../../../contract/api/run.ts';
import { pictureUrl } from '../../../api/data.ts';
import type { DrawnContour } from './PieceDrawing.tsx';
import { type Place, laidSize } from '../state/layoutState.ts';

/** What a stretch of media looks like through the window that shows it. */
export interface Window {
  readonly widthPx: number;
  readonly heightPx: number;
  /** Where the media begins in it: scrolled out of sight, below zero. */
  readonly leftPx: number;
  readonly topPx: number;
  /** Pixels a millimetre. */
  readonly scale: number;
  readonly mediaWidthMm: number;
  readonly fromMm: number;
  readonly usedMm: number;
  /** Of the media. */
  readonly colour: string;
}

export interface PaintedRun {
  readonly pieces: readonly RunPiece[];
  readonly places: ReadonlyMap<string, Place>;
  readonly contours: ReadonlyMap<string, DrawnContour>;
  readonly mirrored: boolean;
  readonly selected: ReadonlySet<string>;
  readonly stop: ReadonlySet<string>;
  readonly tight: ReadonlySet<string>;
}

/** Above so many pixels the small picture would show its dots. */
export const SMALL_PICTURE_PX = 190;
/** Smaller than this a contour is not told from its picture. */
const CONTOUR_PX = 24;
/** On smaller pieces the sign of a lock would hide them. */
const LOCK_PX = 18;
/** Pictures kept ready at one size; there are few kinds in a run. */
const MOST_STAMPS = 400;

/**
 * Paints thousands of pieces in a few milliseconds: each kind of piece is drawn once at the size and turn at which it is
 * shown, and stamped wherever it lies.
 */
export class PiecePainter {
  private readonly pictures = new Map<string, HTMLImageElement>();
  private stamps = new Map<string, HTMLCanvasElement>();
  private stampScale = 0;

  /** @param onPicture a picture has arrived: paint again */
  constructor(private readonly onPicture: () => void) {}

  paint(context: CanvasRenderingContext2D, run: PaintedRun, window: Window): void {
    const ratio = globalThis.devicePixelRatio || 1;
    context.setTransform(ratio, 0, 0, ratio, 0, 0);
    context.clearRect(0, 0, window.widthPx, window.heightPx);
    context.fillStyle = window.colour;
    context.fillRect(window.leftPx, window.topPx, window.usedMm * window.scale, window.mediaWidthMm * window.scale);
    if (this.stampScale !== window.scale * ratio || this.stamps.size > MOST_STAMPS) {
      this.stampScale = window.scale * ratio;
      this.stamps = new Map();
    }
    for (const piece of run.pieces) {
      const place = run.places.get(piece.pieceId);
      if (place) this.piece(context, run, window, piece, place);
    }
  }

  private piece(
    context: CanvasRenderingContext2D,
    run: PaintedRun,
    window: Window,
    piece: RunPiece,
    place: Place,
  ): void {
    const { scale } = window;
    const laid = laidSize(piece, place.angleDeg);
    // On the screen the feed runs to the right and the right edge of the media is up.
    const x = window.leftPx + place.yMm * scale;
    const w = laid.heightMm * scale;
    if (x > window.widthPx || x + w < 0) return;
    const y = window.topPx + (window.mediaWidthMm - window.fromMm - place.xMm - laid.widthMm) * scale;
    const h = laid.widthMm * scale;
    if (y > window.heightPx || y + h < 0) return;
    const contour = piece.contour === null ? undefined : run.contours.get(piece.contour);
    const stamp = this.stamp(piece, place.angleDeg, run.mirrored, contour, scale);
    if (stamp) context.drawImage(stamp, x, y, w, h);
    const key = piece.pieceId;
    const stop = run.stop.has(key);
    const chosen = run.selected.has(key);
    if (stop) {
      context.fillStyle = '#B3261E4D';
      context.fillRect(x, y, w, h);
    }
    context.strokeStyle = stop ? '#B3261E' : run.tight.has(key) ? '#8A5C00' : '#8a8375';
    context.lineWidth = stop ? 2.5 : run.tight.has(key) ? 2 : 1;
    if (!contour || stop) context.strokeRect(x, y, w, h);
    if (chosen) {
      context.strokeStyle = '#23211C';
      context.lineWidth = 5;
      context.strokeRect(x, y, w, h);
      context.strokeStyle = '#F2B90C';
      context.lineWidth = 2.6;
      context.strokeRect(x, y, w, h);
    }
    if (place.locked === true && Math.min(w, h) > LOCK_PX) {
      context.fillStyle = '#23211C';
      context.fillRect(x + 2, y + 2, 9, 9);
      context.fillStyle = '#F2B90C';
      context.fillRect(x + 4, y + 6, 5, 3);
    }
  }

  /** The picture of a piece as it is seen: turned, mirrored, within its contour. Undefined until it has arrived. */
  private stamp(
    piece: RunPiece,
    angleDeg: number,
    mirrored: boolean,
    contour: DrawnContour | undefined,
    scale: number,
  ): HTMLCanvasElement | undefined {
    const large = Math.max(piece.widthMm, piece.heightMm) * scale > SMALL_PICTURE_PX;
    const href = pictureUrl(piece.jobId, piece.page, large ? 'view' : 'thumb', piece.look);
    const { panel } = piece;
    const key = `${href} ${String(angleDeg)} ${panel ? String(panel.no) : ''} ${String(piece.widthMm)}`;
    const known = this.stamps.get(key);
    if (known) return known;
    const picture = this.picture(href);
    if (!picture) return undefined;
    const laid = laidSize(piece, angleDeg);
    const k = this.stampScale;
    const stamp = document.createElement('canvas');
    stamp.width = Math.max(1, Math.round(laid.heightMm * k));
    stamp.height = Math.max(1, Math.round(laid.widthMm * k));
    const context = stamp.getContext('2d');
    if (!context) return undefined;
    context.imageSmoothingQuality = 'medium';
    context.translate(stamp.width / 2, stamp.height / 2);
    // Counter-clockwise by its own angle, and by the quarter that the media lies turned on the screen.
    context.rotate((-(angleDeg + 90) * Math.PI) / 180);
    context.scale(mirrored ? -k : k, k);
    context.translate(-piece.widthMm / 2, -piece.heightMm / 2);
    if (contour) context.clip(new Path2D(contour.outline));
    if (panel) {
      context.beginPath();
      context.rect(0, 0, piece.widthMm, piece.heightMm);
      context.clip();
      context.drawImage(picture, -panel.xMm, -panel.yMm, panel.wholeWidthMm, panel.wholeHeightMm);
    } else context.drawImage(picture, 0, 0, piece.widthMm, piece.heightMm);
    if (contour && Math.max(piece.widthMm, piece.heightMm) * scale > CONTOUR_PX) {
      context.strokeStyle = '#0E6A6B';
      context.lineWidth = 1.2 / scale;
      context.stroke(new Path2D(contour.cut));
    }
    this.stamps.set(key, stamp);
    return stamp;
  }

  private picture(href: string): HTMLImageElement | undefined {
    const known = this.pictures.get(href);
    if (known) return known.complete && known.naturalWidth > 0 ? known : undefined;
    const image = new Image();
    this.pictures.set(href, image);
    image.onload = () => {
      this.onPicture();
    };
    image.src = href;
    return undefined;
  }
}

/** The uppermost piece at a point of the media (mm, in the frame of the pieces). */
export function pieceAt(
  { pieces, places }: Pick<PaintedRun, 'pieces' | 'places'>,
  at: { readonly xMm: number; readonly yMm: number },
): string | undefined {
  for (let i = pieces.length - 1; i >= 0; i--) {
    const piece = pieces[i];
    const place = piece && places.get(piece.pieceId);
    if (!piece || !place || at.yMm < place.yMm || at.xMm < place.xMm) continue;
    const { widthMm, heightMm } = laidSize(piece, place.angleDeg);
    if (at.xMm <= place.xMm + widthMm && at.yMm <= place.yMm + heightMm) return piece.pieceId;
  }
  return undefined;
}
