import { PDFDocument, PDFName, type PDFPage, degrees, rgb } from '@cantoo/pdf-lib';
import sharp from 'sharp';
import { type Random, seededRandom } from '../../core/random.ts';

/* The demo's artwork, made from code and a seed: nothing here exists outside the made-up shop. */

const PT = 72 / 25.4;

type Colour = readonly [number, number, number];
const NIGHT: Colour = [0.07, 0.1, 0.2];
const SAND: Colour = [0.96, 0.91, 0.8];
const TRAM: Colour = [0.72, 0.15, 0.13];
const CREAM: Colour = [0.98, 0.95, 0.87];
const SEA: Colour = [0.05, 0.42, 0.5];
const LAMP: Colour = [0.95, 0.62, 0.16];
const LEAF: Colour = [0.25, 0.45, 0.27];

function ink([r, g, b]: Colour) {
  return rgb(r, g, b);
}

interface Sheet {
  readonly widthMm: number;
  readonly heightMm: number;
  readonly bleedMm?: number;
  /** Page rotation as it is stored; the sheet is drawn upright in any case. */
  readonly draw: (page: PDFPage, widthPt: number, heightPt: number) => void;
}

/** PDF pages with TrimBox and, where there is bleed, BleedBox; beyond 5 m with a UserUnit. */
export async function pdfOf(title: string, sheets: readonly Sheet[]): Promise<Uint8Array> {
  const out = await PDFDocument.create({ updateMetadata: false });
  out.setTitle(title);
  for (const { widthMm, heightMm, bleedMm = 0, draw } of sheets) {
    const unit = Math.max(1, Math.ceil(((Math.max(widthMm, heightMm) + 2 * bleedMm) * PT) / 14_400));
    const w = ((widthMm + 2 * bleedMm) * PT) / unit;
    const h = ((heightMm + 2 * bleedMm) * PT) / unit;
    const page = out.addPage([w, h]);
    if (unit > 1) page.node.set(PDFName.of('UserUnit'), out.context.obj(unit));
    const b = (bleedMm * PT) / unit;
    page.setTrimBox(b, b, w - 2 * b, h - 2 * b);
    if (bleedMm > 0) page.setBleedBox(0, 0, w, h);
    draw(page, w, h);
  }
  return out.save({ useObjectStreams: false });
}

/** A bitmap with its density, from a drawing in SVG. */
export async function bitmapOf(svg: string, widthMm: number, dpi: number, format: 'png' | 'jpeg'): Promise<Uint8Array> {
  const width = Math.round((widthMm / 25.4) * dpi);
  const picture = sharp(Buffer.from(svg), { density: 96, limitInputPixels: false })
    .resize({ width })
    .withMetadata({ density: dpi });
  return format === 'png'
    ? picture.png().toBuffer()
    : picture.flatten({ background: '#fff' }).jpeg({ quality: 88 }).toBuffer();
}

/** Livery of a tram: cream and red with thin lines. */
export function tramStripes(lines: number): Sheet['draw'] {
  return (page, w, h) => {
    page.drawRectangle({ x: 0, y: 0, width: w, height: h, color: ink(CREAM) });
    page.drawRectangle({ x: 0, y: h * 0.12, width: w, height: h * 0.34, color: ink(TRAM) });
    for (let i = 0; i < lines; i++) {
      page.drawRectangle({
        x: 0,
        y: h * (0.52 + 0.05 * i),
        width: w,
        height: h * 0.018,
        color: ink(i % 2 ? LAMP : TRAM),
      });
    }
    for (let x = h * 0.3; x < w; x += h * 0.9) {
      page.drawCircle({ x, y: h * 0.29, size: h * 0.09, color: ink(CREAM) });
      page.drawCircle({ x, y: h * 0.29, size: h * 0.05, color: ink(NIGHT) });
    }
  };
}

/** Sign of a tram stop with its number of lines. */
export function stopSign(number: number): Sheet['draw'] {
  return (page, w, h) => {
    page.drawRectangle({ x: 0, y: 0, width: w, height: h, color: ink(TRAM) });
    page.drawRectangle({ x: w * 0.08, y: h * 0.06, width: w * 0.84, height: h * 0.55, color: ink(CREAM) });
    page.drawCircle({ x: w / 2, y: h * 0.79, size: w * 0.16, color: ink(CREAM) });
    page.drawCircle({ x: w / 2, y: h * 0.79, size: w * 0.1, color: ink(TRAM) });
    for (let i = 0; i < number + 2; i++) {
      page.drawRectangle({
        x: w * 0.14,
        y: h * (0.52 - 0.06 * i),
        width: w * (0.35 + 0.06 * ((i * 3) % 5)),
        height: h * 0.025,
        color: ink(NIGHT),
      });
    }
  };
}

