import type { RectMm } from '../../geometry/frame.ts';
import { codeShape } from './codeShape.ts';
import type { MarkAt, MarkPer, MarkSettings } from './markSettings.ts';
import { LINE_MM, type Mark, type MarkedPiece, type MarkedRun, fillPattern } from './mark.ts';
import { mmText } from '../../units/lengthText.ts';

/** The marks around single pieces: ticks at their corners, labels, codes. */
export function pieceMarks(settings: MarkSettings, run: MarkedRun, troubles: string[]): Mark[] {
  const first = firstOfJobs(run.pieces);
  const wanted = (per: MarkPer, piece: MarkedPiece): boolean => per === 'piece' || first.get(piece.jobId) === piece;
  const tooWide = { count: 0, widthMm: 0, roomMm: 0 };
  const marks = run.pieces.flatMap((piece) => [
    ...crop(settings, piece),
    ...(settings.label.on && wanted(settings.label.per, piece) ? label(settings, piece) : []),
    ...(settings.pieceCode.on && wanted(settings.pieceCode.per, piece)
      ? code(settings, run, piece, troubles, tooWide)
      : []),
  ]);
  if (tooWide.count > 0) {
    const { count, widthMm, roomMm } = tooWide;
    const which = count === 1 ? 'The code of a piece is' : `The codes of ${String(count)} pieces are`;
    const figures = `${mmText(widthMm)} of ${mmText(roomMm)}`;
    troubles.push(`${which} wider than the piece: ${figures}. Take a QR code, or say less.`);
  }
  return marks;
}

/** Of each job the piece that leaves the printer first; of those side by side, the leftmost. */
function firstOfJobs(pieces: readonly MarkedPiece[]): ReadonlyMap<string, MarkedPiece> {
  const first = new Map<string, MarkedPiece>();
  for (const piece of pieces) {
    const known = first.get(piece.jobId);
    if (!known || piece.yMm < known.yMm || (piece.yMm === known.yMm && piece.xMm < known.xMm))
      first.set(piece.jobId, piece);
  }
  return first;
}

/**
 * Two lines at each corner of the trim, in line with its sides. They begin away from the piece, beyond its bleed, so that none is
 * left on it after the cut and none lies on its artwork.
 */
function crop({ crop: c }: MarkSettings, { xMm, yMm, widthMm, heightMm, trim }: MarkedPiece): Mark[] {
  if (!c.on) return [];
  const across = [
    [trim.xMm, xMm, -1],
    [trim.xMm + trim.widthMm, xMm + widthMm, 1],
  ] as const;
  const along = [
    [trim.yMm, yMm, -1],
    [trim.yMm + trim.heightMm, yMm + heightMm, 1],
  ] as const;
  const from = (edge: number, way: 1 | -1) => edge + way * c.awayMm;
  const to = (edge: number, way: 1 | -1) => edge + way * (c.awayMm + c.lengthMm);
  return across.flatMap(([x, sideX, wayX]) =>
    along.flatMap(([y, sideY, wayY]): Mark[] => [
      { kind: 'line', x1: from(sideX, wayX), y1: y, x2: to(sideX, wayX), y2: y },
      { kind: 'line', x1: x, y1: from(sideY, wayY), x2: x, y2: to(sideY, wayY) },
    ]),
  );
}

/** What lies beside a piece lies between the ticks in line with its trim. */
function room({ trim: { xMm, widthMm } }: MarkedPiece): { readonly xMm: number; readonly roomMm: number } {
  return { xMm: xMm + LINE_MM * 2, roomMm: widthMm - LINE_MM * 4 };
}

/** Where something of this height begins that lies so far away from a piece. */
function besideAt({ yMm, heightMm }: RectMm, at: MarkAt, awayMm: number, markMm: number): number {
  return at === 'behind' ? yMm + heightMm + awayMm : yMm - awayMm - markMm;
}

function label({ label: l }: MarkSettings, piece: MarkedPiece): Mark[] {
  const text = fillPattern(l.pattern, piece.words);
  if (text === '') return [];
  const yMm = besideAt(piece, l.at, l.awayMm, l.heightMm);
  return [{ kind: 'text', text, heightMm: l.heightMm, yMm, ...room(piece) }];
}

function code(
  { pieceCode: c, label: l }: MarkSettings,
  run: MarkedRun,
  piece: MarkedPiece,
  troubles: string[],
  tooWide: { count: number; widthMm: number; roomMm: number },
): Mark[] {
  const text = fillPattern(c.pattern, piece.words);
  if (text === '') return [];
  const modules = run.encode(c.kind, text);
  const shape = modules && codeShape(modules, c.heightMm, run.dpi);
  if (!shape) {
    troubles.push(`“${text}” can’t be said by this kind of code. Make it shorter, or take another kind.`);
    return [];
  }
  if (!shape.ok) {
    const { dots, leastDots } = shape.reason;
    troubles.push(
      `The code is too small for ${text}: ${String(dots)} dots a module, ${String(leastDots)} are needed. Make it higher.`,
    );
    return [];
  }
  const { xMm, roomMm } = room(piece);
  const { widthMm, heightMm } = shape.value;
  if (widthMm > roomMm) {
    tooWide.count += 1;
    if (widthMm - roomMm > tooWide.widthMm - tooWide.roomMm) Object.assign(tooWide, { widthMm, roomMm });
    return [];
  }
  // Beyond the label, where there is one on that side, whether or not this piece has one.
  const under = l.on && l.at === c.at ? l.awayMm + l.heightMm : 0;
  const yMm = besideAt(piece, c.at, under + c.awayMm, heightMm);
  return [{ kind: 'code', text, xMm, yMm, shape: shape.value, upsideDown: false, white: c.white }];
}
