import type { ReactNode } from 'react';
import { ringsPath } from './ringsPath.ts';

/** A piece as its printer gets it, with everything that is drawn to one scale around it. */
interface PieceOnMediaProps {
  /** As it lies, bleed included (mm). */
  readonly widthMm: number;
  readonly heightMm: number;
  readonly trim?: {
    readonly leftMm: number;
    readonly topMm: number;
    readonly rightMm: number;
    readonly bottomMm: number;
  };
  /** Rings that it is cut along, from its upper left corner. */
  readonly cut?: readonly (readonly { readonly x: number; readonly y: number }[])[] | undefined;
  readonly mediaWidthMm: number;
  readonly usableWidthMm: number;
  readonly usableFromMm: number;
  /** From the left of the usable width. */
  readonly atMm: number;
  readonly picture?: string;
  readonly boxPx: { readonly width: number; readonly height: number };
  /** Another drawing is meant to be compared with this one: both at the scale that this length of media takes (mm). */
  readonly scaleForMm?: number;
  readonly label: string;
}

/**
 * One piece on its media, to scale: the media with its unprintable margins, the artwork, and the edge that leads, at the top.
 *
 *   ▼ leading edge
 *   ┌┬──────────────┬┐
 *   │├───────┐      ││
 *   ││ piece │      ││
 */
export function PieceOnMedia(props: PieceOnMediaProps): ReactNode {
  const { widthMm, heightMm, mediaWidthMm, usableWidthMm, usableFromMm, atMm, boxPx, picture, trim, cut, label } =
    props;
  const lead = Math.max(mediaWidthMm * 0.04, 12);
  const widest = Math.max(mediaWidthMm, usableFromMm + atMm + widthMm);
  const length = Math.max(heightMm + lead * 2, props.scaleForMm ?? 0);
  const scale = Math.min(boxPx.width / widest, boxPx.height / length);
  const px = 1 / scale;
  const x = usableFromMm + atMm;
  const over = atMm + widthMm > usableWidthMm + 1e-6;
  return (
    <svg
      role="img"
      aria-label={label}
      width={widest * scale}
      height={length * scale}
      viewBox={`0 0 ${String(widest)} ${String(length)}`}
      className="block"
    >
      <rect x={0} y={0} width={mediaWidthMm} height={length} fill="var(--card)" stroke="var(--ink)" strokeWidth={px} />
      <rect x={0} y={0} width={usableFromMm} height={length} fill="var(--rule)" />
      <rect
        x={usableFromMm + usableWidthMm}
        y={0}
        width={Math.max(0, mediaWidthMm - usableFromMm - usableWidthMm)}
        height={length}
        fill="var(--rule)"
      />
      <path
        d={`M ${String(mediaWidthMm / 2 - 6 * px)} 0 h ${String(12 * px)} l ${String(-6 * px)} ${String(7 * px)} z`}
        fill="var(--ink)"
      />
      {picture === undefined ? (
        <rect x={x} y={lead} width={widthMm} height={heightMm} fill="var(--soft)" fillOpacity={0.35} />
      ) : (
        <image href={picture} x={x} y={lead} width={widthMm} height={heightMm} preserveAspectRatio="none" />
      )}
      <rect
        x={x}
        y={lead}
        width={widthMm}
        height={heightMm}
        fill={over ? 'var(--stop)' : 'none'}
        fillOpacity={0.25}
        stroke={over ? 'var(--stop)' : 'var(--ink)'}
        strokeWidth={(over ? 2 : 1) * px}
      />
      {cut && (
        <path
          d={ringsPath(cut)}
          transform={`translate(${String(x)} ${String(lead)})`}
          fill="none"
          stroke="var(--tide)"
          strokeWidth={1.5 * px}
        />
      )}
      {trim && !cut && trim.leftMm + trim.topMm + trim.rightMm + trim.bottomMm > 0 && (
        <rect
          x={x + trim.leftMm}
          y={lead + trim.topMm}
          width={widthMm - trim.leftMm - trim.rightMm}
          height={heightMm - trim.topMm - trim.bottomMm}
          fill="none"
          stroke="var(--tide)"
          strokeDasharray={`${String(4 * px)} ${String(3 * px)}`}
          strokeWidth={px}
        />
      )}
    </svg>
  );
}
