import type { ShownCoat } from './shownCoat.ts';
import { keepFile } from '../../../api/client.ts';
import { number } from '../../../ui/text/number.ts';
import type { CropValues } from './cropValues.ts';

const LINE_PX = 22;
const FOOT_PX = 12;
const MM_PER_IN = 25.4;

/** Keeps what is in view as PNG, with what it is and the ink of each channel below it. */
export async function keepCrop(
  canvas: HTMLCanvasElement,
  run: string,
  coat: ShownCoat,
  { from, to, inks }: CropValues,
): Promise<void> {
  const mm = (dots: number, dpi: number): string => number((dots / dpi) * MM_PER_IN, 1);
  const total = inks.reduce((sum, ink) => sum + ink, 0);
  const lines = [
    `${run}, ${coat.name}: ${mm(from.y, coat.dpiY)} to ${mm(to.y, coat.dpiY)} mm from the leading edge, ${mm(from.x, coat.dpiX)} to ${mm(to.x, coat.dpiX)} mm across`,
    `${coat.profile}, ${coat.intent}, ${coat.isScreened ? coat.screening : 'ink before screening'}, ${number(coat.dpiX)} × ${number(coat.dpiY)} dpi`,
    coat.channels.map(({ name }, i) => `${name} ${number((inks[i] ?? 0) * 100, 1)} %`).join('   '),
    `All ${number(total * 100, 1)} %, at most ${number(coat.inkLimit * 100)} % at one place`,
  ];
  const ratio = canvas.width / Math.max(1, canvas.clientWidth);
  const picture = document.createElement('canvas');
  picture.width = canvas.width;
  picture.height = canvas.height + (lines.length * LINE_PX + 2 * FOOT_PX) * ratio;
  const context = picture.getContext('2d');
  if (!context) throw new Error('This browser draws no pictures.');
  context.fillStyle = '#ffffff';
  context.fillRect(0, 0, picture.width, picture.height);
  context.drawImage(canvas, 0, 0);
  context.fillStyle = '#23211c';
  context.font = `${String(14 * ratio)}px "Archivo Variable", sans-serif`;
  context.textBaseline = 'top';
  lines.forEach((line, i) => {
    context.fillText(
      line,
      FOOT_PX * ratio,
      canvas.height + (FOOT_PX + i * LINE_PX) * ratio,
      picture.width - 2 * FOOT_PX * ratio,
    );
  });
  const blob = await new Promise<Blob | null>((done) => {
    picture.toBlob(done, 'image/png');
  });
  if (!blob) throw new Error('The picture is too large for this browser.');
  keepFile({ name: `${run.replace(' ', '-').toLowerCase()}-channels.png`, blob });
}
