interface PanelsPictureProps {
  readonly picture: string;
  readonly widthMm: number;
  readonly heightMm: number;
  readonly panels: readonly {
    readonly xMm: number;
    readonly yMm: number;
    readonly widthMm: number;
    readonly heightMm: number;
  }[];
  readonly boxPx: { readonly width: number; readonly height: number };
  readonly label: string;
}

type Panel = PanelsPictureProps['panels'][number];

/** What two neighbours both show. */
function shared(before: Panel | undefined, panel: Panel): { x: number; y: number; width: number; height: number } {
  const { xMm: x, yMm: y, widthMm, heightMm } = panel;
  const width = x > 0 ? Math.max(0, (before?.xMm ?? 0) + (before?.widthMm ?? 0) - x) : widthMm;
  const height = y > 0 ? Math.max(0, (before?.yMm ?? 0) + (before?.heightMm ?? 0) - y) : heightMm;
  return { x, y, width, height };
}

/** The whole artwork to scale with the panels that it is printed in: what two of them share is tinted. */
export function PanelsPicture({ picture, widthMm, heightMm, panels, boxPx, label }: PanelsPictureProps) {
  const scale = Math.min(boxPx.width / widthMm, boxPx.height / heightMm);
  const px = 1 / scale;
  return (
    <svg
      role="img"
      aria-label={label}
      width={widthMm * scale}
      height={heightMm * scale}
      viewBox={`0 0 ${String(widthMm)} ${String(heightMm)}`}
      className="block"
    >
      <image href={picture} width={widthMm} height={heightMm} preserveAspectRatio="none" />
      {panels.slice(1).map((panel, i) => (
        <rect key={i} {...shared(panels[i], panel)} fill="#0F6B6B" fillOpacity={0.35} />
      ))}
      {panels.map((panel, i) => {
        const { xMm, yMm, widthMm: w, heightMm: h } = panel;
        return (
          <g key={`${String(xMm)}/${String(yMm)}`}>
            <rect
              x={xMm}
              y={yMm}
              width={w}
              height={h}
              fill="none"
              stroke="#0F6B6B"
              strokeWidth={1.5 * px}
              strokeDasharray={`${String(6 * px)} ${String(3 * px)}`}
            />
            <g transform={`translate(${String(xMm + w / 2)} ${String(yMm + h / 2)}) scale(${String(px)})`}>
              <circle r={11} fill="#fff" fillOpacity={0.9} />
              <text textAnchor="middle" y={5} fontSize={13} fontWeight={600} fill="#23211C">
                {i + 1}
              </text>
            </g>
          </g>
        );
      })}
    </svg>
  );
}
