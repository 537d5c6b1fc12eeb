import { LINE_MM, type Mark } from '../../../core/layout/marks/mark.ts';
import { outlinedText } from '../svg/textOutlines.ts';

/**
 * Marks as PDF operators. Black is black ink alone, so that registration doesn't blur a code; white is the spot colour White.
 * @param k points a millimetre; @param pageHeight points; x of the marks counts from `fromMm`
 */
export function drawMarks(marks: readonly Mark[], k: number, pageHeight: number, fromMm: number): string {
  const x = (mm: number): number => (mm + fromMm) * k;
  const y = (mm: number): number => pageHeight - mm * k;
  const box = (xMm: number, yMm: number, widthMm: number, heightMm: number): string =>
    `${short(x(xMm))} ${short(y(yMm + heightMm))} ${short(widthMm * k)} ${short(heightMm * k)} re`;
  const lines = ['0 0 0 1 k 0 0 0 1 K', `${short(LINE_MM * k)} w`];
  for (const mark of marks) {
    switch (mark.kind) {
      case 'line':
        lines.push(`${short(x(mark.x1))} ${short(y(mark.y1))} m ${short(x(mark.x2))} ${short(y(mark.y2))} l S`);
        break;
      case 'bar':
        lines.push(`q ${fill(mark.colour)} ${box(mark.xMm, mark.yMm, mark.widthMm, mark.heightMm)} f Q`);
        break;
      case 'dot':
        lines.push(dot(x(mark.xMm), y(mark.yMm), (mark.diameterMm / 2) * k));
        break;
      case 'code': {
        const { shape, upsideDown } = mark;
        if (mark.white) lines.push(`q /White cs 1 scn ${box(mark.xMm, mark.yMm, shape.widthMm, shape.heightMm)} f Q`);
        for (const rect of shape.rects) {
          const rx = upsideDown ? shape.widthMm - rect.xMm - rect.widthMm : rect.xMm;
          const ry = upsideDown ? shape.heightMm - rect.yMm - rect.heightMm : rect.yMm;
          lines.push(box(mark.xMm + rx, mark.yMm + ry, rect.widthMm, rect.heightMm));
        }
        lines.push('f');
        break;
      }
      case 'text': {
        const { path, width, descent } = outlinedText(mark.text);
        const height = mark.heightMm * k;
        // What would be too long is narrowed, down to half; the rest is what the room cuts off.
        const narrow = Math.min(1, Math.max(0.5, (mark.roomMm * k) / (width * height || 1)));
        const room = box(mark.xMm, mark.yMm, mark.roomMm, mark.heightMm);
        const at = `${short(height * narrow)} 0 0 ${short(height)} ${short(x(mark.xMm))} ${short(y(mark.yMm + mark.heightMm) + descent * height)} cm`;
        lines.push(`q ${room} W n ${at} ${path} f Q`);
        break;
      }
    }
  }
  return lines.join('\n');
}

function fill(colour: string | null): string {
  if (colour === null) return '0 0 0 1 k';
  const parts = [1, 3, 5].map((at) => short(Number.parseInt(colour.slice(at, at + 2), 16) / 255));
  return `${parts.join(' ')} rg`;
}

/** A circle of four curves. */
function dot(x: number, y: number, r: number): string {
  const c = r * 0.5522847498;
  const p = (dx: number, dy: number): string => `${short(x + dx)} ${short(y + dy)}`;
  return [
    `${p(r, 0)} m`,
    `${p(r, c)} ${p(c, r)} ${p(0, r)} c`,
    `${p(-c, r)} ${p(-r, c)} ${p(-r, 0)} c`,
    `${p(-r, -c)} ${p(-c, -r)} ${p(0, -r)} c`,
    `${p(c, -r)} ${p(r, -c)} ${p(r, 0)} c f`,
  ].join(' ');
}

function short(value: number): string {
  return Number(value.toFixed(6)).toString();
}
