import type { PanelOf } from '../../contract/api/run.ts';

/** The picture of a piece with its upper left corner at 0, 0 (mm); of a panel, that part of the whole page. */
export function PiecePicture({
  href,
  widthMm,
  heightMm,
  panel,
}: {
  readonly href: string;
  readonly widthMm: number;
  readonly heightMm: number;
  readonly panel: PanelOf | null;
}) {
  if (!panel) return <image href={href} width={widthMm} height={heightMm} preserveAspectRatio="none" />;
  return (
    <svg
      width={widthMm}
      height={heightMm}
      viewBox={`${String(panel.xMm)} ${String(panel.yMm)} ${String(widthMm)} ${String(heightMm)}`}
      overflow="hidden"
    >
      <image href={href} width={panel.wholeWidthMm} height={panel.wholeHeightMm} preserveAspectRatio="none" />
    </svg>
  );
}