/** Stars over rings; the seed says where they stand. */
export function starMap(stars: number, seed: number): Sheet['draw'] {
  return (page, w, h) => {
    const random = seededRandom(seed);
    page.drawRectangle({ x: 0, y: 0, width: w, height: h, color: ink(NIGHT) });
    for (let i = 0; i < Math.ceil(w / h) + 1; i++) {
      for (const r of [0.2, 0.32, 0.44]) {
        page.drawCircle({
          x: h * (0.5 + i),
          y: h / 2,
          size: h * r,
          borderColor: rgb(0.3, 0.36, 0.52),
          borderWidth: h * 0.0015,
        });
      }
    }
    let last = { x: 0, y: h / 2 };
    for (let i = 0; i < stars; i++) {
      const x = random() * w;
      const y = random() * h;
      const size = h * (0.0012 + 0.006 * random() ** 6);
      page.drawCircle({ x, y, size, color: random() < 0.15 ? ink(LAMP) : rgb(0.95, 0.95, 0.9) });
      if (random() < 0.03 && Math.hypot(x - last.x, y - last.y) < h * 0.6) {
        page.drawLine({ start: last, end: { x, y }, thickness: h * 0.001, color: rgb(0.6, 0.65, 0.8) });
      }
      if (random() < 0.1) last = { x, y };
    }
  };
}

/** A row of lanterns on strings, for the night market. */
export function lanterns(count: number, seed: number): Sheet['draw'] {
  return (page, w, h) => {
    const random = seededRandom(seed);
    page.drawRectangle({ x: 0, y: 0, width: w, height: h, color: ink(NIGHT) });
    for (let i = 0; i < count; i++) {
      const x = w * ((i + 0.5) / count);
      const y = h * (0.35 + 0.35 * random());
      const r = Math.min(w / count, h) * (0.22 + 0.12 * random());
      page.drawLine({ start: { x, y: h }, end: { x, y: y + r }, thickness: h * 0.004, color: ink(SAND) });
      page.drawEllipse({ x, y, xScale: r * 0.8, yScale: r, color: ink(LAMP) });
      for (const k of [-0.45, 0, 0.45]) {
        page.drawEllipse({
          x,
          y,
          xScale: Math.abs(r * 0.8 * k) + r * 0.02,
          yScale: r,
          borderColor: ink(TRAM),
          borderWidth: r * 0.025,
        });
      }
      page.drawRectangle({ x: x - r * 0.25, y: y - r * 1.08, width: r * 0.5, height: r * 0.12, color: ink(TRAM) });
    }
  };
}

/** A card with room for a price; every other one in another colour. */
export function priceCard(index: number): Sheet['draw'] {
  return (page, w, h) => {
    page.drawRectangle({ x: 0, y: 0, width: w, height: h, color: ink(SAND) });
    page.drawRectangle({ x: 0, y: h * 0.72, width: w, height: h * 0.28, color: ink(index % 2 ? SEA : LEAF) });
    page.drawEllipse({
      x: w * 0.5,
      y: h * 0.4,
      xScale: w * 0.2,
      yScale: h * 0.22,
      color: ink(LAMP),
      rotate: degrees(12 * index),
    });
    for (let i = 0; i < 3; i++)
      page.drawRectangle({
        x: w * 0.12,
        y: h * (0.06 + 0.035 * i),
        width: w * (0.76 - 0.12 * i),
        height: h * 0.014,
        color: ink(NIGHT),
      });
  };
}

/** A floor plan: rooms, doors and measures in thin black lines. */
export function mapPlan(seed: number): Sheet['draw'] {
  return (page, w, h) => {
    const random = seededRandom(seed);
    const line = (x1: number, y1: number, x2: number, y2: number, thickness: number): void => {
      page.drawLine({ start: { x: x1, y: y1 }, end: { x: x2, y: y2 }, thickness, color: rgb(0.1, 0.1, 0.12) });
    };
    const split = (x: number, y: number, wide: number, high: number, depth: number): void => {
      page.drawRectangle({ x, y, width: wide, height: high, borderWidth: 1.6, borderColor: rgb(0.1, 0.1, 0.12) });
      if (depth === 0) {
        line(x + wide * 0.2, y, x + wide * 0.2 + Math.min(wide, high) * 0.16, y + Math.min(wide, high) * 0.16, 0.6);
        return;
      }
      const at = 0.3 + random() * 0.4;
      if (wide > high) {
        split(x, y, wide * at, high, depth - 1);
        split(x + wide * at, y, wide * (1 - at), high, depth - 1);
      } else {
        split(x, y, wide, high * at, depth - 1);
        split(x, y + high * at, wide, high * (1 - at), depth - 1);
      }
    };
    page.drawRectangle({ x: 0, y: 0, width: w, height: h, color: rgb(1, 1, 1) });
    split(w * 0.06, h * 0.14, w * 0.88, h * 0.8, 5);
    for (let i = 0; i <= 10; i += 1) line(w * (0.06 + 0.088 * i), h * 0.08, w * (0.06 + 0.088 * i), h * 0.1, 0.8);
    line(w * 0.06, h * 0.09, w * 0.94, h * 0.09, 0.8);
  };
}

