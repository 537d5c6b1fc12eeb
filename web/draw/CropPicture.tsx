import { useRef, useState, type PointerEvent } from 'react';

interface Sides {
  readonly leftMm: number;
  readonly topMm: number;
  readonly rightMm: number;
  readonly bottomMm: number;
}

interface CropPictureProps {
  readonly picture: string;
  /** The whole artwork (mm). */
  readonly widthMm: number;
  readonly heightMm: number;
  readonly crop: Sides;
  readonly boxPx: { readonly width: number; readonly height: number };
  readonly onCrop: (crop: Sides) => void;
}

type Side = keyof Sides;
const LEAST_MM = 1;

/** The artwork as it came, with a line on each side that is drawn inwards to crop. The figures beside it do the same by keys. */
export function CropPicture({ picture, widthMm, heightMm, crop, boxPx, onCrop }: CropPictureProps) {
  const [draft, setDraft] = useState<Sides>();
  const dragging = useRef<Side>(undefined);
  const scale = Math.min(boxPx.width / widthMm, boxPx.height / heightMm);
  const now = draft ?? crop;
  const px = 1 / scale;
  const start = (side: Side) => (event: PointerEvent<SVGElement>) => {
    dragging.current = side;
    event.currentTarget.setPointerCapture(event.pointerId);
    setDraft(crop);
  };
  const move = (event: PointerEvent<SVGSVGElement>): void => {
    const side = dragging.current;
    if (!side || !draft) return;
    const box = event.currentTarget.getBoundingClientRect();
    const x = (event.clientX - box.left) / scale;
    const y = (event.clientY - box.top) / scale;
    const to = { leftMm: x, topMm: y, rightMm: widthMm - x, bottomMm: heightMm - y }[side];
    const most =
      side === 'leftMm' || side === 'rightMm'
        ? widthMm - LEAST_MM - (side === 'leftMm' ? draft.rightMm : draft.leftMm)
        : heightMm - LEAST_MM - (side === 'topMm' ? draft.bottomMm : draft.topMm);
    setDraft({ ...draft, [side]: Math.round(Math.min(most, Math.max(0, to)) * 10) / 10 });
  };
  const end = (): void => {
    if (dragging.current && draft) onCrop(draft);
    dragging.current = undefined;
    setDraft(undefined);
  };
  const left = now.leftMm;
  const top = now.topMm;
  const right = widthMm - now.rightMm;
  const bottom = heightMm - now.bottomMm;
  const lines: readonly [Side, number, number, number, number][] = [
    ['leftMm', left, 0, left, heightMm],
    ['rightMm', right, 0, right, heightMm],
    ['topMm', 0, top, widthMm, top],
    ['bottomMm', 0, bottom, widthMm, bottom],
  ];
  return (
    <svg
      role="img"
      aria-label="Crop: draw the lines inwards"
      width={widthMm * scale}
      height={heightMm * scale}
      viewBox={`0 0 ${String(widthMm)} ${String(heightMm)}`}
      onPointerMove={move}
      onPointerUp={end}
      onPointerCancel={end}
      className="touch-none border border-rule bg-white"
    >
      <image href={picture} width={widthMm} height={heightMm} preserveAspectRatio="none" />
      <path
        d={`M0 0H${String(widthMm)}V${String(heightMm)}H0Z M${String(left)} ${String(top)}V${String(bottom)}H${String(right)}V${String(top)}Z`}
        fill="var(--ink)"
        fillOpacity={0.45}
        fillRule="evenodd"
      />
      {lines.map(([side, x1, y1, x2, y2]) => (
        <g key={side} className={x1 === x2 ? 'cursor-ew-resize' : 'cursor-ns-resize'} onPointerDown={start(side)}>
          <line x1={x1} y1={y1} x2={x2} y2={y2} stroke="transparent" strokeWidth={14 * px} />
          <line x1={x1} y1={y1} x2={x2} y2={y2} stroke="var(--sign-line)" strokeWidth={3 * px} />
          <line x1={x1} y1={y1} x2={x2} y2={y2} stroke="#f2b90c" strokeWidth={1.5 * px} />
        </g>
      ))}
    </svg>
  );
}
