import { DxfWriter, LWPolylineFlags, Units, point2d, point3d } from '@tarikjabiri/dxf';
import type { Outline } from '../../../core/geometry/polygon.ts';

/** What is cut of a run, in the frame of its print: x to the right, y away from the leading edge (mm). */
export interface RunCuts {
  readonly title: string;
  readonly widthMm: number;
  readonly lengthMm: number;
  /** Along contours. */
  readonly contours: readonly Outline[];
  /** Of pieces that have none: their trim. */
  readonly trims: readonly Outline[];
  /** Straight across the media, at these distances from the leading edge. */
  readonly across: readonly number[];
}

function mm(value: number): string {
  return Number(value.toFixed(4)).toString();
}

/** As SVG, one unit a millimetre, y down as it is printed. */
export function cutSvg({ title, widthMm, lengthMm, contours, trims, across }: RunCuts): string {
  const ring = (points: Outline): string =>
    `    <path d="M${points.map(({ x, y }) => `${mm(x)} ${mm(y)}`).join('L')}Z"/>`;
  const line = (y: number): string => `    <path d="M0 ${mm(y)}H${mm(widthMm)}"/>`;
  const group = (id: string, paths: readonly string[]): string[] =>
    paths.length > 0 ? [`  <g id="${id}">`, ...paths, '  </g>'] : [];
  return [
    '<?xml version="1.0" encoding="UTF-8"?>',
    `<svg xmlns="http://www.w3.org/2000/svg" width="${mm(widthMm)}mm" height="${mm(lengthMm)}mm" viewBox="0 0 ${mm(widthMm)} ${mm(lengthMm)}" fill="none" stroke="#000" stroke-width="0.1">`,
    `  <title>${title.replace(/[<>&]/g, ' ')}</title>`,
    ...group('contour', contours.map(ring)),
    ...group('trim', trims.map(ring)),
    ...group('across', across.map(line)),
    '</svg>',
    '',
  ].join('\n');
}

const LAYERS = { contour: 6, trim: 3, across: 1 } as const;

/** As DXF in millimetres, a layer for each kind of cut. DXF counts y upwards: the leading edge is at `lengthMm`. */
export function cutDxf({ lengthMm, widthMm, contours, trims, across }: RunCuts): string {
  const dxf = new DxfWriter();
  dxf.setUnits(Units.Millimeters);
  for (const [name, colour] of Object.entries(LAYERS)) dxf.addLayer(name, colour, 'Continuous');
  const rings = (layerName: string, all: readonly Outline[]): void => {
    for (const points of all) {
      const vertices = points.map(({ x, y }) => ({ point: point2d(Number(mm(x)), Number(mm(lengthMm - y))) }));
      dxf.addLWPolyline(vertices, { layerName, flags: LWPolylineFlags.Closed });
    }
  };
  rings('contour', contours);
  rings('trim', trims);
  for (const y of across) {
    const at = Number(mm(lengthMm - y));
    dxf.addLine(point3d(0, at), point3d(widthMm, at), { layerName: 'across' });
  }
  return dxf.stringify();
}
