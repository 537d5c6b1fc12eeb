import type { PurgeDesignBody, PurgeFiguresView } from '../../../contract/api/care.ts';
import type { Printer } from '../../api/data.ts';
import { sizeText } from '../../ui/lengths.ts';

const WIDTH_PX = 368;
const HEIGHT_PX = 250;

/** A purge as it will lie on its media, to scale: one band of lines for each channel that is fired, as dense as it is. */
export function PurgePicture({
  design,
  figures,
  printer,
}: {
  readonly design: PurgeDesignBody;
  readonly figures: PurgeFiguresView;
  readonly printer: Printer;
}) {
  const { sheet } = design;
  const { leadMm, trailMm, mediaMarginMm, channels } = printer.config;
  const onSheet = sheet.form === 'sheet';
  const mediaMm = onSheet ? sheet.widthMm : figures.widthMm + mediaMarginMm.leftMm + mediaMarginMm.rightMm;
  const lengthMm = onSheet ? sheet.lengthMm : leadMm + figures.lengthMm + trailMm;
  const scale = Math.min(WIDTH_PX / mediaMm, HEIGHT_PX / lengthMm);
  const fired = channels.filter(({ id }) => (sheet.levels[id] ?? 0) > 0);
  const bandMm = figures.lengthMm / Math.max(1, fired.length);
  const [w, h] = [mediaMm * scale, lengthMm * scale];
  return (
    <figure className="mb-3">
      <svg
        width={w}
        height={h}
        viewBox={`0 0 ${String(mediaMm)} ${String(lengthMm)}`}
        className="mx-auto block border border-rule bg-white"
        role="img"
        aria-label={`Purge on ${sizeText(mediaMm, lengthMm)}: ${fired.map(({ name }) => name).join(', ')}`}
      >
        {fired.map(({ id, name, colour }, i) => {
          const share = sheet.density * (sheet.levels[id] ?? 0);
          // Lines across the media: their pitch is fixed in the picture, their weight is the share of ink that is laid down.
          const pitch = 6 / scale;
          const rows = Math.max(1, Math.floor(bandMm / pitch));
          return (
            <g key={id} fill={id === 'white' ? '#C9CED6' : colour}>
              <title>{name}</title>
              {Array.from({ length: rows }, (_, row) => (
                <rect
                  key={row}
                  x={mediaMarginMm.leftMm}
                  y={leadMm + i * bandMm + row * pitch}
                  width={figures.widthMm}
                  height={Math.max(0.4 / scale, pitch * share)}
                />
              ))}
            </g>
          );
        })}
      </svg>
      <figcaption className="dense mt-1 text-center text-soft">
        {sizeText(mediaMm, lengthMm)}, printed {sizeText(figures.widthMm, figures.lengthMm)}
        {fired.some(({ id }) => id === 'white') ? '; white is shown grey' : ''}
      </figcaption>
    </figure>
  );
}