/** Rows of waves, each darker than the one behind it. */
export function waves(seed: number): Sheet['draw'] {
  return (page, w, h) => {
    const random = seededRandom(seed);
    page.drawRectangle({ x: 0, y: 0, width: w, height: h, color: rgb(0.82, 0.9, 0.9) });
    for (let row = 9; row >= 0; row--) {
      const y = h * 0.08 * row;
      const shade = 0.25 + row * 0.06;
      const step = w / (6 + Math.floor(random() * 5));
      for (let x = -step * random(); x < w + step; x += step) {
        page.drawEllipse({ x, y, xScale: step * 0.62, yScale: h * 0.13, color: rgb(shade * 0.4, shade * 0.9, shade) });
      }
    }
    page.drawCircle({ x: w * 0.72, y: h * 0.86, size: Math.min(w, h) * 0.08, color: ink(LAMP) });
  };
}

function blob(random: Random, cx: number, cy: number, r: number, wobble: number): string {
  const points = Array.from({ length: 14 }, (_, i) => {
    const a = (i / 14) * 2 * Math.PI;
    const q = r * (1 - wobble * random());
    return `${(cx + q * Math.cos(a)).toFixed(1)},${(cy + q * Math.sin(a)).toFixed(1)}`;
  });
  return points.join(' ');
}

export function jellyfishSvg(seed: number): string {
  const random = seededRandom(seed);
  const arms = Array.from({ length: 9 }, (_, i) => {
    const x = 130 + i * 42;
    const sway = 60 * (random() - 0.5);
    return `<path d="M${String(x)} 300 q ${String(sway)} 120 0 240 t ${String(-sway)} 220" stroke="#3FA7B5" stroke-width="${String(8 + 10 * random())}" fill="none" stroke-linecap="round" opacity="0.85"/>`;
  });
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 600 800">${arms.join('')}<path d="M60 320 C 60 60 540 60 540 320 C 480 280 450 340 400 300 C 350 340 320 290 300 320 C 260 290 240 340 190 300 C 150 340 110 280 60 320 Z" fill="#E0698A"/><ellipse cx="220" cy="190" rx="70" ry="36" fill="#F5B7C4" opacity="0.8"/></svg>`;
}

export function fishSvg(seed: number): string {
  const random = seededRandom(seed);
  const spots = Array.from({ length: 16 }, () => {
    const x = 120 + 240 * random();
    const y = 110 + 140 * random();
    return `<circle cx="${x.toFixed(0)}" cy="${y.toFixed(0)}" r="${(6 + 12 * random()).toFixed(0)}" fill="#F7D27A"/>`;
  });
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 560 360"><path d="M30 180 C 110 20 340 20 410 170 L 530 60 Q 500 180 530 300 L 410 190 C 340 340 110 340 30 180 Z" fill="#E2803A"/>${spots.join('')}<circle cx="110" cy="160" r="22" fill="#fff"/><circle cx="104" cy="160" r="11" fill="#23211C"/></svg>`;
}

export function gearSvg(teeth: number, colour: string): string {
  const points = Array.from({ length: teeth * 4 }, (_, i) => {
    const r = i % 4 < 2 ? 180 : 145;
    const a = ((i + 0.5) / (teeth * 4)) * 2 * Math.PI;
    return `${(200 + r * Math.cos(a)).toFixed(1)},${(200 + r * Math.sin(a)).toFixed(1)}`;
  });
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 400 400"><polygon points="${points.join(' ')}" fill="${colour}"/><circle cx="200" cy="200" r="105" fill="#FBF3DC"/><circle cx="200" cy="200" r="34" fill="${colour}"/></svg>`;
}

export function mapSvg(seed: number): string {
  const random = seededRandom(seed);
  const parks = Array.from(
    { length: 9 },
    () => `<polygon points="${blob(random, 600 * random(), 840 * random(), 60 + 50 * random(), 0.5)}" fill="#BFD3A5"/>`,
  );
  const lanes = Array.from({ length: 22 }, () => {
    const y = 840 * random();
    return `<path d="M0 ${y.toFixed(0)} Q ${(600 * random()).toFixed(0)} ${(840 * random()).toFixed(0)} 600 ${(840 * random()).toFixed(0)}" stroke="#fff" stroke-width="${(3 + 6 * random()).toFixed(1)}" fill="none"/>`;
  });
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 600 840"><rect width="600" height="840" fill="#EFE6CF"/><path d="M0 520 Q 200 420 330 560 T 600 600 L 600 700 Q 420 640 300 680 T 0 640 Z" fill="#8FB9C4"/>${parks.join('')}${lanes.join('')}<path d="M90 0 Q 300 300 240 460 T 470 840" stroke="#B7261F" stroke-width="9" fill="none"/></svg>`;
}
