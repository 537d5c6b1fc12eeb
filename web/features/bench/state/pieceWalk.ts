import { acrossText, sizeText } from '../../../ui/text/lengths.ts';
import type { RunDetail } from '../../../api/data.ts';
import { angleText, type Place } from './layoutState.ts';

/** Places nearer than this along the feed are one row (mm). */
const ROW_MM = 1;

/**
 * The piece behind another, in the order in which a person reads the media: from the leading edge, and in each row from the
 * left. Behind the last comes the first.
 * @param key the piece that is chosen, or undefined to begin
 */
export function nextPiece(
  places: ReadonlyMap<string, Place>,
  key: string | undefined,
  step: 1 | -1,
): string | undefined {
  const order = [...places].sort(([, a], [, b]) => (Math.abs(a.yMm - b.yMm) < ROW_MM ? a.xMm - b.xMm : a.yMm - b.yMm));
  if (order.length === 0) return undefined;
  const at = order.findIndex(([each]) => each === key);
  const next = at < 0 ? (step === 1 ? 0 : order.length - 1) : (at + step + order.length) % order.length;
  return order[next]?.[0];
}

/** The chosen piece in words, for who can't see it: what it is, where it lies, and what is wrong with it. */
export function pieceText(run: RunDetail, places: ReadonlyMap<string, Place>, key: string, clashes: boolean): string {
  const piece = run.pieces.find((each) => each.pieceId === key);
  const place = places.get(key);
  if (!piece || !place) return '';
  return [
    `${piece.sourceName}, copy ${String(piece.copy + 1)}`,
    `${sizeText(piece.widthMm, piece.heightMm)}${angleText(place.angleDeg)}`,
    `${acrossText(place.yMm, 1)} along the feed`,
    `${acrossText(place.xMm, 1)} from the left`,
    ...(place.locked === true ? ['locked'] : []),
    ...(clashes ? ['overlaps or lies outside'] : []),
  ].join(', ');
}
